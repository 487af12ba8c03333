import styled from "styled-components";
import { settingInWords } from "../document/parameter";
import { useSession } from "../parts/editing";

/** While B is held: what is seen, and the last settings of the value that it is about, each with its digit. */
export function Before() {
  const before = useSession((state) => state.before);
  const earlier = useSession((state) => state.earlier);
  if (!before) return null;
  return (
    <Held role="status">
      <b>
        {earlier && earlier.at >= 0 ? `${earlier.called}: setting ${earlier.at + 1} back` : "Before the last change"}
      </b>
      {earlier && earlier.settings.length > 0 && (
        <ol aria-label={`Last settings of ${earlier.called}`}>
          {earlier.settings.map((setting, place) => (
            <li key={place} data-shown={place === earlier.at || undefined}>
              <kbd>{place + 1}</kbd> {settingInWords(setting)}
            </li>
          ))}
          <li>
            <kbd>Enter</kbd> keeps it
          </li>
        </ol>
      )}
    </Held>
  );
}

const Held = styled.div`
  position: absolute; left: 50%; top: 46px; transform: translateX(-50%); display: grid; gap: 4px; justify-items: center;
  padding: 4px 12px; background: var(--ink); color: var(--card); border-radius: 3px; white-space: nowrap;
  & ol { display: flex; gap: 10px; margin: 0; padding: 0; list-style: none; font-size: 12.5px; font-variant-numeric: tabular-nums; }
  & li[data-shown] { text-decoration: underline; text-underline-offset: 3px; font-weight: 600; }
  & kbd { font: inherit; padding: 0 4px; border: 1px solid currentColor; border-radius: 2px; opacity: 0.75; }
`;

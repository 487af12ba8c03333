import styled from "styled-components";
import { useEvents } from "../api/events";
import { Hairline } from "./Hairline";

const SILENT = "The server does not answer. What was saved is unharmed. The page goes on by itself when it is back.";

/** What is away just now, in words: the server itself, or one of the programs beside it. */
export function useAway(): string | null {
  const connected = useEvents((state) => state.connected);
  const away = useEvents((state) => state.away);
  if (!connected) return SILENT;
  return away.length > 0 ? away.join(" ") : null;
}

/** Says what is away for as long as it is. */
export function Away() {
  const away = useAway();
  if (!away) return null;
  return (
    <Notice role="status">
      <Hairline label="Trying again" />
      {away}
    </Notice>
  );
}

const Notice = styled.div`
  position: fixed; z-index: 30; left: 50%; bottom: 12px; transform: translateX(-50%); max-width: min(720px, 90vw); display: grid; gap: 6px;
  padding: 8px 14px; background: var(--card); border: 1px solid var(--signal); border-radius: 3px;
`;

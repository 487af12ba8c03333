import { memo } from "react";
import { ToggleButton } from "react-aria-components";
import styled from "styled-components";
import { inOrder } from "../document/types";
import { Button } from "../parts/Button";
import { Choice, ChoiceRow, CommandMenu } from "../parts/Choice";
import { useEditing, useSession, useShot } from "../parts/editing";
import { AidsMenu } from "./AidsMenu";
import { freeCommands } from "./freeCommands";
import { middlePart } from "./PartOfView";
import { isMeasured } from "./session";

const READINGS = [
  ["picture", "Picture"],
  ["heat", "Heat"],
  ["mesh", "Mesh"],
  ["finished", "Finished"],
] as const;
const EYES = [
  ["camera", "Camera"],
  ["free", "Free view"],
] as const;
const HANDLES = [
  ["move", "Move"],
  ["turn", "Turn"],
  ["stretch", "Stretch"],
] as const;

/** How the picture is read and looked at, and what the handles do. */
export const ViewChips = memo(function ViewChips() {
  const editing = useEditing();
  const { session } = editing;
  const reading = useSession((state) => state.reading);
  const snap = useSession((state) => state.snap);
  const through = useSession((state) => state.through);
  const handle = useSession((state) => state.handle);
  const field = useSession((state) => state.field);
  const unfinished = useSession((state) => state.unfinished);
  const chosen = useSession((state) => state.chosen);
  const part = useSession((state) => state.part);
  const fields = useShot((shot) => shot.fields);
  const letters = inOrder(fields).map(([id, one]) => [id, `${one.letter} ${one.name}`] as const);
  return (
    <Rows>
      <Chips>
        <ChoiceRow
          label="Reading"
          value={reading}
          options={READINGS}
          onChoose={(value) => session.setState({ reading: value })}
        />
        {isMeasured(reading) && letters.length > 0 && (
          <Chip>
            of{" "}
            <Choice
              label="Field to see"
              tone="field"
              value={field ?? ""}
              options={letters}
              onChoose={(value) => session.setState({ field: value })}
            />
          </Chip>
        )}
        {reading === "finished" && (
          <>
            <Snap
              aria-label="Without finishing: the picture before the steps"
              isSelected={unfinished}
              onChange={(on) => session.setState({ unfinished: on })}
            >
              Without finishing
            </Snap>
            <Snap
              aria-label="Only a part: a frame in the view that alone is rendered"
              isSelected={part !== null}
              onChange={(on) => session.setState(({ closer }) => ({ part: on ? middlePart(closer) : null }))}
            >
              Only a part
            </Snap>
            {chosen !== null && (
              <Chipped onPress={() => session.setState({ chosen: null, others: null })}>Finishing…</Chipped>
            )}
          </>
        )}
      </Chips>
      <Chips style={{ marginLeft: "auto", justifyContent: "end" }}>
        <Snap
          aria-label="Keep to steps"
          isSelected={snap > 0}
          onChange={(on) => session.setState({ snap: on ? 0.1 : 0 })}
        >
          Steps
        </Snap>
        <ChoiceRow
          label="Handles"
          value={handle}
          options={HANDLES}
          onChoose={(value) => session.setState({ handle: value })}
        />
        <AidsMenu />
        {through === "free" && (
          <CommandMenu label="Free view" commands={freeCommands(editing).map(({ name, run }) => [name, run] as const)}>
            <Chipped>From…</Chipped>
          </CommandMenu>
        )}
        <ChoiceRow
          label="Look through"
          value={through}
          options={EYES}
          onChoose={(value) => session.setState({ through: value })}
        />
      </Chips>
    </Rows>
  );
});

/** Where both do not fit beside each other, they stand one above the other. */
const Rows = styled.div`
  position: absolute; top: 10px; left: 12px; right: 12px; display: flex; flex-wrap: wrap; gap: 6px; pointer-events: none;
`;
const Chips = styled.div`
  display: flex; flex-wrap: wrap; gap: 6px; align-items: center;
  & > * { pointer-events: auto; }
`;
const Chip = styled.div`
  background: var(--card); border: 1px solid var(--line); border-radius: 3px; padding: 4px 8px;
`;
const Snap = styled(ToggleButton)`
  padding: 4px 10px; background: var(--card); color: var(--ink); border: 1px solid var(--line); border-radius: 3px; cursor: pointer;
  &[data-selected] { background: var(--ink); color: var(--card); }
  &[data-focus-visible] { outline: 2px solid var(--sea); }
`;
const Chipped = styled(Button)`padding: 4px 10px; min-height: 0;`;

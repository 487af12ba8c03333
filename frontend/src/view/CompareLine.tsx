import { X } from "lucide-react";
import { useEffect } from "react";
import { Slider, SliderThumb, SliderTrack } from "react-aria-components";
import styled from "styled-components";
import { useEvents } from "../api/events";
import { IconButton } from "../parts/Button";
import { useEditing, useSession } from "../parts/editing";
import { endComparing } from "./compared";

/** The line between what the shot is compared with, on its left, and the shot: dragged, or moved by arrows. */
export function CompareLine() {
  const editing = useEditing();
  const { session } = editing;
  const compared = useSession((state) => state.compared);
  const there = useSession((state) => state.besideManifest !== null);
  const line = useSession((state) => state.line);
  const past = useSession((state) => state.past);
  const own = compared?.shot === editing.documents.getState().id;
  const edited = useEvents((state) => state.edits.find((edit) => edit.shot === compared?.shot)?.revision);

  // Another shot is seen as it stands, also when it is edited meanwhile.
  useEffect(() => {
    if (compared && !own && edited !== undefined && edited > compared.revision)
      session.setState({ compared: { ...compared, revision: edited } });
  }, [compared, own, edited, session]);
  if (!compared) return null;
  return (
    <>
      <Line
        aria-label="Compare line"
        minValue={0}
        maxValue={100}
        value={Math.round(line * 100)}
        onChange={(share) => session.setState({ line: Number(share) / 100 })}
      >
        <Track>
          <Handle />
        </Track>
      </Line>
      <Sides>
        <span title={compared.name}>{there ? compared.name : `${compared.name} is being worked out …`}</span>
        <span>{past === null ? "Now" : `Edit ${past}`}</span>
        <IconButton data-small aria-label="End comparing" onPress={() => endComparing(editing)}>
          <X size={14} />
        </IconButton>
      </Sides>
    </>
  );
}

const Line = styled(Slider)`position: absolute; inset: 0; pointer-events: none;`;
const Track = styled(SliderTrack)`position: relative; height: 100%; width: 100%;`;
const Handle = styled(SliderThumb)`
  top: 50%; width: 24px; height: 44px; border-radius: 12px; cursor: ew-resize; pointer-events: auto; touch-action: none;
  background: var(--card); border: 1px solid var(--ink-soft);
  &::before { content: ""; position: absolute; left: 10px; top: -2000px; height: 4040px; width: 2px; background: var(--card); box-shadow: 0 0 0 1px rgb(24 37 48 / 0.55); pointer-events: none; }
  &::after { content: ""; position: absolute; inset: 12px 7px; border: solid var(--ink-soft); border-width: 0 1px; }
  &[data-focus-visible] { outline: 2px solid var(--sea); }
`;
const Sides = styled.div`
  position: absolute; left: 50%; bottom: 14px; transform: translateX(-50%); display: flex; align-items: center; max-width: 92%;
  background: var(--ink); color: var(--card); border-radius: 3px; font-weight: 600;
  & > span { padding: 4px 12px; min-width: 0; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  & > span + span { border-left: 2px solid var(--card); flex: none; }
  & button { color: var(--card); }
`;

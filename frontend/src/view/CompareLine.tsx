import { X } from "lucide-react";
import { useEffect } from "react";
import styled from "styled-components";
import { useEvents } from "../api/events";
import { IconButton } from "../parts/Button";
import { useEditing, useSession } from "../parts/editing";
import { endComparing } from "./compared";
import { WipeLine } from "./WipeLine";

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
      <WipeLine label="Compare line" share={line} onChange={(share) => session.setState({ line: share })} />
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

const Sides = styled.div`
  position: absolute; left: 50%; bottom: 14px; transform: translateX(-50%); display: flex; align-items: center; max-width: 92%;
  background: var(--ink); color: var(--card); border-radius: 3px; font-weight: 600;
  & > span { padding: 4px 12px; min-width: 0; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  & > span + span { border-left: 2px solid var(--card); flex: none; }
  & button { color: var(--card); }
`;

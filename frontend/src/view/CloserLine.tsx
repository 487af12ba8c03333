import styled from "styled-components";
import { SmallButton } from "../parts/Button";
import { useEditing, useSession } from "../parts/editing";
import { WHOLE } from "./closer";

/** Says that only a part of the picture is in view, and how to see all of it again. */
export function CloserLine() {
  const { session } = useEditing();
  const closer = useSession((state) => state.closer);
  const through = useSession((state) => state.through);
  if (closer.zoom === 1 || through === "free") return null;
  return (
    <Line role="status">
      <span>{closer.zoom.toFixed(1)} times closer</span>
      <SmallButton onPress={() => session.setState({ closer: WHOLE })}>See the whole picture</SmallButton>
    </Line>
  );
}

const Line = styled.div`
  position: absolute; right: 12px; bottom: 14px; display: flex; gap: 8px; align-items: center; padding: 3px 4px 3px 10px;
  background: var(--card); border: 1px solid var(--line); border-radius: 3px;
`;

import styled from "styled-components";
import { useEditing, useSession } from "../parts/editing";

type Props = { end: "first" | "last"; share: (frame: number) => number; frameAt: (x: number) => number };

/** One end of the frames that are played, dragged along the ruler. */
export function RangeEnd({ end, share, frameAt }: Props) {
  const { session } = useEditing();
  const range = useSession((state) => state.range);
  if (!range) return null;
  const put = (frame: number) => {
    const now = session.getState().range ?? range;
    const next =
      end === "first" ? { ...now, first: Math.min(frame, now.last) } : { ...now, last: Math.max(frame, now.first) };
    session.setState({ range: next });
  };

  function drag(down: React.PointerEvent) {
    down.stopPropagation();
    const target = down.currentTarget;
    target.setPointerCapture(down.pointerId);
    const move = (event: Event) => put(frameAt((event as PointerEvent).clientX));
    const over = () => {
      target.removeEventListener("pointermove", move);
      target.removeEventListener("pointerup", over);
    };
    target.addEventListener("pointermove", move);
    target.addEventListener("pointerup", over);
  }

  function nudge(event: React.KeyboardEvent) {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    put(range?.[end] === undefined ? 0 : range[end] + by);
  }

  return (
    <Grip
      role="slider"
      tabIndex={0}
      aria-label={end === "first" ? "First frame played" : "Last frame played"}
      aria-valuenow={range[end]}
      style={{ left: `${share(range[end])}%` }}
      onPointerDown={drag}
      onKeyDown={nudge}
    />
  );
}

const Grip = styled.span`
  position: absolute; top: 0; width: 14px; height: 14px; margin-left: -7px; cursor: ew-resize; touch-action: none; z-index: 2;
  &::after { content: ""; position: absolute; left: 4px; top: 0; border: 3px solid var(--ink); border-bottom-width: 6px; border-bottom-color: transparent; }
`;

import { useRef } from "react";
import styled from "styled-components";
import { useEditing, useSession } from "../parts/editing";
import { ALL, inView, ofWhole, type Part, placed, shared, WHOLE } from "./closer";

const LEAST = 0.02;
const STEP = 0.02;

/** The part of the picture that alone is rendered, over the view: a drag draws another, arrows move its frame. */
export function PartOfView() {
  const { session } = useEditing();
  const part = useSession((state) => state.part);
  const closer = useSession((state) => state.closer);
  const from = useRef<[number, number] | null>(null);
  if (!part) return null;

  const at = (event: React.PointerEvent): [number, number] => {
    const box = event.currentTarget.getBoundingClientRect();
    return [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
  };
  const draw = (event: React.PointerEvent) => {
    if (!from.current) return;
    const [[x, y], [toX, toY]] = [from.current, at(event)];
    const drawn: Part = [Math.min(x, toX), Math.min(y, toY), Math.max(x, toX), Math.max(y, toY)];
    if (drawn[2] - drawn[0] < LEAST || drawn[3] - drawn[1] < LEAST) return;
    session.setState({ part: shared(ofWhole(drawn, closer), ALL) ?? part });
  };
  const move = (event: React.KeyboardEvent) => {
    const [x, y] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key] ?? [];
    if (x === undefined || y === undefined) return;
    event.preventDefault();
    const [left, top, right, bottom] = part;
    const [dx, dy] = [STEP * x, STEP * y];
    const wanted: Part = event.shiftKey
      ? [left, top, Math.max(left + LEAST, right + dx), Math.max(top + LEAST, bottom + dy)]
      : [left + dx, top + dy, right + dx, bottom + dy];
    if (wanted[0] >= 0 && wanted[1] >= 0 && wanted[2] <= 1 && wanted[3] <= 1) session.setState({ part: wanted });
  };

  return (
    <Over
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        from.current = at(event);
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={draw}
      onPointerUp={(event) => {
        draw(event);
        from.current = null;
      }}
      onPointerCancel={() => {
        from.current = null;
      }}
    >
      <Frame
        tabIndex={0}
        role="group"
        aria-label="The part that is rendered. Arrows move it, with Shift its lower right corner."
        style={placed(inView(part, closer))}
        onKeyDown={move}
      />
    </Over>
  );
}

/** A part to begin with: the middle of what is in view. */
export function middlePart(closer = WHOLE): Part {
  return ofWhole([0.3, 0.3, 0.7, 0.7], closer);
}

const Over = styled.div`position: absolute; inset: 0; overflow: hidden; cursor: crosshair; touch-action: none;`;
const Frame = styled.div`
  position: absolute; border: 1px solid var(--card); box-shadow: 0 0 0 1px var(--ink), inset 0 0 0 1px var(--ink); pointer-events: none;
  &:focus-visible { outline: 2px solid var(--sea); outline-offset: 2px; }
`;

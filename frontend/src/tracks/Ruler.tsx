import { useRef } from "react";
import styled from "styled-components";
import { useEditing, useSession, useShot } from "../parts/editing";
import { RangeEnd } from "./RangeEnd";

/** The frames of the shot: scrubbed by dragging; in it a line of those that are ready, and the playhead over all rows. */
export function Ruler() {
  const editing = useEditing();
  const { session, player } = editing;
  const frames = useShot((shot) => shot.frames);
  const frame = useSession((state) => state.frame);
  const { range } = useSession((state) => state);
  const line = useRef<HTMLDivElement>(null);
  const span = Math.max(1, frames.last - frames.first);
  const share = (at: number) => ((at - frames.first) / span) * 100;
  const every = niceStep(span);
  // The last bit of the line lies beside what the links are about.
  const told = Math.floor((span * 0.96) / every) + 1;
  const ticks = Array.from({ length: told }, (_, place) => frames.first + place * every);

  const frameAt = (x: number) => {
    const box = line.current?.getBoundingClientRect();
    const at = Math.round(frames.first + ((x - (box?.left ?? 0)) / (box?.width ?? 1)) * span);
    return Math.min(frames.last, Math.max(frames.first, at));
  };

  function scrub(down: React.PointerEvent) {
    const target = down.currentTarget;
    target.setPointerCapture(down.pointerId);
    const to = (x: number) => session.setState({ frame: frameAt(x), playing: false });
    to(down.clientX);
    const move = (event: Event) => to((event as PointerEvent).clientX);
    const end = () => {
      target.removeEventListener("pointermove", move);
      target.removeEventListener("pointerup", end);
    };
    target.addEventListener("pointermove", move);
    target.addEventListener("pointerup", end);
  }

  function step(event: React.KeyboardEvent) {
    const by = { ArrowLeft: -1, ArrowRight: 1, PageDown: -10, PageUp: 10 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    session.setState({ frame: Math.min(frames.last, Math.max(frames.first, Math.round(frame) + by)), playing: false });
  }

  const ready = readyRuns(frames.first, frames.last, (at) => player.ready(at));
  return (
    <Scale
      ref={line}
      role="slider"
      tabIndex={0}
      aria-label="Frame in view"
      aria-valuemin={frames.first}
      aria-valuemax={frames.last}
      aria-valuenow={Math.round(frame)}
      onPointerDown={scrub}
      onKeyDown={step}
    >
      {ticks.map((tick) => (
        <Tick key={tick} style={{ left: `${share(tick)}%` }}>
          {tick}
        </Tick>
      ))}
      {range && (
        <Played
          style={{ left: `${share(range.first)}%`, width: `${share(range.last) - share(range.first)}%` }}
          title={`Played: ${range.first} to ${range.last}`}
        />
      )}
      {range && <RangeEnd end="first" share={share} frameAt={frameAt} />}
      {range && <RangeEnd end="last" share={share} frameAt={frameAt} />}
      {ready.map(([from, to]) => (
        <Ready
          key={from}
          data-ready
          style={{ left: `${share(from - 0.5)}%`, width: `${share(to + 0.5) - share(from - 0.5)}%` }}
        />
      ))}
      <Playhead style={{ left: `${share(frame)}%` }} />
    </Scale>
  );
}

function readyRuns(first: number, last: number, ready: (frame: number) => boolean): [number, number][] {
  const runs: [number, number][] = [];
  for (let frame = first; frame <= last; frame++) {
    if (!ready(frame)) continue;
    const run = runs.at(-1);
    if (run && run[1] === frame - 1) run[1] = frame;
    else runs.push([frame, frame]);
  }
  return runs;
}

function niceStep(span: number): number {
  const rough = span / 8;
  return [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000].find((step) => step >= rough) ?? 10000;
}

const Scale = styled.div`
  position: relative; height: 32px; cursor: ew-resize; touch-action: none; margin: 0 8px;
`;
const Tick = styled.span`
  position: absolute; top: 3px; transform: translateX(-50%); font-size: 11.5px; color: var(--ink-soft); pointer-events: none;
  &::after { content: ""; position: absolute; left: 50%; top: 17px; height: 6px; border-left: 1px solid var(--ink-soft); }
`;
const Ready = styled.span`
  position: absolute; bottom: 0; height: 3px; background: var(--sea); pointer-events: none;
`;
const Played = styled.span`
  position: absolute; top: 0; height: 3px; background: var(--ink); pointer-events: none;
`;
const Playhead = styled.span`
  position: absolute; top: 0; height: 1000px; border-left: 2px solid var(--signal); margin-left: -1px; pointer-events: none; z-index: 1;
`;

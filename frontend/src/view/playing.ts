import type { Session } from "./session";

type Range = { first: number; last: number };

/** The frames that are played: those chosen, as far as the shot has them, else all. */
export function playRange(session: Pick<Session, "range">, frames: Range): Range {
  const first = Math.max(frames.first, session.range?.first ?? frames.first);
  const last = Math.min(frames.last, session.range?.last ?? frames.last);
  return first <= last ? { first, last } : frames;
}

type Playing = Pick<Session, "range" | "frame" | "direction" | "loop">;

/** The frame to show after this one and the direction from there on; null where playing ends. */
export function nextFrame(session: Playing, frames: Range): { frame: number; direction: 1 | -1 } | null {
  const { first, last } = playRange(session, frames);
  const { frame, direction, loop } = session;
  const next = Math.round(frame) + direction;
  if (next >= first && next <= last) return { frame: next, direction };
  if (loop === "once" || first === last) return loop === "once" ? null : { frame: first, direction };
  if (loop === "there and back") return { frame: Math.round(frame) - direction, direction: direction > 0 ? -1 : 1 };
  return { frame: direction > 0 ? first : last, direction };
}

/** Frames in the order in which they will be wanted: onward while playing, else outward from the playhead. */
export function* aroundOrder(session: Playing & Pick<Session, "playing">, frames: Range): Generator<number> {
  const { first, last } = playRange(session, frames);
  const at = Math.round(session.frame);
  if (session.playing) {
    let step = { frame: at, direction: session.direction };
    for (let count = 0; count <= last - first; count++) {
      yield step.frame;
      const next = nextFrame({ ...session, ...step }, frames);
      if (!next) return;
      step = next;
    }
    return;
  }
  for (let away = 1; away <= last - first; away++) {
    if (at + away <= last) yield at + away;
    if (at - away >= first) yield at - away;
  }
}

/** A second to either side of a frame. */
export function aroundHere(frame: number, fps: number, frames: Range): Range {
  const half = Math.max(1, Math.round(fps));
  return { first: Math.max(frames.first, frame - half), last: Math.min(frames.last, frame + half) };
}

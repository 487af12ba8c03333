import type { Editing } from "../parts/editing";

/** How closely what the shot's camera sees is looked at: so many times, with a middle as shares of the view's width and height
 * from the top left. The shot is not changed. */
export type Closer = { zoom: number; x: number; y: number };

/** The left, top, right and bottom edges of a part of the view, as shares of its sides. */
export type Part = [number, number, number, number];

export const WHOLE: Closer = { zoom: 1, x: 0.5, y: 0.5 };
export const ALL: Part = [0, 0, 1, 1];
const CLOSEST = 16;

/** What a wheel's step, a press of a key and a command bring closer. */
export const STEP = 1.25;

/** What is seen of the whole. */
export function partSeen({ zoom, x, y }: Closer): Part {
  const half = 0.5 / zoom;
  return [x - half, y - half, x + half, y + half];
}

/** So many times closer, with a place of the view, as shares of its sides, where it is. */
export function closerAt(now: Closer, times: number, atX = 0.5, atY = 0.5): Closer {
  const zoom = Math.min(CLOSEST, Math.max(1, now.zoom * times));
  const step = 1 / now.zoom - 1 / zoom;
  return within({ zoom, x: now.x + (atX - 0.5) * step, y: now.y + (atY - 0.5) * step });
}

/** With what is seen moved along by shares of the view's sides. */
export function slid(now: Closer, x: number, y: number): Closer {
  return within({ ...now, x: now.x - x / now.zoom, y: now.y - y / now.zoom });
}

function within({ zoom, x, y }: Closer): Closer {
  const half = 0.5 / zoom;
  const kept = (middle: number) => Math.min(1 - half, Math.max(half, middle));
  return zoom < 1.005 ? WHOLE : { zoom, x: kept(x), y: kept(y) };
}

/** Both at once; null where nothing is in both. */
export function shared(one: Part, other: Part): Part | null {
  const [left, top] = [Math.max(one[0], other[0]), Math.max(one[1], other[1])];
  const [right, bottom] = [Math.min(one[2], other[2]), Math.min(one[3], other[3])];
  return right > left && bottom > top ? [left, top, right, bottom] : null;
}

/** Where a part of the whole is in the view, as shares of its sides. */
export function inView([left, top, right, bottom]: Part, closer: Closer): Part {
  const [fromX, fromY] = partSeen(closer);
  const { zoom } = closer;
  return [(left - fromX) * zoom, (top - fromY) * zoom, (right - fromX) * zoom, (bottom - fromY) * zoom];
}

/** What lies in a part of the view, as a part of the whole. */
export function ofWhole([left, top, right, bottom]: Part, closer: Closer): Part {
  const [fromX, fromY] = partSeen(closer);
  const { zoom } = closer;
  return [fromX + left / zoom, fromY + top / zoom, fromX + right / zoom, fromY + bottom / zoom];
}

/** A part of the view as where a thing over it is put. */
export function placed([left, top, right, bottom]: Part): React.CSSProperties {
  const percent = (share: number) => `${(100 * share).toFixed(4)}%`;
  return { left: percent(left), top: percent(top), width: percent(right - left), height: percent(bottom - top) };
}

/** What can be done about it, by name. */
export function closerCommands({ session }: Editing): { id: string; name: string; run: () => void }[] {
  const look = (times: number) => () =>
    session.setState(({ closer }) => ({ through: "camera" as const, closer: closerAt(closer, times) }));
  return [
    { id: "closer", name: "Look closer at the picture", run: look(2) },
    { id: "less close", name: "Look at the picture from less close", run: look(0.5) },
    { id: "whole picture", name: "See the whole picture", run: () => session.setState({ closer: WHOLE }) },
  ];
}

import type { Source } from "./types";

export type Curve = NonNullable<Source["curve"]>;
export type CurvePoint = Curve["points"][string];
type Easing = CurvePoint["easing"];

const LINEAR: Easing = { kind: "linear" };

function curve(...points: [number, number, Easing?][]): Curve {
  return {
    points: Object.fromEntries(points.map(([x, y, easing = LINEAR], place) => [`p${place + 1}`, { x, y, easing }])),
  };
}

/** Curves by name: what becomes of a value on its way to a listener. */
export const CURVES: Record<string, Curve> = {
  "eased in and out": curve([0, 0, { kind: "ease" }], [1, 1]),
  "late, then quickly": curve([0, 0, { kind: "bezier", handles: [0.6, 0, 1, 0.5] }], [1, 1]),
  "early, then slowly": curve([0, 0, { kind: "bezier", handles: [0, 0.5, 0.4, 1] }], [1, 1]),
  "only its upper half": curve([0, 0, { kind: "hold" }], [0.5, 0], [1, 1]),
  "only its lower half": curve([0, 0], [0.5, 1], [1, 1]),
  "up and down again": curve([0, 0, { kind: "ease" }], [0.5, 1, { kind: "ease" }], [1, 0]),
  "in four steps": curve(
    [0, 0, { kind: "hold" }],
    [0.25, 0.3333, { kind: "hold" }],
    [0.5, 0.6667, { kind: "hold" }],
    [0.75, 1, { kind: "hold" }],
  ),
};

/** What is said where there is no curve. */
export const AS_IT_IS = "as it is";

/** The name of a curve; one that is not among those named is its owner's own. */
export function curveName(told: Source["curve"]): string {
  if (!told) return AS_IT_IS;
  const text = written(told);
  const found = Object.entries(CURVES).find(([, one]) => written(one) === text);
  return found?.[0] ?? "a curve of its own";
}

/** A curve as text that is the same for the same curve. */
function written(told: Curve): string {
  const points = sortedPoints(told).map(([, { x, y, easing }]) => [
    x,
    y,
    easing?.kind ?? LINEAR.kind,
    easing?.kind === "bezier" ? easing.handles : null,
  ]);
  return JSON.stringify(points);
}

/** The points of a curve by their place. */
export function sortedPoints(curve: Curve): [string, CurvePoint][] {
  return Object.entries(curve.points).sort(([, one], [, other]) => one.x - other.x);
}

import schema from "../../../docs/shot.schema.json";
import type { Source } from "./types";

export type Curve = NonNullable<Source["curve"]>;
export type CurvePoint = Curve["points"][string];

/** Curves by name: what becomes of a value on its way to a listener. */
export const CURVES = schema.$defs.Curve["x-kind"].presets as unknown as Record<string, Curve>;

/** The curve that is taken first. */
export const FIRST_CURVE = Object.values(CURVES)[0];

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
    easing.kind,
    easing.kind === "bezier" ? easing.handles : null,
  ]);
  return JSON.stringify(points);
}

/** The points of a curve by their place. */
export function sortedPoints(curve: Curve): [string, CurvePoint][] {
  return Object.entries(curve.points).sort(([, one], [, other]) => one.x - other.x);
}

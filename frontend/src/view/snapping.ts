import * as THREE from "three";
import type { Editing } from "../parts/editing";
import { project } from "./outlines";
import type { Stage } from "./stage";

type Vector = [number, number, number];

/** Pixels within which a dragged thing goes to the place of another. */
const NEAR = 12;

/**
 * Where a dragged thing goes that keeps to multiples of the view's step, or to the place of another item that it comes near
 * to in the picture. Shift does it when it is off, and lets it be when it is on. axis: the one it is dragged along.
 */
export function snapped(
  editing: Editing,
  stage: Stage,
  dragged: string,
  there: Vector,
  axis: 0 | 1 | 2 | null,
  shift: boolean,
): Vector {
  const { snap, manifest } = editing.session.getState();
  if (snap > 0 === shift) return there;
  const step = snap || 0.1;
  const seen = project(stage, new THREE.Vector3(...there));
  if (axis === null && seen) {
    for (const [id, matrix] of Object.entries(manifest?.placements ?? {})) {
      const place: Vector = [matrix[12] ?? 0, matrix[13] ?? 0, matrix[14] ?? 0];
      const spot = id === dragged ? null : project(stage, new THREE.Vector3(...place));
      if (spot && Math.hypot(spot.x - seen.x, spot.y - seen.y) < NEAR) return place;
    }
  }
  return there.map((value, one) =>
    axis === null || axis === one ? Number((Math.round(value / step) * step).toFixed(6)) : value,
  ) as Vector;
}

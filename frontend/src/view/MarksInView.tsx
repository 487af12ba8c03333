import * as THREE from "three";
import type { Manifest } from "../api/frames";
import { inOrder } from "../document/types";
import { useSession, useShot } from "../parts/editing";
import { project } from "./outlines";
import type { Stage } from "./stage";

/** The marks of the chosen shape's steps, numbered, on both shapes, and which belongs to which. */
export function MarksInView({ stage, manifest }: { stage: Stage; manifest: Manifest }) {
  const chosen = useSession((state) => state.chosen);
  const shape = useShot((shot) => (chosen ? shot.items[chosen] : undefined));
  if (!chosen || shape?.kind !== "shape") return null;
  return Object.entries(shape.recipe.steps).flatMap(([id, step]) => {
    if (!("marks" in step)) return [];
    const seen = manifest.marks.filter((mark) => mark.item === chosen && mark.step === id);
    return inOrder(step.marks).map(([key], place) => {
      const spots = seen
        .filter(({ mark }) => mark === key)
        .map(({ place: at }) => project(stage, new THREE.Vector3(...at)))
        .filter((spot) => spot !== null);
      const [one, other] = spots;
      return (
        <g key={`${id} ${key}`} data-mark={place + 1} stroke="#0B6B70" strokeWidth={1.4}>
          {one && other && <line x1={one.x} y1={one.y} x2={other.x} y2={other.y} strokeDasharray="2 5" />}
          {spots.map((spot, on) => (
            <g key={on === 0 ? "here" : "there"} transform={`translate(${spot.x} ${spot.y})`}>
              <circle r={8} fill="#FBFAF5" />
              <text textAnchor="middle" dy="3.5" fontSize="10.5" fontWeight="600" fill="#0B6B70" stroke="none">
                {place + 1}
              </text>
            </g>
          ))}
        </g>
      );
    });
  });
}

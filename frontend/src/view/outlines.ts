import * as THREE from "three";
import type { Outline, StepRegion } from "../api/frames";
import type { Stage } from "./stage";

/** The size of the view in pixels of the page. */
export function size(stage: Stage): { width: number; height: number } {
  const { clientWidth, clientHeight } = stage.renderer.domElement;
  return { width: clientWidth, height: clientHeight };
}

/** Where a place in the world lies in the picture, in pixels; null behind the camera. */
export function project(stage: Stage, place: THREE.Vector3): { x: number; y: number } | null {
  const { width, height } = size(stage);
  const camera = stage.camera;
  camera.updateMatrixWorld();
  const seen = place.clone().applyMatrix4(camera.matrixWorldInverse.copy(camera.matrixWorld).invert());
  if (seen.z > -camera.near) return null;
  const flat = seen.applyMatrix4(camera.projectionMatrix);
  return { x: ((flat.x + 1) / 2) * width, y: ((1 - flat.y) / 2) * height };
}

/** A source's reach as the camera sees it, as a path of SVG. `matrix` takes its controller's space to the world. */
export function outlinePath(stage: Stage, matrix: number[], outline: Outline): string {
  if (outline.form === "ball") return outline.radius > 0 ? silhouette(stage, matrix, outline.radius) : "";
  const toWorld = new THREE.Matrix4().fromArray(matrix);
  if (outline.form === "box") return drawn(stage, toWorld, boxLines(outline.half, outline.margin));
  return drawn(stage, withoutStretch(toWorld), planeLines(outline.axis, outline.distance, breadth(stage, toWorld)));
}

/** What a step reaches between two planes across an axis, as the camera sees it. */
export function regionPath(stage: Stage, matrix: number[], region: StepRegion): string {
  const toWorld = new THREE.Matrix4().fromArray(matrix);
  const half = breadth(stage, toWorld);
  const ends = [region.start, region.end].map((end) => planeLines(region.axis, end, half));
  const [from, to] = ends.map((lines) => lines[0] ?? []);
  const along = (from ?? []).slice(0, 4).map((corner, place) => [corner, to?.[place] ?? corner]);
  return drawn(stage, withoutStretch(toWorld), [...ends.flatMap((lines) => lines.slice(0, 1)), ...along]);
}

/** Half the breadth of a piece of a thing without end: so large that it is seen about its controller. */
function breadth(stage: Stage, toWorld: THREE.Matrix4): number {
  const eye = new THREE.Vector3().setFromMatrixPosition(stage.camera.matrixWorld);
  return 0.16 * eye.distanceTo(new THREE.Vector3().setFromMatrixPosition(toWorld));
}

function withoutStretch(matrix: THREE.Matrix4): THREE.Matrix4 {
  const [place, turn] = [new THREE.Vector3(), new THREE.Quaternion()];
  matrix.decompose(place, turn, new THREE.Vector3());
  return new THREE.Matrix4().compose(place, turn, new THREE.Vector3(1, 1, 1));
}

type Line = THREE.Vector3[];

/** A square with its cross, on a plane across an axis, and the way to it from the middle. */
function planeLines(axis: "x" | "y" | "z", distance: number, half: number): Line[] {
  const along = { x: 0, y: 1, z: 2 }[axis];
  const at = (u: number, v: number, w = distance) =>
    new THREE.Vector3()
      .setComponent(along, w)
      .setComponent((along + 1) % 3, u * half)
      .setComponent((along + 2) % 3, v * half);
  return [
    [at(-1, -1), at(1, -1), at(1, 1), at(-1, 1), at(-1, -1)],
    [at(-0.12, 0), at(0.12, 0)],
    [at(0, -0.12), at(0, 0.12)],
    [at(0, 0, 0), at(0, 0)],
  ];
}

const ENDLESS = 4;

/** What is `margin` away from a box: its six sides moved out, and the arcs about its corners. */
function boxLines(half: (number | null)[], margin: number): Line[] {
  const size = new THREE.Vector3(...half.map((side) => side ?? ENDLESS));
  const lines: Line[] = [];
  const at = (axis: number, out: number, u: number, v: number) =>
    new THREE.Vector3()
      .setComponent(axis, out)
      .setComponent((axis + 1) % 3, u * size.getComponent((axis + 1) % 3))
      .setComponent((axis + 2) % 3, v * size.getComponent((axis + 2) % 3));
  for (const axis of [0, 1, 2]) {
    if (half[axis] === null) continue;
    for (const side of [-1, 1]) {
      const out = side * (size.getComponent(axis) + margin);
      lines.push([
        at(axis, out, -1, -1),
        at(axis, out, 1, -1),
        at(axis, out, 1, 1),
        at(axis, out, -1, 1),
        at(axis, out, -1, -1),
      ]);
      for (const other of [(axis + 1) % 3]) {
        if (margin <= 0 || half[other] === null) continue;
        for (const turned of [-1, 1])
          for (const end of [-1, 1]) lines.push(arc(size, axis, side, other, turned, end, margin));
      }
    }
  }
  return lines;
}

/** A quarter circle about the end of an edge, from one of its sides to the other. */
function arc(
  size: THREE.Vector3,
  one: number,
  side: number,
  other: number,
  turned: number,
  end: number,
  margin: number,
): Line {
  const third = 3 - one - other;
  return Array.from({ length: 7 }, (_, step) => {
    const angle = (step / 6) * (Math.PI / 2);
    return new THREE.Vector3()
      .setComponent(one, side * (size.getComponent(one) + Math.cos(angle) * margin))
      .setComponent(other, turned * (size.getComponent(other) + Math.sin(angle) * margin))
      .setComponent(third, end * size.getComponent(third));
  });
}

function drawn(stage: Stage, toWorld: THREE.Matrix4, lines: Line[]): string {
  const parts: string[] = [];
  for (const line of lines) {
    const seen = line.map((place) => project(stage, place.clone().applyMatrix4(toWorld)));
    if (seen.some((spot) => spot === null)) continue;
    parts.push(`M${seen.map((spot) => `${spot!.x.toFixed(1)} ${spot!.y.toFixed(1)}`).join("L")}`);
  }
  return parts.join("");
}

/**
 * The outline, as the camera sees it, of a ball of a radius in an item's own (stretched) space. In that space the outline
 * is the circle in which the cone from the camera touches the ball.
 */
function silhouette(stage: Stage, matrix: number[], radius: number): string {
  const toWorld = new THREE.Matrix4().fromArray(matrix);
  const eye = new THREE.Vector3()
    .setFromMatrixPosition(stage.camera.matrixWorld)
    .applyMatrix4(toWorld.clone().invert());
  const distance = eye.length();
  if (distance <= radius) return "";
  const normal = eye.clone().normalize();
  const centre = normal.clone().multiplyScalar((radius * radius) / distance);
  const across = radius * Math.sqrt(1 - (radius / distance) ** 2);
  const side = new THREE.Vector3(0, 1, 0).cross(normal);
  if (side.lengthSq() < 1e-6) side.set(1, 0, 0);
  side.normalize();
  const up = normal.clone().cross(side);
  const points: string[] = [];
  for (let step = 0; step <= 72; step++) {
    const angle = (step / 72) * 2 * Math.PI;
    const place = centre
      .clone()
      .addScaledVector(side, Math.cos(angle) * across)
      .addScaledVector(up, Math.sin(angle) * across);
    const seen = project(stage, place.applyMatrix4(toWorld));
    if (!seen) return "";
    points.push(`${seen.x.toFixed(1)} ${seen.y.toFixed(1)}`);
  }
  return `M${points.join("L")}`;
}

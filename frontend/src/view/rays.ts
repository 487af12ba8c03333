import * as THREE from "three";
import type { Stage } from "./stage";

/** The ray of the view through a pixel of the page. */
export function rayAt(stage: Stage, x: number, y: number, box: DOMRect): THREE.Ray {
  const caster = new THREE.Raycaster();
  caster.setFromCamera(
    new THREE.Vector2(((x - box.left) / box.width) * 2 - 1, 1 - ((y - box.top) / box.height) * 2),
    stage.camera,
  );
  return caster.ray;
}

/** Where a place goes that is dragged along an axis of the world, or in the plane that faces the camera. */
export function movedTo(
  stage: Stage,
  from: THREE.Vector3,
  axis: 0 | 1 | 2 | null,
  first: { x: number; y: number },
  delta: { x: number; y: number },
  box: DOMRect,
): [number, number, number] {
  const [start, now] = [rayAt(stage, first.x, first.y, box), rayAt(stage, first.x + delta.x, first.y + delta.y, box)];
  const ahead = new THREE.Vector3(0, 0, -1).transformDirection(stage.camera.matrixWorld);
  const plane = new THREE.Plane().setFromNormalAndCoplanarPoint(ahead, from);
  const [one, other] = [
    start.intersectPlane(plane, new THREE.Vector3()),
    now.intersectPlane(plane, new THREE.Vector3()),
  ];
  if (!one || !other) return from.toArray();
  const moved = other.sub(one);
  if (axis === null) return from.clone().add(moved).toArray();
  const along = new THREE.Vector3().setComponent(axis, 1);
  const flat = along.clone().projectOnPlane(ahead);
  const length = flat.lengthSq() > 1e-3 ? moved.dot(flat) / flat.lengthSq() : 0;
  return from.clone().addScaledVector(along, length).toArray();
}

import * as THREE from "three";
import type { Manifest } from "../api/frames";
import { isKeyed } from "../document/parameter";
import type { Item, Patch } from "../document/types";

/** The matrix from the space in which an item carries others to the world: moved and turned, not stretched. */
export function carrying(manifest: Manifest | null, item: string | null | undefined): THREE.Matrix4 {
  const told = item ? manifest?.placements[item] : undefined;
  if (!told) return new THREE.Matrix4();
  const matrix = new THREE.Matrix4().fromArray(told);
  const [x, y, z] = [new THREE.Vector3(), new THREE.Vector3(), new THREE.Vector3()];
  matrix.extractBasis(x, y, z);
  const place = new THREE.Vector3().setFromMatrixPosition(matrix);
  return new THREE.Matrix4().makeBasis(x.normalize(), y.normalize(), z.normalize()).setPosition(place);
}

/** Lets an item be carried by another, or by none. A place and turn without keys are told anew, so that it stays where it is. */
export function carry(manifest: Manifest | null, id: string, item: Item, parent: string | null): Patch {
  const patch: Patch = [{ op: "replace", path: `/items/${id}/parent`, value: parent }];
  if (isKeyed(item.place) || isKeyed(item.turn)) return patch;
  const [x, y, z] = (item.turn as [number, number, number]).map(THREE.MathUtils.degToRad) as [number, number, number];
  const own = new THREE.Matrix4()
    .makeRotationFromEuler(new THREE.Euler(x, y, z, "ZYX"))
    .setPosition(...(item.place as [number, number, number]));
  const world = carrying(manifest, item.parent).multiply(own);
  const within = carrying(manifest, parent).invert().multiply(world);
  const turn = new THREE.Euler().setFromRotationMatrix(within, "ZYX");
  const place = new THREE.Vector3().setFromMatrixPosition(within);
  const degrees = [turn.x, turn.y, turn.z].map((angle) => round(THREE.MathUtils.radToDeg(angle)));
  return [
    ...patch,
    { op: "replace", path: `/items/${id}/place`, value: place.toArray().map(round) },
    { op: "replace", path: `/items/${id}/turn`, value: degrees },
  ];
}

function round(value: number): number {
  return Number(value.toFixed(5));
}

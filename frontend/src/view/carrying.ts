import * as THREE from "three";
import type { Manifest } from "../api/frames";

/** The matrix from the space that an item's place and turn are in to the world. */
export function spaceOf(manifest: Manifest, id: string | null, parent: string | null | undefined): THREE.Matrix4 {
  const along = id ? manifest.spaces[id] : undefined;
  return along ? new THREE.Matrix4().fromArray(along) : carrying(manifest, parent);
}

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

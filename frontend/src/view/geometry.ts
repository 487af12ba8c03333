import * as THREE from "three";
import { blocks } from "../api/blocks";
import type { ArrayRef, DrawItem } from "../api/frames";
import { standingGeometry } from "./copies";

const CONSTRUCTORS = {
  float32: Float32Array,
  int16: Int16Array,
  uint16: Uint16Array,
  uint32: Uint32Array,
  uint8: Uint8Array,
};

/** A name for the arrays that a thing is drawn from. */
export function geometryKey(item: DrawItem): string {
  return Object.entries(item.arrays)
    .map(([name, array]) => `${name}:${array.hash}`)
    .join(" ");
}

function attribute(ref: ArrayRef): THREE.BufferAttribute {
  const block = blocks.get(ref.hash);
  if (!block) throw new Error(`block ${ref.hash} is not held`);
  const values = new CONSTRUCTORS[ref.type](block, 0, ref.count * ref.components);
  const whole = ref.type === "int16" || ref.type === "uint16";
  return new THREE.BufferAttribute(values, ref.components, whole);
}

/** The geometry of a mesh. */
export function geometryOf(item: DrawItem): THREE.BufferGeometry {
  const geometry = new THREE.BufferGeometry();
  const { points, normals, faces, tint, emission, surface, heat, uv, pictured } = item.arrays;
  geometry.setAttribute("position", attribute(points));
  geometry.setAttribute("normal", attribute(normals));
  geometry.setIndex(attribute(faces));
  if (tint) geometry.setAttribute("color", attribute(tint));
  if (emission) geometry.setAttribute("emission", attribute(emission));
  if (surface) geometry.setAttribute("surface", attribute(surface));
  if (heat) geometry.setAttribute("heat", attribute(heat));
  if (uv) geometry.setAttribute("uv", attribute(uv));
  if (pictured) geometry.setAttribute("pictured", attribute(pictured));
  return geometry;
}

/** A model with its copies: what points of other meshes bring along, each copy brings. */
export function copiesOf(item: DrawItem): THREE.BufferGeometry {
  const { points, normals, faces, tint, emission, surface, heat, place, turn, size, uv, pictured } = item.arrays;
  const { copies } = item;
  if (!copies || !place || !turn || !size) return bounded(geometryOf(item));
  const model = new THREE.BufferGeometry();
  model.setAttribute("position", attribute(points));
  model.setAttribute("normal", attribute(normals));
  model.setIndex(attribute(faces));
  if (uv) model.setAttribute("uv", attribute(uv));
  const own: Record<string, THREE.InstancedBufferAttribute> = {
    placed: instanced(place),
    turned: instanced(turn),
    sized: instanced(size),
  };
  for (const [name, ref] of [
    ["color", tint],
    ["emission", emission],
    ["surface", surface],
    ["heat", heat],
    ["pictured", pictured],
  ] as const) {
    if (!ref) continue;
    if (ref.count === copies.count) own[name] = instanced(ref);
    else model.setAttribute(name, attribute(ref));
  }
  return standingGeometry(model, copies, own);
}

function instanced(ref: ArrayRef): THREE.InstancedBufferAttribute {
  const { array, itemSize, normalized } = attribute(ref);
  return new THREE.InstancedBufferAttribute(array, itemSize, normalized);
}

/** A geometry that knows the ball about it. */
export function bounded(geometry: THREE.BufferGeometry): THREE.BufferGeometry {
  geometry.computeBoundingSphere();
  return geometry;
}

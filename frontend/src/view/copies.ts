import * as THREE from "three";
import type { DrawItem, DrawnCopies } from "../api/frames";

/** Where each copy stands, as it comes: fractions of a cube, a quaternion, fractions of a size. */
const STANDING = `
  attribute vec4 placed;
  attribute vec4 turned;
  attribute vec4 sized;
  vec3 turnBy(vec4 q, vec3 v) {
    q = normalize(q);
    return v + 2.0 * cross(q.xyz, cross(q.xyz, v) + q.w * v);
  }
`;

/** How large a model is drawn in the cube that the places of its copies are fractions of. */
export function ratioOf(copies: DrawnCopies): number {
  return copies.largest / copies.span;
}

/** Takes the cube that places are fractions of to the world. */
export function cubeMatrix(item: DrawItem, copies: DrawnCopies): THREE.Matrix4 {
  const [x, y, z] = copies.low;
  const cube = new THREE.Matrix4().makeScale(copies.span, copies.span, copies.span).setPosition(x, y, z);
  return new THREE.Matrix4().fromArray(item.matrix).multiply(cube);
}

/** Makes a material draw its geometry once for each copy, stood up on the graphics card. */
export function standing<Made extends THREE.Material>(material: Made, ratio: number): Made {
  const before = material.onBeforeCompile;
  const key = material.customProgramCacheKey.bind(material);
  const named = key();
  material.customProgramCacheKey = () => `${named} copies ${ratio}`;
  material.onBeforeCompile = (shader, renderer) => {
    before.call(material, shader, renderer);
    const size = `sized.xyz * ${ratio.toExponential(8)}`;
    const body = shader.vertexShader
      .replace("#include <begin_vertex>", "vec3 transformed = placedPoint();")
      .replace("#include <beginnormal_vertex>", "vec3 objectNormal = placedNormal();");
    shader.vertexShader = `${STANDING}
      #define placedPoint() (placed.xyz + turnBy(turned, position * ${size}))
      #define placedNormal() (turnBy(turned, normal / max(sized.xyz, vec3(1e-5))))
      ${body}`;
  };
  return material;
}

/** What shadows are drawn with, for copies. */
export function standingDepth(ratio: number): THREE.Material {
  return standing(new THREE.MeshDepthMaterial({ depthPacking: THREE.RGBADepthPacking }), ratio);
}

/** A model's geometry with what its copies have: it is drawn so many times. */
export function standingGeometry(
  model: THREE.BufferGeometry,
  copies: DrawnCopies,
  own: Record<string, THREE.InstancedBufferAttribute>,
): THREE.InstancedBufferGeometry {
  const geometry = new THREE.InstancedBufferGeometry();
  geometry.setIndex(model.getIndex());
  for (const [name, attribute] of Object.entries(model.attributes)) geometry.setAttribute(name, attribute);
  for (const [name, attribute] of Object.entries(own)) geometry.setAttribute(name, attribute);
  geometry.instanceCount = copies.count;
  // In the cube, with room for what sticks out of it.
  const out = copies.radius * ratioOf(copies);
  geometry.boundingBox = new THREE.Box3(
    new THREE.Vector3(-out, -out, -out),
    new THREE.Vector3(1 + out, 1 + out, 1 + out),
  );
  geometry.boundingSphere = geometry.boundingBox.getBoundingSphere(new THREE.Sphere());
  return geometry;
}

/** The copy that a ray, in the space of the cube, meets first: its middle, and how far along the ray. */
export function pickCopy(
  geometry: THREE.InstancedBufferGeometry,
  copies: DrawnCopies,
  ray: THREE.Ray,
): { at: THREE.Vector3; along: number; number: number } | null {
  const placed = geometry.getAttribute("placed");
  const sized = geometry.getAttribute("sized");
  const reach = copies.radius * ratioOf(copies);
  const at = new THREE.Vector3();
  let best: { at: THREE.Vector3; along: number; number: number } | null = null;
  for (let copy = 0; copy < geometry.instanceCount; copy++) {
    at.set(placed.getX(copy), placed.getY(copy), placed.getZ(copy));
    const along = at.clone().sub(ray.origin).dot(ray.direction);
    if (along <= 0 || (best && along > best.along)) continue;
    const size = Math.max(sized.getX(copy), sized.getY(copy), sized.getZ(copy));
    if (ray.distanceSqToPoint(at) <= (reach * size) ** 2) best = { at: at.clone(), along, number: copy };
  }
  return best;
}

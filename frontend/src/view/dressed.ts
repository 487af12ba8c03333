import * as THREE from "three";

/** Draw some of the things of a scene, and nothing else of it, in other materials, without light, haze and shadows. worn: the
 * material of each thing; null hides it. Afterwards all is as it was. */
export function drawDressed(
  renderer: THREE.WebGLRenderer,
  target: THREE.WebGLRenderTarget,
  scene: THREE.Scene,
  camera: THREE.Camera,
  things: THREE.Group,
  worn: (thing: THREE.Mesh) => THREE.Material | null,
): void {
  const meshes = things.children as THREE.Mesh[];
  const others = scene.children.filter((child) => child !== things && child.visible);
  const before = meshes.map(({ material, visible }) => ({ material, visible }));
  const { environment, fog } = scene;
  const { toneMapping } = renderer;
  const { autoUpdate } = renderer.shadowMap;
  for (const child of others) child.visible = false;
  for (const mesh of meshes) {
    const material = worn(mesh);
    mesh.visible = mesh.visible && material !== null;
    mesh.material = material ?? mesh.material;
  }
  Object.assign(scene, { environment: null, fog: null });
  renderer.toneMapping = THREE.NoToneMapping;
  renderer.shadowMap.autoUpdate = false;
  renderer.setRenderTarget(target);
  renderer.clear();
  renderer.render(scene, camera);
  meshes.forEach((mesh, place) => {
    Object.assign(mesh, before[place]);
  });
  for (const child of others) child.visible = true;
  Object.assign(scene, { environment, fog });
  renderer.toneMapping = toneMapping;
  renderer.shadowMap.autoUpdate = autoUpdate;
}

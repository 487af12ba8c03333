import * as THREE from "three";
import { RectAreaLightUniformsLib } from "three/examples/jsm/lights/RectAreaLightUniformsLib.js";
import type { Manifest } from "../api/frames";

type LightNow = Manifest["lights"][number];

const SHADOW_TEXELS = 1024;

/** So many lights cast shadows, the first ones; areas never do. */
const SHADOWED = 2;

/** The lights of a frame, as near as this drawing can. */
export class Lights {
  readonly group = new THREE.Group();

  dispose(): void {
    for (const light of this.lights()) light.dispose();
  }

  /** reach: how far from the middle shadows are seen. */
  show(manifest: Manifest, reach: number): void {
    const told = manifest.lights.filter((light) => manifest.placements[light.item] !== undefined);
    const kinds = told.map(({ shines }) => shines).join();
    if (
      kinds !==
      this.lights()
        .map((light) => light.userData.shines)
        .join()
    )
      this.make(told);
    let shadows = 0;
    told.forEach((light, place) => {
      const made = this.lights()[place] as THREE.Light;
      const toWorld = new THREE.Matrix4().fromArray(manifest.placements[light.item] as number[]);
      made.color.setRGB(...light.light);
      made.castShadow = !(made instanceof THREE.RectAreaLight) && shadows++ < SHADOWED;
      if (made instanceof THREE.DirectionalLight) standAway(made, toWorld, reach);
      else toWorld.decompose(made.position, made.quaternion, new THREE.Vector3());
      if (made instanceof THREE.RectAreaLight) {
        [made.width, made.height] = [Math.max(light.wide, 1e-3), Math.max(light.high, 1e-3)];
        made.intensity = 1 / (made.width * made.height);
      }
    });
  }

  private lights(): THREE.Light[] {
    return this.group.children.filter((child): child is THREE.Light => child instanceof THREE.Light);
  }

  private make(told: LightNow[]): void {
    this.dispose();
    this.group.clear();
    for (const { shines } of told) {
      const light = lightOf(shines);
      light.userData.shines = shines;
      this.group.add(light);
      if (light instanceof THREE.DirectionalLight) this.group.add(light.target);
    }
  }
}

function lightOf(shines: LightNow["shines"]): THREE.Light {
  if (shines === "area") {
    RectAreaLightUniformsLib.init();
    return new THREE.RectAreaLight();
  }
  const light = shines === "point" ? new THREE.PointLight() : new THREE.DirectionalLight();
  light.shadow.mapSize.set(SHADOW_TEXELS, SHADOW_TEXELS);
  if (shines === "point") light.shadow.normalBias = 0.03;
  return light;
}

/** Parallel light comes from beyond all that casts a shadow. */
function standAway(light: THREE.DirectionalLight, toWorld: THREE.Matrix4, reach: number): void {
  const away = new THREE.Vector3(0, 0, 1).transformDirection(toWorld);
  light.position.copy(away).multiplyScalar(reach * 2);
  light.target.position.set(0, 0, 0);
  const shadow = light.shadow.camera;
  Object.assign(shadow, { left: -reach, right: reach, top: reach, bottom: -reach, near: 0.1, far: reach * 4 });
  shadow.updateProjectionMatrix();
  // What is lit aslant shades itself unless it is looked up a good texel off its surface.
  light.shadow.normalBias = Math.max(0.02, (1.5 * 2 * reach) / SHADOW_TEXELS);
}

import * as THREE from "three";
import type { Manifest } from "../api/frames";
import { type Closer, partSeen, WHOLE } from "./closer";

/** A camera of a shot, as a frame tells of it. The whole picture of the shot is seen: where the view is narrower, there is more
 * above and below. */
export class ShotCamera {
  readonly lens = new THREE.PerspectiveCamera(35, 16 / 9, 0.05, 2000);
  /** Degrees from the bottom to the top of the shot's picture, and its width against its height. */
  private angle = 35;
  private aspect = 16 / 9;
  /** The width of the view against its height. */
  private wide = 16 / 9;
  private closer = WHOLE;

  constructor() {
    this.lens.matrixAutoUpdate = false;
  }

  /** Stand where a frame has the camera. */
  look(manifest: Manifest, camera: string | null, aspect: number): void {
    this.aspect = aspect;
    const matrix = camera ? manifest.placements[camera] : undefined;
    if (camera && matrix) {
      this.angle = manifest.cameras[camera]?.angle ?? 35;
      this.lens.matrix.fromArray(matrix);
      this.lens.matrixWorldNeedsUpdate = true;
      this.lens.updateMatrixWorld(true);
    }
    this.fit();
  }

  /** The view's width against its height. */
  shape(wide: number): void {
    this.wide = wide;
    this.fit();
  }

  /** How closely it is looked at. */
  closeUp(closer: Closer): void {
    this.closer = closer;
    this.fit();
  }

  private fit(): void {
    const tangent = Math.tan((this.angle * Math.PI) / 360) * Math.max(1, this.aspect / this.wide);
    this.lens.fov = (Math.atan(tangent) * 360) / Math.PI;
    const [left, top, right, bottom] = partSeen(this.closer);
    const { wide } = this;
    this.lens.setViewOffset(wide, 1, wide * left, top, wide * (right - left), bottom - top);
  }
}

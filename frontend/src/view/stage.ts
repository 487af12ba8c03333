import * as THREE from "three";
import type { Manifest } from "../api/frames";
import type { Aid } from "./aids";
import { ChosenOutline } from "./chosenOutline";
import { Content, type ContentOptions, type Picked } from "./content";
import { Floor } from "./floor";
import { FreeView } from "./freeView";
import { Glow } from "./glow";

const ORIGIN = new THREE.Vector3();

/** Through which camera a frame is seen, or freely; what is chosen, and whether it is outlined; and the width of the shot's
 * picture against its height. */
export type StageOptions = ContentOptions & {
  camera: string | null;
  free: boolean;
  chosen: string[];
  outlined: boolean;
  aspect: number;
  aids: ReadonlySet<Aid>;
};

/** A canvas with its cameras, on which the content of frames is drawn. It knows no React and asks no server. */
export class Stage {
  readonly renderer: THREE.WebGLRenderer;
  readonly shotCamera = new THREE.PerspectiveCamera(35, 16 / 9, 0.05, 2000);
  readonly free: FreeView;
  private readonly content: Content;
  private readonly glow = new Glow();
  private readonly outline = new ChosenOutline();
  private readonly floor = new Floor();
  private through: { camera: string | null; free: boolean } = { camera: null, free: false };
  private outlined: string[] = [];
  /** Degrees from the bottom to the top of the shot's picture, and its width against its height. */
  private angle = 35;
  private aspect = 16 / 9;

  /** moved: is called when the free view has moved. */
  constructor(canvas: HTMLCanvasElement, moved: () => void) {
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: true, preserveDrawingBuffer: true });
    this.renderer.toneMapping = THREE.NeutralToneMapping;
    this.renderer.shadowMap.enabled = true;
    this.renderer.shadowMap.type = THREE.PCFShadowMap;
    this.content = new Content(this.renderer);
    this.content.scene.add(this.floor.things);
    this.shotCamera.matrixAutoUpdate = false;
    this.free = new FreeView(canvas, moved);
  }

  dispose(): void {
    this.free.dispose();
    this.glow.dispose();
    this.outline.dispose();
    this.content.dispose();
    this.renderer.dispose();
  }

  get camera(): THREE.PerspectiveCamera {
    return this.through.free || this.through.camera === null ? this.free.camera : this.shotCamera;
  }

  /** Draw at a share of the full resolution. */
  sharpen(share: number): void {
    const ratio = Math.min(window.devicePixelRatio, 2) * share;
    if (this.renderer.getPixelRatio() !== ratio) this.renderer.setPixelRatio(ratio);
  }

  resize(width: number, height: number): void {
    this.renderer.setSize(width, height, false);
    for (const camera of [this.shotCamera, this.free.camera]) camera.aspect = width / Math.max(1, height);
    this.fit();
  }

  /** Put a frame on the stage. */
  show(manifest: Manifest, options: StageOptions): void {
    this.through = options;
    this.outlined = options.outlined ? options.chosen : [];
    this.aspect = options.aspect;
    this.free.enabled = options.free || options.camera === null;
    this.content.show(manifest, options);
    const [first] = options.chosen;
    const box = first === undefined || first === options.camera ? null : this.content.boxOf(first, manifest);
    this.free.pivot = box ? box.getCenter(new THREE.Vector3()) : null;
    this.look(manifest);
    const far = new THREE.Vector3()
      .setFromMatrixPosition(this.camera.matrixWorld)
      .distanceTo(this.free.pivot ?? ORIGIN);
    this.floor.show(options.aids.has("floor"), options.aids.has("person"), far, box);
  }

  /** The side of a square of the floor grid, in metres. */
  get floorStep(): number {
    return this.floor.step;
  }

  /** Draw it; what is chosen is outlined, and the aids are there, unless it is drawn to be taken away. */
  draw(plain = false): void {
    const { scene, shapes, shines } = this.content;
    this.floor.things.visible = !plain;
    this.renderer.setRenderTarget(null);
    this.renderer.render(scene, this.camera);
    if (shines) this.glow.draw(this.renderer, scene, this.camera, shapes);
    if (!plain && this.outlined.length > 0) this.outline.draw(this.renderer, scene, this.camera, shapes, this.outlined);
  }

  /** The free view stands where the shot's camera is, where it has no place yet or is to. */
  freeAsCamera(begin: boolean): void {
    this.free.standAs(this.shotCamera, begin);
  }

  /** The place under a point of the picture (-1..1 each way): of which part of which shape, and where in its space. */
  pick(x: number, y: number): Picked | null {
    const ray = new THREE.Raycaster();
    ray.setFromCamera(new THREE.Vector2(x, y), this.camera);
    return this.content.pick(ray);
  }

  /** The items under a point of the picture (-1..1 each way), the nearest first. */
  itemsAt(x: number, y: number): string[] {
    const ray = new THREE.Raycaster();
    ray.setFromCamera(new THREE.Vector2(x, y), this.camera);
    return this.content.itemsAlong(ray);
  }

  /** The picture as it is seen, at a size in pixels, as a PNG. */
  async picture(width: number, height: number): Promise<Blob> {
    const size = this.renderer.getSize(new THREE.Vector2());
    const ratio = this.renderer.getPixelRatio();
    this.renderer.setPixelRatio(1);
    this.resize(width, height);
    this.draw(true);
    const taken = new Promise<Blob | null>((done) => this.renderer.domElement.toBlob(done, "image/png"));
    const blob = await taken;
    this.renderer.setPixelRatio(ratio);
    this.resize(size.x, size.y);
    this.draw();
    if (!blob) throw new Error("The picture could not be made at this size.");
    return blob;
  }

  private look(manifest: Manifest): void {
    const { camera } = this.through;
    const matrix = camera ? manifest.placements[camera] : undefined;
    if (!camera || !matrix) return;
    this.angle = manifest.cameras[camera]?.angle ?? 35;
    this.shotCamera.matrix.fromArray(matrix);
    this.shotCamera.matrixWorldNeedsUpdate = true;
    this.shotCamera.updateMatrixWorld(true);
    this.fit();
  }

  /** The whole picture of the shot is seen: where the view is narrower, there is more above and below. */
  private fit(): void {
    const tangent = Math.tan((this.angle * Math.PI) / 360) * Math.max(1, this.aspect / this.shotCamera.aspect);
    this.shotCamera.fov = (Math.atan(tangent) * 360) / Math.PI;
    this.shotCamera.updateProjectionMatrix();
    this.free.camera.fov = this.shotCamera.fov;
    this.free.camera.updateProjectionMatrix();
  }
}

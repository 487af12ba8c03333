import * as THREE from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import type { Manifest } from "../api/frames";
import { Content, type ContentOptions, type Picked } from "./content";
import { Glow } from "./glow";

/** Through which camera a frame is seen, and whether the view is moved freely. */
export type StageOptions = ContentOptions & { camera: string | null; free: boolean };

/** A canvas with its cameras, on which the content of frames is drawn. It knows no React and asks no server. */
export class Stage {
  readonly renderer: THREE.WebGLRenderer;
  readonly shotCamera = new THREE.PerspectiveCamera(35, 16 / 9, 0.05, 2000);
  readonly freeCamera = new THREE.PerspectiveCamera(40, 16 / 9, 0.02, 2000);
  readonly orbit: OrbitControls;
  private readonly content: Content;
  private readonly glow = new Glow();
  private through: { camera: string | null; free: boolean } = { camera: null, free: false };
  private freed = false;

  constructor(canvas: HTMLCanvasElement) {
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: true, preserveDrawingBuffer: true });
    this.renderer.toneMapping = THREE.NeutralToneMapping;
    this.renderer.shadowMap.enabled = true;
    this.renderer.shadowMap.type = THREE.PCFShadowMap;
    this.content = new Content(this.renderer);
    this.shotCamera.matrixAutoUpdate = false;
    this.orbit = new OrbitControls(this.freeCamera, canvas);
    this.orbit.enabled = false;
    this.freeCamera.position.set(4, 4, 10);
  }

  dispose(): void {
    this.orbit.dispose();
    this.glow.dispose();
    this.content.dispose();
    this.renderer.dispose();
  }

  get camera(): THREE.PerspectiveCamera {
    return this.through.free || this.through.camera === null ? this.freeCamera : this.shotCamera;
  }

  /** Draw at a share of the full resolution. */
  sharpen(share: number): void {
    const ratio = Math.min(window.devicePixelRatio, 2) * share;
    if (this.renderer.getPixelRatio() !== ratio) this.renderer.setPixelRatio(ratio);
  }

  resize(width: number, height: number): void {
    this.renderer.setSize(width, height, false);
    for (const camera of [this.shotCamera, this.freeCamera]) {
      camera.aspect = width / Math.max(1, height);
      camera.updateProjectionMatrix();
    }
  }

  /** Put a frame on the stage. */
  show(manifest: Manifest, options: StageOptions): void {
    this.through = options;
    this.orbit.enabled = options.free || options.camera === null;
    this.content.show(manifest, options);
    this.look(manifest);
  }

  draw(): void {
    const { scene, shapes, shines } = this.content;
    this.renderer.setRenderTarget(null);
    this.renderer.render(scene, this.camera);
    if (shines) this.glow.draw(this.renderer, scene, this.camera, shapes);
  }

  /** The free view looks at a place, the way it does, from where a thing of a size fills a good part of the picture. */
  freeTo(middle: [number, number, number], size: number): void {
    const away = this.freeCamera.position.clone().sub(this.orbit.target).normalize();
    const distance = Math.max(0.05, (0.75 * size) / Math.tan((this.freeCamera.fov * Math.PI) / 360));
    this.orbit.target.set(...middle);
    this.freeCamera.position.copy(this.orbit.target).addScaledVector(away, distance);
    this.orbit.update();
    this.draw();
  }

  /** Free view starts where the shot's camera is, looking at what it looked at. */
  freeFromCamera(): void {
    if (this.freed) return;
    this.freed = true;
    this.freeCamera.position.setFromMatrixPosition(this.shotCamera.matrixWorld);
    const ahead = new THREE.Vector3(0, 0, -1).transformDirection(this.shotCamera.matrixWorld);
    const distance = Math.max(1, this.freeCamera.position.length() * 0.95);
    this.orbit.target.copy(this.freeCamera.position).addScaledVector(ahead, distance);
    this.freeCamera.fov = this.shotCamera.fov;
    this.freeCamera.updateProjectionMatrix();
    this.orbit.update();
  }

  /** The place under a point of the picture (-1..1 each way): of which part of which shape, and where in its space. */
  pick(x: number, y: number): Picked | null {
    const ray = new THREE.Raycaster();
    ray.setFromCamera(new THREE.Vector2(x, y), this.camera);
    return this.content.pick(ray);
  }

  /** The picture as it is seen, at a size in pixels, as a PNG. */
  async picture(width: number, height: number): Promise<Blob> {
    const size = this.renderer.getSize(new THREE.Vector2());
    const ratio = this.renderer.getPixelRatio();
    const aspect = this.camera.aspect;
    this.renderer.setPixelRatio(1);
    this.renderer.setSize(width, height, false);
    this.camera.aspect = width / height;
    this.camera.updateProjectionMatrix();
    this.draw();
    const taken = new Promise<Blob | null>((done) => this.renderer.domElement.toBlob(done, "image/png"));
    const blob = await taken;
    this.renderer.setPixelRatio(ratio);
    this.renderer.setSize(size.x, size.y, false);
    this.camera.aspect = aspect;
    this.camera.updateProjectionMatrix();
    this.draw();
    if (!blob) throw new Error("The picture could not be made at this size.");
    return blob;
  }

  private look(manifest: Manifest): void {
    const { camera } = this.through;
    const matrix = camera ? manifest.placements[camera] : undefined;
    if (!camera || !matrix) return;
    this.shotCamera.fov = manifest.cameras[camera]?.angle ?? 35;
    this.shotCamera.matrix.fromArray(matrix);
    this.shotCamera.matrixWorldNeedsUpdate = true;
    this.shotCamera.updateMatrixWorld(true);
    this.shotCamera.updateProjectionMatrix();
  }
}

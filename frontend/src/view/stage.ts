import * as THREE from "three";
import type { Manifest } from "../api/frames";
import type { Aid } from "./aids";
import { ChosenOutline } from "./chosenOutline";
import { type Closer, WHOLE } from "./closer";
import { Content, type ContentOptions, type Picked } from "./content";
import { Floor } from "./floor";
import { FreeView } from "./freeView";
import { Glow } from "./glow";
import { ShotCamera } from "./shotCamera";
import { ShownBy } from "./shownBy";

const ORIGIN = new THREE.Vector3();

/** What is seen on the left of a line, at a share of the width: a frame of what the shot is compared with. */
export type Beside = { manifest: Manifest; camera: string | null; aspect: number; line: number };

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
  private readonly shotCamera = new ShotCamera();
  readonly free: FreeView;
  private readonly content: Content;
  /** What is on the left of the line, while there is one. */
  private beside: { content: Content; camera: ShotCamera; line: number } | null = null;
  private readonly glow = new Glow();
  /** How strong the glow is, and how light is shown. */
  private glowing = 1;
  private view: Manifest["finish"]["view"] = "neutral";
  private readonly shown: ShownBy;
  private readonly outline = new ChosenOutline();
  private readonly floor = new Floor();
  private through: { camera: string | null; free: boolean } = { camera: null, free: false };
  private outlined: string[] = [];
  private closer = WHOLE;
  private last: (() => void) | null = null;
  private lastBeside: (() => void) | null = null;

  /** moved: is called when the free view has moved. */
  constructor(
    canvas: HTMLCanvasElement,
    private readonly moved: () => void,
  ) {
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: true, preserveDrawingBuffer: true });
    this.renderer.shadowMap.enabled = true;
    this.renderer.shadowMap.type = THREE.PCFShadowMap;
    this.content = new Content(this.renderer, () => this.again());
    this.free = new FreeView(canvas, moved);
    this.shown = new ShownBy(moved);
  }

  dispose(): void {
    this.free.dispose();
    this.glow.dispose();
    this.shown.dispose();
    this.outline.dispose();
    this.content.dispose();
    this.beside?.content.dispose();
    this.renderer.dispose();
  }

  get camera(): THREE.PerspectiveCamera {
    return this.through.free || this.through.camera === null ? this.free.camera : this.shotCamera.lens;
  }

  /** Whether it is looked freely, not through the shot's camera. */
  get freely(): boolean {
    return this.camera === this.free.camera;
  }

  /** How many times larger things are seen than in the whole picture. */
  get magnified(): number {
    return this.freely ? 1 : this.closer.zoom;
  }

  /** How closely it is looked through the shot's camera. */
  closeUp(closer: Closer): void {
    this.closer = closer;
    this.shotCamera.closeUp(closer);
    this.beside?.camera.closeUp(closer);
  }

  /** Draw at a share of the full resolution. */
  sharpen(share: number): void {
    const ratio = Math.min(window.devicePixelRatio, 2) * share;
    if (this.renderer.getPixelRatio() !== ratio) this.renderer.setPixelRatio(ratio);
  }

  resize(width: number, height: number): void {
    this.renderer.setSize(width, height, false);
    const aspect = width / Math.max(1, height);
    this.free.camera.aspect = aspect;
    this.shotCamera.shape(aspect);
    this.beside?.camera.shape(aspect);
    this.fitFree();
  }

  /** Puts what was shown last on the stage again: something has come that it lacked. */
  private again(): void {
    this.last?.();
    this.lastBeside?.();
    this.moved();
  }

  /** Put a frame on the stage. */
  show(manifest: Manifest, options: StageOptions): void {
    this.last = () => this.show(manifest, options);
    this.through = options;
    this.outlined = options.outlined ? options.chosen : [];
    const exposure = options.camera === null ? 0 : (manifest.cameras[options.camera]?.exposure ?? 0);
    this.renderer.toneMappingExposure = 2 ** (exposure + manifest.finish.stops);
    this.glowing = manifest.finish.glow;
    this.view = options.reading === "picture" ? manifest.finish.view : "neutral";
    this.free.enabled = options.free || options.camera === null;
    this.content.show(manifest, options);
    const [first] = options.chosen;
    const box = first === undefined || first === options.camera ? null : this.content.boxOf(first, manifest);
    this.free.pivot = box ? box.getCenter(new THREE.Vector3()) : null;
    this.shotCamera.look(manifest, options.camera, options.aspect);
    this.fitFree();
    const far = new THREE.Vector3()
      .setFromMatrixPosition(this.camera.matrixWorld)
      .distanceTo(this.free.pivot ?? ORIGIN);
    this.floor.show(options.aids.has("floor"), options.aids.has("person"), far, box);
  }

  /** The side of a square of the floor grid, in metres. */
  get floorStep(): number {
    return this.floor.step;
  }

  /** Put a frame of what the shot is compared with on the left of a line; null takes it away. */
  compare(beside: Beside | null, reading: ContentOptions): void {
    if (!beside) {
      this.beside?.content.dispose();
      this.beside = null;
      this.lastBeside = null;
      return;
    }
    this.beside ??= { content: new Content(this.renderer, () => this.again()), camera: new ShotCamera(), line: 0.5 };
    this.beside.line = beside.line;
    this.beside.content.show(beside.manifest, reading);
    this.lastBeside = () => this.beside?.content.show(beside.manifest, reading);
    this.beside.camera.shape(this.free.camera.aspect);
    this.beside.camera.closeUp(this.closer);
    this.beside.camera.look(beside.manifest, beside.camera, beside.aspect);
  }

  /** Draw it; what is chosen is outlined, what it is compared with and the aids are there, unless it is drawn to be taken
   * away. */
  draw(plain = false): void {
    const { renderer, beside } = this;
    this.floor.things.visible = !plain;
    if (beside && !plain) {
      const { x: width, y: height } = renderer.getSize(new THREE.Vector2());
      const edge = Math.round(width * beside.line);
      renderer.setScissorTest(true);
      renderer.setScissor(0, 0, edge, height);
      this.drawOne(beside.content, this.freely ? this.camera : beside.camera.lens);
      renderer.setScissor(edge, 0, width - edge, height);
    }
    this.drawOne(this.content, this.camera);
    const { scene, shapes } = this.content;
    if (!plain && this.outlined.length > 0) this.outline.draw(renderer, scene, this.camera, shapes, this.outlined);
    renderer.setScissorTest(false);
  }

  private drawOne({ scene, shapes, shines }: Content, camera: THREE.PerspectiveCamera): void {
    scene.add(this.floor.things);
    this.shown.draw(this.renderer, this.view, () => this.renderer.render(scene, camera));
    if (shines && this.glowing > 0) this.glow.draw(this.renderer, scene, camera, shapes, this.glowing);
  }

  /** The free view stands where the shot's camera is, where it has no place yet or is to. */
  freeAsCamera(begin: boolean): void {
    this.free.standAs(this.shotCamera.lens, begin);
  }

  /** The free view stands where it sees all of an item large, looking the way that the shot's camera looks. */
  frameOn(item: string, manifest: Manifest): void {
    this.freeAsCamera(false);
    const box = this.content.boxOf(item, manifest);
    if (!box) return;
    const size = box.getSize(new THREE.Vector3()).length();
    this.free.lookAt(box.getCenter(new THREE.Vector3()).toArray(), Math.max(0.6 * size, 1e-3));
  }

  /** The place under a point of the picture (-1..1 each way): of which part of which shape, and where in its space. body: the
   * shape whose body is meant, whatever is before it. */
  pick(x: number, y: number, body?: string): Picked | null {
    const ray = new THREE.Raycaster();
    ray.setFromCamera(new THREE.Vector2(x, y), this.camera);
    return body === undefined ? this.content.pick(ray) : this.content.pickBody(ray, body);
  }

  /** The place of the world under a point of the picture (-1..1 each way); null where nothing is. */
  placeAt(x: number, y: number): THREE.Vector3 | null {
    const ray = new THREE.Raycaster();
    ray.setFromCamera(new THREE.Vector2(x, y), this.camera);
    return this.content.placeAlong(ray);
  }

  /** The items under a point of the picture (-1..1 each way), the nearest first. */
  itemsAt(x: number, y: number): string[] {
    const ray = new THREE.Raycaster();
    ray.setFromCamera(new THREE.Vector2(x, y), this.camera);
    return this.content.itemsAlong(ray);
  }

  /** The whole picture as it is seen, at a size in pixels, as a PNG. */
  async picture(width: number, height: number): Promise<Blob> {
    const size = this.renderer.getSize(new THREE.Vector2());
    const ratio = this.renderer.getPixelRatio();
    this.renderer.setPixelRatio(1);
    const { closer } = this;
    this.closeUp(WHOLE);
    this.resize(width, height);
    this.draw(true);
    const taken = new Promise<Blob | null>((done) => this.renderer.domElement.toBlob(done, "image/png"));
    const blob = await taken;
    this.renderer.setPixelRatio(ratio);
    this.closeUp(closer);
    this.resize(size.x, size.y);
    this.draw();
    if (!blob) throw new Error("The picture could not be made at this size.");
    return blob;
  }

  /** The free view sees as much as the shot's camera. */
  private fitFree(): void {
    this.free.camera.fov = this.shotCamera.lens.fov;
    this.free.camera.updateProjectionMatrix();
  }
}

import * as THREE from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";

type Place = [number, number, number];
export type Side = "front" | "side" | "top";
/** Where the free view stands and what it looks at, in world metres. */
export type FreePlace = { place: Place; target: Place };

const FROM: Record<Side, THREE.Vector3> = {
  front: new THREE.Vector3(0, 0, 1),
  side: new THREE.Vector3(1, 0, 0),
  top: new THREE.Vector3(0, 1, 1e-4).normalize(),
};
/** Radians for each pixel of the page that a pointer turns the view by. */
const TURN = 0.006;
const STEEPEST = Math.PI / 2 - 1e-3;

/** A camera of one's own, beside that of the shot: it turns about what is chosen, and keeps its place. */
export class FreeView {
  readonly camera = new THREE.PerspectiveCamera(35, 16 / 9, 0.02, 2000);
  /** What it turns about; what it looks at where there is nothing. */
  pivot: THREE.Vector3 | null = null;
  /** Whether it has a place: else it begins where the shot's camera is. */
  private placed = false;
  private readonly orbit: OrbitControls;
  private turning: { id: number; x: number; y: number } | null = null;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly moved: () => void,
  ) {
    this.orbit = new OrbitControls(this.camera, canvas);
    this.orbit.enabled = false;
    this.orbit.enableRotate = false;
    this.orbit.zoomToCursor = true;
    this.camera.position.set(4, 4, 10);
    this.orbit.update();
    this.orbit.addEventListener("change", moved);
    canvas.addEventListener("pointerdown", this.grab);
    canvas.addEventListener("pointermove", this.drag);
    for (const end of ["pointerup", "pointercancel"] as const) canvas.addEventListener(end, this.release);
  }

  dispose(): void {
    this.orbit.dispose();
    this.canvas.removeEventListener("pointerdown", this.grab);
    this.canvas.removeEventListener("pointermove", this.drag);
    for (const end of ["pointerup", "pointercancel"] as const) this.canvas.removeEventListener(end, this.release);
  }

  set enabled(on: boolean) {
    this.orbit.enabled = on;
  }

  get standing(): FreePlace {
    return { place: this.camera.position.toArray(), target: this.orbit.target.toArray() };
  }

  /** Stand at a place. */
  stand({ place, target }: FreePlace): void {
    this.placed = true;
    this.orbit.target.set(...target);
    this.camera.position.set(...place);
    this.orbit.update();
    this.moved();
  }

  /** Stand where a camera is, looking at what it looks at; unless there is a place already, where it is only to begin. */
  standAs(camera: THREE.PerspectiveCamera, begin: boolean): void {
    if (begin && this.placed) return;
    const place = new THREE.Vector3().setFromMatrixPosition(camera.matrixWorld);
    const ahead = new THREE.Vector3(0, 0, -1).transformDirection(camera.matrixWorld);
    const distance = this.pivot ? this.pivot.clone().sub(place).dot(ahead) : place.length() * 0.95;
    const target = place.clone().addScaledVector(ahead, Math.max(0.1, distance));
    this.stand({ place: place.toArray(), target: target.toArray() });
  }

  /** Look at a place, from where a thing of a size fills a good part of the picture: the way it does, or from a side. */
  lookAt(middle: Place, size: number, from?: Side): void {
    const away = from ? FROM[from].clone() : this.camera.position.clone().sub(this.orbit.target).normalize();
    const distance = Math.max(0.05, (0.75 * size) / Math.tan((this.camera.fov * Math.PI) / 360));
    const target = new THREE.Vector3(...middle);
    this.stand({ place: target.clone().addScaledVector(away, distance).toArray(), target: middle });
  }

  /** Turn by angles in radians, to the right and up, about the pivot. */
  turn(right: number, up: number): void {
    const about = this.pivot ?? this.orbit.target;
    const away = this.camera.position.clone().sub(this.orbit.target);
    const slope = Math.asin(THREE.MathUtils.clamp(away.y / away.length(), -1, 1));
    const steeper = THREE.MathUtils.clamp(slope - up, -STEEPEST, STEEPEST) - slope;
    const across = new THREE.Vector3(1, 0, 0).applyQuaternion(this.camera.quaternion);
    const turn = new THREE.Quaternion()
      .setFromAxisAngle(new THREE.Vector3(0, 1, 0), -right)
      .multiply(new THREE.Quaternion().setFromAxisAngle(across, -steeper));
    const turned = (place: THREE.Vector3) => place.clone().sub(about).applyQuaternion(turn).add(about);
    const [place, target] = [turned(this.camera.position), turned(this.orbit.target)];
    this.stand({ place: place.toArray(), target: target.toArray() });
  }

  /** Move sideways and up, by shares of how far what it looks at is. */
  slide(right: number, up: number): void {
    const far = this.camera.position.distanceTo(this.orbit.target);
    const by = new THREE.Vector3(right * far, up * far, 0).applyQuaternion(this.camera.quaternion);
    const [place, target] = [this.camera.position.clone().add(by), this.orbit.target.clone().add(by)];
    this.stand({ place: place.toArray(), target: target.toArray() });
  }

  /** Go to so many times the distance from what it looks at. */
  approach(times: number): void {
    const away = this.camera.position.clone().sub(this.orbit.target).multiplyScalar(times);
    this.stand({ ...this.standing, place: this.orbit.target.clone().add(away).toArray() });
  }

  private readonly grab = (event: PointerEvent) => {
    const turns = event.button === 0 && !event.shiftKey && !event.ctrlKey && !event.metaKey;
    if (!this.orbit.enabled) return;
    // A second finger moves and comes closer instead.
    this.turning = turns && event.isPrimary ? { id: event.pointerId, x: event.clientX, y: event.clientY } : null;
  };

  private readonly drag = (event: PointerEvent) => {
    const { turning } = this;
    if (!turning || event.pointerId !== turning.id || event.buttons === 0) return;
    this.turn((event.clientX - turning.x) * TURN, -(event.clientY - turning.y) * TURN);
    Object.assign(turning, { x: event.clientX, y: event.clientY });
  };

  private readonly release = () => {
    this.turning = null;
  };
}

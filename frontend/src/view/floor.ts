import * as THREE from "three";

const SQUARES = 24;
const TALL = 1.75;

/** The floor grid and the person beside what is chosen: in the scene while one works, never in what is taken away. */
export class Floor {
  readonly things = new THREE.Group();
  /** The side of a square, in metres. */
  step = 0;
  private readonly grid = new THREE.Group();
  private readonly person = person();

  constructor() {
    this.things.add(this.grid, this.person);
  }

  /** Show the grid, in sensible steps for what is so many metres away, and the person beside a box. */
  show(floor: boolean, standing: boolean, distance: number, beside: THREE.Box3 | null): void {
    const step = sensible(distance / 8);
    if (step !== this.step) this.lay(step);
    this.grid.visible = floor;
    this.person.visible = standing;
    const box = beside ?? new THREE.Box3(new THREE.Vector3(), new THREE.Vector3());
    this.person.position.set(box.max.x + 0.45, Math.min(0, box.min.y), (box.min.z + box.max.z) / 2);
  }

  /** Lay a light grid close beside a dark one, so that one of the two is seen on any ground. */
  private lay(step: number): void {
    for (const one of this.grid.children) (one as THREE.GridHelper).dispose();
    this.grid.clear();
    this.step = step;
    for (const [axes, lines, beside] of [
      ["#0B6B70", "#26333B", 0],
      ["#FBFAF4", "#E9E4D6", 0.008 * step],
    ] as const) {
      const one = new THREE.GridHelper(SQUARES * step, SQUARES, axes, lines);
      one.position.set(beside, 0.002 * step, beside);
      Object.assign(one.material, { transparent: true, opacity: 0.5, fog: false });
      this.grid.add(one);
    }
  }
}

/** The nearest of 1, 2, 5 times a power of ten. */
function sensible(metres: number): number {
  const power = 10 ** Math.floor(Math.log10(Math.max(metres, 1e-4)));
  const share = metres / power;
  return Number(((share < 1.5 ? 1 : share < 3.5 ? 2 : share < 7.5 ? 5 : 10) * power).toPrecision(1));
}

/** Someone who stands on the ground, plainly. */
function person(): THREE.Group {
  const made = new THREE.Group();
  const material = new THREE.MeshStandardMaterial({ color: "#8CA0A3", roughness: 0.9 });
  const add = (geometry: THREE.BufferGeometry, x: number, y: number) => {
    const mesh = new THREE.Mesh(geometry, material);
    mesh.position.set(x, y, 0);
    made.add(mesh);
  };
  add(new THREE.SphereGeometry(0.115, 24, 16), 0, TALL - 0.115);
  add(new THREE.CapsuleGeometry(0.15, 0.36, 8, 20), 0, 1.13);
  for (const side of [-1, 1]) {
    add(new THREE.CapsuleGeometry(0.07, 0.7, 6, 14), side * 0.085, 0.42);
    add(new THREE.CapsuleGeometry(0.048, 0.5, 6, 14), side * 0.215, 1.1);
  }
  return made;
}

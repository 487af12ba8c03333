import * as THREE from "three";
import type { DrawItem, Manifest, ResolvedLook } from "../api/frames";
import { pictures } from "../api/pictures";
import { cubeMatrix, pickCopy, ratioOf, standing, standingDepth } from "./copies";
import { bounded, copiesOf, geometryKey, geometryOf } from "./geometry";
import { Kept } from "./kept";
import { Lights } from "./lights";
import {
  BRINGS_NOTHING,
  type Brought,
  darkMaterial,
  depthMaterial,
  glowMaterial,
  type Laid,
  plainMaterial,
  standardMaterial,
} from "./materials";
import { panorama } from "./panorama";
import { pictureTexture } from "./pictures";
import { heatMaterial, meshReadingMaterial, splitFaces } from "./readings";
import { environmentOf, farSky, hazeOf, paintSky, type SkyLook } from "./sky";

/** How a frame is read. copies: the share of them that is drawn. */
export type ContentOptions = {
  reading: "picture" | "heat" | "mesh";
  subject: string | null;
  level: number;
  band: number;
  copies: number;
};

export const AS_A_PICTURE: ContentOptions = { reading: "picture", subject: null, level: 0, band: 0, copies: 1 };

/** What is under the pointer. Of copies, the place is the middle of one, in the level space of their subject. */
export type Picked = { item: string; place: [number, number, number]; part: string };

/** What is seen of one frame: shapes, light and surroundings. Any viewport can draw it; it knows no canvas and no camera. */
export class Content {
  readonly scene = new THREE.Scene();
  readonly shapes = new THREE.Group();
  /** Whether anything in it gives off light. */
  shines = false;
  private readonly lights = new Lights();
  private readonly geometries = new Kept<THREE.BufferGeometry>();
  private readonly materials = new Kept<THREE.Material>();
  private readonly textures = new Kept<THREE.Texture>();
  private options = AS_A_PICTURE;
  private readonly sky = farSky();
  private readonly haze = new THREE.Fog(hazeOf("day"), 30, 130);
  private surrounding: SkyLook = "";

  /** came: is called when something has come that the frame that was shown last lacks. */
  constructor(
    private readonly renderer: THREE.WebGLRenderer,
    private readonly came: () => void,
  ) {
    this.scene.add(this.shapes, this.lights.group, this.sky);
    this.scene.fog = this.haze;
  }

  dispose(): void {
    this.lights.dispose();
    for (const kept of [this.geometries, this.materials, this.textures]) {
      kept.dropUnused();
      kept.dropUnused();
    }
  }

  /** Show a frame, in place of the one before. */
  show(manifest: Manifest, options: ContentOptions): void {
    this.options = options;
    this.shapes.clear();
    this.shines = false;
    for (const item of manifest.items) this.add(item);
    this.geometries.dropUnused();
    this.materials.dropUnused();
    this.textures.dropUnused();
    this.light(manifest);
  }

  /** The box about an item as it is shown, else where it stands. */
  boxOf(item: string, manifest: Manifest): THREE.Box3 | null {
    const box = new THREE.Box3();
    for (const mesh of this.shapes.children) {
      if (mesh.userData.item !== item || mesh.userData.copies) continue;
      const { geometry, matrix } = mesh as THREE.Mesh;
      if (!geometry.boundingBox) geometry.computeBoundingBox();
      box.union(geometry.boundingBox!.clone().applyMatrix4(matrix));
    }
    if (!box.isEmpty()) return box;
    const placed = manifest.placements[item];
    return placed ? box.expandByPoint(new THREE.Vector3(placed[12], placed[13], placed[14])) : null;
  }

  /** The first place that a ray meets: of which part of which shape, and where in its space. */
  pick(ray: THREE.Raycaster): Picked | null {
    const [hit] = this.hits(ray);
    const copy = this.pickCopy(ray.ray, hit?.distance ?? Number.POSITIVE_INFINITY);
    if (copy) return copy.picked;
    return hit ? pickedOf(hit) : null;
  }

  /** The place of the world where a ray first meets something. */
  placeAlong(ray: THREE.Raycaster): THREE.Vector3 | null {
    const [hit] = this.hits(ray);
    const copy = this.pickCopy(ray.ray, hit?.distance ?? Number.POSITIVE_INFINITY);
    const distance = copy?.distance ?? hit?.distance;
    return distance === undefined ? null : ray.ray.at(distance, new THREE.Vector3());
  }

  /** The first place where a ray meets the body of a shape. */
  pickBody(ray: THREE.Raycaster, item: string): Picked | null {
    const met = this.hits(ray).find(({ object: { userData } }) => userData.item === item && userData.part === "body");
    return met ? pickedOf(met) : null;
  }

  /** The items that a ray meets, the nearest first. */
  itemsAlong(ray: THREE.Raycaster): string[] {
    const met = this.hits(ray).map(({ distance, object }) => ({ distance, item: String(object.userData.item) }));
    const copy = this.pickCopy(ray.ray, Number.POSITIVE_INFINITY);
    if (copy) met.push({ distance: copy.distance, item: copy.picked.item });
    return [...new Set(met.sort((one, other) => one.distance - other.distance).map(({ item }) => item))];
  }

  private hits(ray: THREE.Raycaster) {
    const plain = this.shapes.children.filter((child) => !child.userData.copies);
    return ray.intersectObjects(plain, false);
  }

  /** The nearest copy that a ray meets before so many metres. */
  private pickCopy(ray: THREE.Ray, before: number): { picked: Picked; distance: number } | null {
    let best: Picked | null = null;
    let nearest = before;
    for (const child of this.shapes.children) {
      const { copies, own, item, part } = child.userData;
      if (!copies || !(child instanceof THREE.Mesh)) continue;
      const inCube = ray.clone().applyMatrix4(child.matrix.clone().invert());
      const found = pickCopy(child.geometry as THREE.InstancedBufferGeometry, copies, inCube);
      const world = found?.at.clone().applyMatrix4(child.matrix);
      if (!world || world.distanceTo(ray.origin) >= nearest) continue;
      nearest = world.distanceTo(ray.origin);
      const local = world.applyMatrix4((own as THREE.Matrix4).clone().invert());
      best = { item: String(item), place: [local.x, local.y, local.z], part: String(part) };
    }
    return best && { picked: best, distance: nearest };
  }

  private add(item: DrawItem): void {
    const { reading, subject, level, band } = this.options;
    const plain = reading !== "picture";
    const read = plain && item.item === subject;
    if (read && reading === "mesh" && !item.copies) {
      const split = this.geometries.get(`${geometryKey(item)} split`, () => bounded(splitFaces(geometryOf(item))));
      const against = item.arrays.heat ? band : 0;
      this.place(
        item,
        split,
        this.materials.get(`mesh ${against}`, () => meshReadingMaterial(against)),
      );
      return;
    }
    const geometry = this.geometries.get(geometryKey(item), () =>
      item.copies ? copiesOf(item) : bounded(geometryOf(item)),
    );
    if (read && item.arrays.heat) {
      this.place(
        item,
        geometry,
        this.dressed(item, `heat ${level} ${band}`, () => heatMaterial(level, band)),
      );
      return;
    }
    const sides = item.backs === "shown" || (plain && item.backs !== "hidden") ? THREE.DoubleSide : THREE.FrontSide;
    if (plain) {
      const made = this.dressed(item, `plain ${sides}`, () => plainMaterial(sides));
      this.place(item, geometry, made);
      return;
    }
    const brought: Brought = {
      tinted: item.arrays.tint !== undefined,
      opacityOnly: false,
      fading: item.fading,
      opaqueOnly: false,
      cut: item.cut,
      emission: item.arrays.emission !== undefined,
      surfaced: item.surfaced,
      picture: this.laid(item),
    };
    if (item.fading) {
      const opaque = { ...brought, fading: false, opaqueOnly: true };
      const whole = this.place(item, geometry, this.material(item, item.look, opaque, sides));
      whole.castShadow = false;
      whole.userData.veil = true;
      const depth = this.place(
        item,
        geometry,
        this.dressed(item, `depth ${sides}`, () => depthMaterial(sides)),
      );
      depth.renderOrder = -1;
      depth.userData.veil = true;
    }
    if (typeof item.backs === "object") {
      const behind = { ...BRINGS_NOTHING, fading: item.fading, cut: item.cut, opacityOnly: item.fading || item.cut };
      this.place(item, geometry, this.material(item, item.backs, behind, THREE.BackSide));
    }
    const front = this.place(item, geometry, this.material(item, item.look, brought, sides));
    if (brought.emission || item.look.emission > 0) {
      const { look, cut } = item;
      const key = `glow ${look.emission_colour} ${look.emission} ${brought.emission} ${cut}`;
      front.userData.glow = this.dressed(item, key, () => glowMaterial(look, brought.emission, cut));
      this.shines = true;
    }
  }

  /** The same look is the same material from frame to frame, so that its program is compiled once. */
  private material(item: DrawItem, look: ResolvedLook, brought: Brought, side: THREE.Side): THREE.Material {
    const { picture, ...others } = brought;
    // Copies are drawn in a cube of their places, that stands for one metre.
    const thickness = item.thickness * (item.copies ? item.copies.largest / item.copies.span : 1);
    const key = JSON.stringify([look, others, picture?.map.uuid, picture?.pictured, side, thickness]);
    return this.dressed(item, key, () => standardMaterial(look, brought, side, thickness));
  }

  /** The picture that an item shows. */
  private laid(item: DrawItem): Laid | null {
    const { picture, pictured } = item.arrays;
    const image = picture && pictures.get(picture.hash);
    if (!image || !picture || !item.picture) return null;
    const { wrap, alpha } = item.picture;
    const map = this.textures.get(`${picture.hash} ${wrap}`, () => pictureTexture(image, wrap));
    return { map, alpha, pictured: pictured !== undefined };
  }

  /** A material by its key; for copies, one that stands each of them up. */
  private dressed(item: DrawItem, key: string, make: () => THREE.Material): THREE.Material {
    if (!item.copies) return this.materials.get(key, make);
    const ratio = ratioOf(item.copies);
    return this.materials.get(`${key} copies ${ratio}`, () => standing(make(), ratio));
  }

  private place(item: DrawItem, geometry: THREE.BufferGeometry, material: THREE.Material): THREE.Mesh {
    const mesh = new THREE.Mesh(geometry, material);
    mesh.matrixAutoUpdate = false;
    mesh.matrix.fromArray(item.matrix);
    mesh.userData.item = item.item;
    mesh.userData.part = item.part;
    if (item.copies) {
      const ratio = ratioOf(item.copies);
      mesh.matrix.copy(cubeMatrix(item, item.copies));
      mesh.userData.copies = item.copies;
      mesh.userData.own = new THREE.Matrix4().fromArray(item.matrix);
      mesh.customDepthMaterial = this.materials.get(`shadow ${ratio}`, () => standingDepth(ratio));
      mesh.userData.dark = this.dressed(item, "dark", darkMaterial);
      (geometry as THREE.InstancedBufferGeometry).instanceCount = Math.ceil(item.copies.count * this.options.copies);
    }
    mesh.castShadow = (mesh.geometry.boundingSphere?.radius ?? 0) < 50;
    mesh.receiveShadow = true;
    this.shapes.add(mesh);
    return mesh;
  }

  private light(manifest: Manifest): void {
    const { environment } = manifest;
    const pictured = environment.asset === null ? null : panorama(environment.asset, this.came);
    const look = pictured ?? environment.kind;
    this.surround(environment.kind, look);
    const turn = (environment.turn * Math.PI) / 180;
    this.sky.rotation.y = turn;
    paintSky(this.sky, environment.seen ? look : new THREE.Color(environment.behind));
    this.scene.environmentRotation.y = turn;
    this.scene.environmentIntensity = environment.strength;
    this.lights.show(manifest, this.shadowReach());
  }

  private surround(kind: string, look: SkyLook): void {
    if (look === this.surrounding) return;
    this.surrounding = look;
    this.haze.color.set(hazeOf(kind));
    this.scene.environment?.dispose();
    this.scene.environment = environmentOf(this.renderer, look);
  }

  /** How far from the middle shadows are seen: as far as anything stands that is not a sheet of ground. */
  private shadowReach(): number {
    let reach = 2;
    for (const mesh of this.shapes.children) {
      if (!(mesh instanceof THREE.Mesh) || !mesh.castShadow) continue;
      const geometry = mesh.geometry as THREE.BufferGeometry;
      const sphere = geometry.boundingSphere!.clone().applyMatrix4(mesh.matrix);
      if (sphere.radius > 8 && isFlat(geometry)) continue;
      reach = Math.max(reach, sphere.center.length() + sphere.radius);
    }
    return Math.min(reach, 60);
  }
}

function isFlat(geometry: THREE.BufferGeometry): boolean {
  if (!geometry.boundingBox) geometry.computeBoundingBox();
  const size = geometry.boundingBox!.getSize(new THREE.Vector3());
  return Math.min(size.x, size.y, size.z) < 1e-3 * Math.max(size.x, size.y, size.z);
}

function pickedOf({ object, point }: THREE.Intersection): Picked {
  const local = object.worldToLocal(point.clone());
  return { item: String(object.userData.item), place: [local.x, local.y, local.z], part: String(object.userData.part) };
}

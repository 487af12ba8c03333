import type { Operation } from "../document/types";
import { blocks } from "./blocks";
import { fetchedBytes } from "./client";
import { pictures } from "./pictures";

/** One array of a mesh, by the hash of its block. */
export type ArrayRef = {
  hash: string;
  type: "float32" | "int16" | "uint16" | "uint32" | "uint8";
  components: number;
  count: number;
};

export type ResolvedLook = {
  base_colour: string;
  roughness: number;
  metallic: number;
  emission_colour: string;
  emission: number;
  transmission: number;
  opacity: number;
};

/** Copies of a model: how many, and the cube and the size that their places and sizes are fractions of. */
export type CopiesTold = {
  count: number;
  low: [number, number, number];
  span: number;
  largest: number;
  radius: number;
};

export type Wrap = "repeat" | "mirror" | "clamp";

export type DrawItem = {
  item: string;
  part: string;
  matrix: number[];
  look: ResolvedLook;
  backs: "shown" | "hidden" | ResolvedLook;
  tinted: boolean;
  fading: boolean;
  /** Whether an opacity below 1/2 means that nothing is there. */
  cut: boolean;
  /** Which of roughness, metallic and transmission the points have their own of. */
  surfaced: string[];
  arrays: {
    points: ArrayRef;
    normals: ArrayRef;
    faces: ArrayRef;
    tint?: ArrayRef;
    emission?: ArrayRef;
    surface?: ArrayRef;
    heat?: ArrayRef;
    place?: ArrayRef;
    turn?: ArrayRef;
    size?: ArrayRef;
    picture?: ArrayRef;
    uv?: ArrayRef;
    /** How far the picture shows at each point; in full without. */
    pictured?: ArrayRef;
  };
  /** The picture laid on by u,v: what is seen beyond its edge along u and v, and what its opacity does. */
  picture: {
    kind: string;
    wrap: [Wrap, Wrap];
    alpha: "none" | "cut" | "blend";
  } | null;
  /** Where the mesh is a model of copies; then what points bring along is for each copy. */
  copies: CopiesTold | null;
};

export type Reading = {
  field: string;
  coverage: { inside: number; band: number; outside: number };
  histogram: number[];
  /** The mean width of the band in values. */
  band: number;
};

export type StepReport = {
  item: string;
  step: string;
  faces_in: number;
  faces_out: number;
  milliseconds: number;
  reused: boolean;
  reading: Reading | null;
  /** In words, what is there beside faces. */
  made: string;
};

/** What a node of the plan cost when it was made last, how often it was found ready since, and the bytes it holds. */
export type Cost = {
  node: string;
  kind: "immediate" | "solved" | "marched";
  milliseconds: number;
  made: number;
  hits: number;
  bytes: number;
};

/** Where a source alone has its field's level, in the space of its controller. */
export type Outline =
  | { kind: "ball"; radius: number }
  | { kind: "plane"; axis: "x" | "y" | "z"; distance: number }
  | { kind: "box"; half: (number | null)[]; margin: number };

export type Manifest = {
  frame: number;
  seconds: number;
  items: DrawItem[];
  placements: Record<string, number[]>;
  values: Record<string, number | [number, number, number]>;
  /** Places along each path in the world, three numbers each. */
  courses: Record<string, number[]>;
  reaches: { field: string; source: string; controller: string; outline: Outline }[];
  lights: { item: string; colour: string; strength: number }[];
  cameras: Record<string, { angle: number }>;
  environment: { kind: string; strength: number };
  shapes: {
    item: string;
    faces: number;
    points: number;
    median_edge: number;
    milliseconds: number;
    attributes: string[];
  }[];
  steps: StepReport[];
  costs: Cost[];
  sent: [string, number][];
};

export type FrameWish = {
  revision: number;
  patch: Operation[];
  frame: number;
  heat: { field: string; item: string } | null;
  view: string;
  wish: number;
  ahead: boolean;
};

/** One round trip: asks for a frame, saying which blocks are held, and keeps those that come. */
export async function fetchFrame(shotId: string, wish: FrameWish, signal?: AbortSignal): Promise<Manifest> {
  const held = await blocks.hashes();
  const bundle = await fetchedBytes(`/api/shots/${shotId}/frame`, { ...wish, held }, signal);
  const length = new DataView(bundle).getUint32(0, true);
  const manifest = JSON.parse(new TextDecoder().decode(new Uint8Array(bundle, 4, length))) as Manifest;
  let place = 4 + length;
  for (const [hash, bytes] of manifest.sent) {
    blocks.put(hash, bundle.slice(place, place + bytes));
    place += bytes;
  }
  await blocks.bring(manifest.items.flatMap((item) => Object.values(item.arrays).map((array) => array.hash)));
  await pictures.bring(manifest.items);
  return manifest;
}

/** Whether all blocks and pictures of a frame are still held. */
export function isWhole(manifest: Manifest): boolean {
  return manifest.items.every(
    ({ arrays }) =>
      Object.values(arrays).every((array) => blocks.get(array.hash) !== undefined) &&
      (!arrays.picture || pictures.get(arrays.picture.hash) !== undefined),
  );
}

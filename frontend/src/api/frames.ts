import type { Operation } from "../document/types";
import { blocks } from "./blocks";
import { fetchedBytes } from "./client";
import { pictures } from "./pictures";
import type { components } from "./schema";

type Schemas = components["schemas"];

export type Manifest = Schemas["FrameManifest"];
export type DrawItem = Schemas["DrawnItem"];
export type ArrayRef = Schemas["ArrayRef"];
export type ResolvedLook = Schemas["ResolvedLook"];
export type DrawnCopies = Schemas["DrawnCopies"];
export type Reading = Schemas["FieldReading"];
export type Cost = Schemas["NodeCost"];
export type Outline = Manifest["reaches"][number]["outline"];
export type StepRegion = Manifest["regions"][number];
export type Wrap = NonNullable<DrawItem["picture"]>["wrap"][number];

export type FrameWish = {
  revision: number;
  patch: Operation[];
  frame: number;
  heat: { field: string; item: string } | null;
  /** The shapes of which is told what drives their steps. */
  looked_at: string[];
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
  await blocks.use(manifest.items.flatMap((item) => Object.values(item.arrays).map((array) => array.hash)));
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

/** Whether a frame tells what drives the steps of a shape. */
export function isReadIn(manifest: Manifest, shape: string): boolean {
  return manifest.looked_at === null || manifest.looked_at.includes(shape);
}

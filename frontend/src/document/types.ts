import type { components } from "../api/schema";

type Schemas = components["schemas"];

export type Shot = Schemas["Shot"];
export type ShotState = Schemas["ShotState"];
export type Relations = Schemas["Relations"];
export type Item = Shot["items"][string];
export type Shape = Extract<Item, { kind: "shape" }>;
export type Controller = Extract<Item, { kind: "controller" }>;
export type Path = Extract<Item, { kind: "path" }>;
export type Light = Extract<Item, { kind: "light" }>;
export type Camera = Extract<Item, { kind: "camera" }>;
export type Geometry = Shape["geometry"];
export type Look = Schemas["Look"];
export type Ramp = Schemas["Ramp"];
export type Field = Schemas["Field"];
export type Source = Field["sources"][string];
export type Group = Shot["groups"][string];
export type Step = Shape["recipe"]["steps"][string];
export type PictureLayer = Shot["layers"][string];
export type Finish = Shot["finishing"][string];
export type Word = Source["word"];
export type NumberParameter = number | Schemas["KeyedNumber"];
export type VectorParameter = [number, number, number] | Schemas["KeyedVector"];
export type Easing = Schemas["NumberKey"]["easing"];
/** One change of a document; a removal has no value. */
export type Operation = { op: "add" | "replace" | "remove"; path: string; value?: unknown };
export type Patch = Operation[];
export type Json = unknown;

/** Things in an id-keyed collection, by rank, ties by id. */
export function inOrder<Thing extends { rank: number }>(collection: Record<string, Thing>): [string, Thing][] {
  return Object.entries(collection).sort(([a, one], [b, other]) => one.rank - other.rank || (a < b ? -1 : 1));
}

/** A new id in a collection, made from a word: `fog`, `fog-2`, … */
export function newId(collection: Record<string, unknown>, word: string): string {
  const stem =
    word
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, "-")
      .replace(/^-+|-+$/g, "")
      .slice(0, 24) || "thing";
  for (let number = 1; ; number++) {
    const id = number === 1 ? stem : `${stem}-${number}`;
    if (!(id in collection)) return id;
  }
}

import { newGeometry, newSource, newStep } from "./defaults";
import { isKeyed } from "./parameter";
import type {
  Camera,
  Controller,
  Field,
  Geometry,
  Item,
  Light,
  Look,
  NumberParameter,
  Patch,
  Path,
  Shape,
  Shot,
  Step,
} from "./types";
import { fieldsOf, inOrder, lastRank, newId } from "./types";

export const PLAIN_LOOK: Look = {
  base_colour: "#C9C4B8",
  roughness: 0.7,
  metallic: 0,
  emission_colour: "#FFB070",
  emission: 0,
  transmission: 0,
  opacity: 1,
  backs: "shown",
};

const STANDING = {
  parent: null,
  aim: null,
  mark: null,
  place: [0, 0, 0] as [number, number, number],
  turn: [0, 0, 0] as [number, number, number],
};
const UNSTRETCHED = {
  pivot: [0, 0, 0] as [number, number, number],
  scale: [1, 1, 1] as [number, number, number],
};

export const GEOMETRIES: Record<"Text" | "Sphere" | "Box" | "Sheet" | "Ring" | "Tube" | "Revolve", Geometry> = {
  Text: newGeometry("text", { words: "Text" }),
  Sphere: { kind: "sphere", radius: 1, build: "icosahedron", subdivisions: 5, segments: 64, rings: 32 },
  Box: { kind: "box", width: 1, height: 1, depth: 1, divisions: 24 },
  Sheet: { kind: "plane", width: 4, depth: 4, columns: 40, rows: 40 },
  Ring: { kind: "ring", radius: 0.8, thickness: 0.4, segments: 96, sides: 32 },
  Tube: { kind: "tube", radius: 0.5, wall: 0.1, height: 1.5, segments: 96, rows: 40, rim_rows: 4 },
  Revolve: {
    kind: "revolve",
    segments: 96,
    ring_height: 0.05,
    girth: 1,
    profile: {
      p1: { rank: 0, radius: 0.5, height: 0, joint: "corner", colour: null },
      p2: { rank: 1, radius: 0.7, height: 0.5, joint: "smooth", colour: null },
      p3: { rank: 2, radius: 0.3, height: 1.2, joint: "smooth", colour: null },
      p4: { rank: 3, radius: 0.45, height: 1.6, joint: "corner", colour: null },
    },
  },
};

/** Adds an item; answers with its id too. */
function added(shot: Shot, name: string, make: (rank: number, name: string) => Item): { id: string; patch: Patch } {
  const id = newId(shot.items, name);
  const number = /-(\d+)$/.exec(id)?.[1];
  const item = make(lastRank(shot.items), number ? `${name} ${number}` : name);
  return { id, patch: [{ op: "add", path: `/items/${id}`, value: item }] };
}

export function addShape(shot: Shot, name: string, geometry: Geometry, place: [number, number, number]) {
  return added(shot, name, (rank, told): Shape => {
    const recipe = { parts: { body: { name: "Body", rank: 0 } }, steps: {}, overall: null, retime: null };
    return {
      kind: "shape",
      name: told,
      rank,
      shown: 1,
      ...STANDING,
      ...UNSTRETCHED,
      place,
      geometry,
      fineness: { times: 0, way: "flat" },
      look: PLAIN_LOOK,
      recipe,
    };
  });
}

export function addController(shot: Shot, place: [number, number, number]) {
  return added(
    shot,
    "Controller",
    (rank, name): Controller => ({ kind: "controller", name, rank, ...STANDING, ...UNSTRETCHED, place }),
  );
}

type Corner = [number, number, number];
export type CoursePoint = { place: Corner; joint: "corner" | "smooth"; before: Corner | null; after: Corner | null };

const FIRST_PATH: CoursePoint[] = (
  [
    [-1.5, 0.5, 0],
    [-0.5, 1.5, 0],
    [0.5, 0.5, 0],
    [1.5, 1.5, 0],
  ] as Corner[]
).map((place) => ({ place, joint: "smooth", before: null, after: null }));

/** A path through points; four of them in a wave where none are given. */
export function addPath(shot: Shot, name = "Path", points = FIRST_PATH, closed = false) {
  const listed = points.slice(0, 400).map((point, rank) => [`p${rank + 1}`, { rank, ...point }] as const);
  return added(
    shot,
    name,
    (rank, told): Path => ({
      kind: "path",
      name: told,
      rank,
      ...STANDING,
      ...UNSTRETCHED,
      points: Object.fromEntries(listed),
      closed,
    }),
  );
}

/** A sweep along a path of the shot, carried by it; without a path, along a new one. */
export function addSweep(shot: Shot, path: string | null): { id: string; patch: Patch } {
  const made = path ? { id: path, patch: [] as Patch } : addPath(shot);
  const wanted = addShape(shot, "Sweep", newGeometry("sweep", { path: made.id }), [0, 0, 0]);
  const [operation] = wanted.patch;
  if (operation) Object.assign(operation.value as Shape, { parent: made.id, rank: lastRank(shot.items) + 0.5 });
  return { id: wanted.id, patch: [...made.patch, ...wanted.patch] };
}

export function addLight(shot: Shot) {
  const stands = { place: [4, 6, 4], turn: [-45, 40, 0] } as const;
  return added(
    shot,
    "Key light",
    (rank, name): Light => ({
      kind: "light",
      name,
      rank,
      parent: null,
      aim: null,
      mark: null,
      place: [...stands.place],
      turn: [...stands.turn],
      colour: "#FFF1DC",
      strength: 3,
    }),
  );
}

export function addCamera(shot: Shot) {
  const made = added(
    shot,
    "Camera",
    (rank, name): Camera => ({ kind: "camera", name, rank, ...STANDING, place: [0, 1.6, 7], angle: 35 }),
  );
  if (shot.camera === null || shot.camera === undefined)
    made.patch.push({ op: "replace", path: "/camera", value: made.id });
  return made;
}

/** A copy of an item beside it, with its recipe; fields and controllers stay shared. */
export function copyItem(shot: Shot, id: string, apart: number): { id: string; patch: Patch } {
  const item = shot.items[id];
  if (!item) return { id, patch: [] };
  return added(shot, `${item.name} copy`.slice(0, 76), (rank, name) => ({
    ...structuredClone(item),
    name,
    rank,
    place: besidePlace(item.place, apart),
  }));
}

function besidePlace(place: Item["place"], apart: number): Item["place"] {
  const beside = ([x, y, z]: [number, number, number]): [number, number, number] => [x + apart, y, z];
  if (!isKeyed(place)) return beside(place as [number, number, number]);
  const keys = Object.entries(place.keys).map(([key, told]) => [key, { ...told, value: beside(told.value) }]);
  return { keys: Object.fromEntries(keys) };
}

/** Shows or hides a shape at all frames, or from a frame on until the next key. */
export function showShape(shot: Shot, id: string, shown: boolean, from: number | null): Patch {
  const item = shot.items[id];
  if (item?.kind !== "shape") return [];
  const path = `/items/${id}/shown`;
  const value = shown ? 1 : 0;
  if (from === null) return [{ op: "replace", path, value }];
  const key = { frame: from, value, easing: { kind: "hold" } };
  if (!isKeyed(item.shown)) {
    const first = { frame: Math.min(shot.frames.first, from - 1), value: item.shown, easing: { kind: "hold" } };
    return [{ op: "replace", path, value: { keys: { k1: first, k2: key } } }];
  }
  const there = Object.entries(item.shown.keys).find(([, one]) => Math.abs(one.frame - from) < 1e-6)?.[0];
  return [{ op: there ? "replace" : "add", path: `${path}/keys/${there ?? newId(item.shown.keys, "k")}`, value: key }];
}

/** The first letter that no field has. */
function freeLetter(shot: Shot): string {
  const taken = new Set(Object.values(shot.fields).map((field) => field.letter));
  for (let place = 0; ; place++) {
    const letter = place < 26 ? String.fromCharCode(65 + place) : `A${String.fromCharCode(65 + place - 26)}`;
    if (!taken.has(letter)) return letter;
  }
}

/** The fields that one may measure from: all but itself and those that measure from it. */
export function reachableFields(fields: Shot["fields"], id: string): string[] {
  const leadsBack = (from: string, seen: Set<string>): boolean => {
    if (from === id) return true;
    const field = fields[from];
    if (!field || seen.has(from)) return false;
    seen.add(from);
    return fieldsOf(field).some((other) => leadsBack(other, seen));
  };
  return inOrder(fields)
    .map(([key]) => key)
    .filter((key) => !leadsBack(key, new Set()));
}

/** A new field about the first controller of the shot, or 0 everywhere where there is none. */
export function newField(shot: Shot): { id: string; patch: Patch } {
  const controller = inOrder(shot.items).find(([, item]) => item.kind === "controller")?.[0];
  const id = newId(shot.fields, "field");
  const letter = freeLetter(shot);
  const value: Field = {
    letter,
    name: `Field ${letter}`,
    rank: lastRank(shot.fields),
    level: 0.5,
    band: 0.1,
    band_in: "values",
    memory: null,
    sources: controller ? { around: newSource("around", { rank: 0, controller }) } : {},
  };
  return { id, patch: [{ op: "add", path: `/fields/${id}`, value }] };
}

/**
 * Adds Cut away to a shape, driven by a field about a controller: one that no field uses yet, or a new one beside the
 * shape. Reach, softness and noise are laid out in the shape's own size.
 */
export function addCutAway(
  shot: Shot,
  shapeId: string,
  size: number,
  centre: [number, number, number],
): { patch: Patch; field: string } {
  const patch: Patch = [];
  const used = new Set(
    Object.values(shot.fields).flatMap((field) =>
      Object.values(field.sources).map((source) => ("controller" in source ? source.controller : "")),
    ),
  );
  let controller = inOrder(shot.items).find(([id, item]) => item.kind === "controller" && !used.has(id))?.[0];
  if (!controller) {
    const made = addController(shot, [centre[0] + size * 0.6, centre[1], centre[2]]);
    patch.push(...made.patch);
    controller = made.id;
  }
  const reach = round(size * 0.6);
  const field: Field = {
    letter: freeLetter(shot),
    name: "Front",
    rank: lastRank(shot.fields),
    level: 0.5,
    band: 0.1,
    band_in: "values",
    memory: null,
    sources: {
      around: newSource("around", { rank: 0, controller, reach, soft: round(reach * 0.6) }),
      noise: newSource("noise", { rank: 1, word: "roughened by", size: round(size * 0.15), octaves: 4, contrast: 50 }),
    },
  };
  const fieldId = newId(shot.fields, "front");
  patch.push({ op: "add", path: `/fields/${fieldId}`, value: field });
  patch.push(...addStep(shot, shapeId, (rank) => newStep("cut_away", { rank, field: fieldId })));
  return { patch, field: fieldId };
}

function addStep(shot: Shot, shapeId: string, make: (rank: number) => Step): Patch {
  const shape = shot.items[shapeId];
  if (shape?.kind !== "shape") return [];
  const step = make(lastRank(shape.recipe.steps));
  const id = newId(shape.recipe.steps, step.kind);
  return [{ op: "add", path: `/items/${shapeId}/recipe/steps/${id}`, value: step }];
}

/** Changes the rate; keys, range and opening frame keep their seconds. */
export function changeRate(shot: Shot, numerator: number, denominator: number): Patch {
  const factor = (numerator / denominator) * (shot.rate.denominator / shot.rate.numerator);
  return [
    { op: "replace", path: "/rate", value: { numerator, denominator } },
    { op: "replace", path: "/items", value: retimed(shot.items, factor) },
    { op: "replace", path: "/fields", value: retimed(shot.fields, factor) },
    {
      op: "replace",
      path: "/frames",
      value: { first: Math.round(shot.frames.first * factor), last: Math.round((shot.frames.last + 1) * factor) - 1 },
    },
    { op: "replace", path: "/opening_frame", value: Math.round(shot.opening_frame * factor) },
  ];
}

function retimed(thing: unknown, factor: number): unknown {
  if (Array.isArray(thing)) return thing;
  if (isKeyed(thing)) {
    const keys = Object.entries(thing.keys).map(([id, key]) => [id, { ...key, frame: key.frame * factor }]);
    return { keys: Object.fromEntries(keys) };
  }
  if (typeof thing !== "object" || thing === null) return thing;
  return Object.fromEntries(
    Object.entries(thing).map(([name, value]) => [
      name,
      name === "retime" ? scaled(retimed(value, factor), factor) : retimed(value, factor),
    ]),
  );
}

/** A retime whose frames are so many times as many: its values are frames too. */
function scaled(thing: unknown, factor: number): unknown {
  const retime = thing as { frame: NumberParameter } | null;
  if (!retime) return retime;
  if (!isKeyed(retime.frame)) return { frame: Number(retime.frame) * factor };
  const keys = Object.entries(retime.frame.keys).map(([id, key]) => [
    id,
    { ...key, value: Number(key.value) * factor },
  ]);
  return { frame: { keys: Object.fromEntries(keys) } };
}

function round(value: number): number {
  return Number(value.toPrecision(2));
}

/** A new group with one shape in it, or none. */
export function newGroup(shot: Shot, member: string | null): { id: string; patch: Patch } {
  const id = newId(shot.groups, "group");
  const number = Object.keys(shot.groups).length + 1;
  const members = member ? { [member]: { rank: 0 } } : {};
  const value = { name: `Group ${number}`, rank: lastRank(shot.groups), members };
  return { id, patch: [{ op: "add", path: `/groups/${id}`, value }] };
}

/** Takes an item into a group, or out of it. */
export function changeMember(shot: Shot, group: string, item: string): Patch {
  const path = `/groups/${group}/members/${item}`;
  const members = shot.groups[group]?.members ?? {};
  return item in members ? [{ op: "remove", path }] : [{ op: "add", path, value: { rank: lastRank(members) } }];
}

/** Exchanges the ranks of a thing and its neighbour, one place up or down. */
export function moveInOrder(
  collection: Record<string, { rank: number }>,
  pointer: string,
  id: string,
  by: 1 | -1,
): Patch {
  const order = inOrder(collection);
  const place = order.findIndex(([key]) => key === id);
  const [one, other] = [order[place], order[place + by]];
  if (!one || !other) return [];
  const ranks = [one[1].rank, other[1].rank === one[1].rank ? one[1].rank + by : other[1].rank] as const;
  return [
    { op: "replace", path: `${pointer}/${one[0]}/rank`, value: ranks[1] },
    { op: "replace", path: `${pointer}/${other[0]}/rank`, value: ranks[0] },
  ];
}

/** Lays a thing of a collection before or after another one. */
export function placedBeside(
  collection: Record<string, { rank: number }>,
  pointer: string,
  id: string,
  beside: string,
  after: boolean,
): Patch {
  const others = inOrder(collection).filter(([key]) => key !== id);
  const place = others.findIndex(([key]) => key === beside) + (after ? 1 : 0);
  const [before, next] = [others[place - 1]?.[1].rank, others[place]?.[1].rank];
  const was = inOrder(collection).findIndex(([key]) => key === id);
  if (was === place) return [];
  if (before !== undefined && next !== undefined && before === next) {
    const order = [...others.slice(0, place), [id] as const, ...others.slice(place)];
    return order.map(([key], rank) => ({ op: "replace", path: `${pointer}/${key}/rank`, value: rank }));
  }
  const rank = before === undefined ? (next ?? 0) - 1 : next === undefined ? before + 1 : (before + next) / 2;
  return [{ op: "replace", path: `${pointer}/${id}/rank`, value: rank }];
}

import { isKeyed } from "./parameter";
import type { Camera, Controller, Field, Geometry, Item, Light, Look, Patch, Shape, Shot, Source, Step } from "./types";
import { fieldsOf, inOrder, lastRank, newId } from "./types";

export const PLAIN_LOOK: Look = {
  base_colour: "#C9C4B8",
  roughness: 0.7,
  metallic: 0,
  emission_colour: "#FFB070",
  emission: 0,
  opacity: 1,
  backs: "shown",
};

const INSIDE_LOOK: Look = { ...PLAIN_LOOK, base_colour: "#5B4A42", roughness: 0.9 };

const STANDING = { place: [0, 0, 0] as [number, number, number], turn: [0, 0, 0] as [number, number, number] };
const UNSTRETCHED = { scale: [1, 1, 1] as [number, number, number] };

export const GEOMETRIES: Record<"Sphere" | "Box" | "Sheet" | "Revolve", Geometry> = {
  Sphere: { kind: "sphere", radius: 1, build: "icosahedron", subdivisions: 5, segments: 64, rings: 32 },
  Box: { kind: "box", width: 1, height: 1, depth: 1, divisions: 24 },
  Sheet: { kind: "plane", width: 4, depth: 4, columns: 40, rows: 40 },
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
    const recipe = { parts: { body: { name: "Body", rank: 0 } }, steps: {} };
    return { kind: "shape", name: told, rank, ...STANDING, ...UNSTRETCHED, place, geometry, look: PLAIN_LOOK, recipe };
  });
}

export function addController(shot: Shot, place: [number, number, number]) {
  return added(
    shot,
    "Controller",
    (rank, name): Controller => ({ kind: "controller", name, rank, ...STANDING, ...UNSTRETCHED, place }),
  );
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

/** What refers to an item: fields that measure from it, or the shot that looks through it. */
export function usersOf(shot: Shot, id: string): string[] {
  const users = inOrder(shot.fields)
    .filter(([, field]) =>
      Object.values(field.sources).some((source) => "controller" in source && source.controller === id),
    )
    .map(([, field]) => `field ${field.letter} ${field.name}`);
  return shot.camera === id ? [...users, "the shot, as its camera"] : users;
}

/** Removes an item, with the clauses that measure from it. */
export function removeItem(shot: Shot, id: string): Patch {
  const patch: Patch = [];
  for (const [fieldId, field] of Object.entries(shot.fields)) {
    for (const [sourceId, source] of Object.entries(field.sources)) {
      if ("controller" in source && source.controller === id)
        patch.push({ op: "remove", path: `/fields/${fieldId}/sources/${sourceId}` });
    }
  }
  if (shot.camera === id) {
    const other = Object.entries(shot.items).find(([key, item]) => item.kind === "camera" && key !== id)?.[0] ?? null;
    patch.push({ op: "replace", path: "/camera", value: other });
  }
  return [...patch, { op: "remove", path: `/items/${id}` }];
}

/** The first letter that no field has. */
function freeLetter(shot: Shot): string {
  const taken = new Set(Object.values(shot.fields).map((field) => field.letter));
  for (let place = 0; ; place++) {
    const letter = place < 26 ? String.fromCharCode(65 + place) : `A${String.fromCharCode(65 + place - 26)}`;
    if (!taken.has(letter)) return letter;
  }
}

const CLAUSE = { word: "or", amount: 1, inverted: false, curve: null } as const;

export function aroundClause(rank: number, controller: string, reach: number): Source {
  return { ...CLAUSE, kind: "around", rank, controller, reach, soft: reach * 0.6, fall: "straight" };
}

export function timeClause(rank: number): Source {
  const staggered = { stagger: "none", spread: 1, wait: 0.5, controller: null, seed: 1 } as const;
  return {
    ...CLAUSE,
    kind: "time",
    rank,
    word: rank > 0 ? "times" : "or",
    form: "ramp",
    start: 0.5,
    length: 1,
    every: 1,
    fall: "smooth",
    ...staggered,
  };
}

export function spreadClause(rank: number, seeds: string): Source {
  return { ...CLAUSE, kind: "spread", rank, seeds, speed: 1, soft: 0.2, pace: null };
}

export function anotherClause(rank: number, field: string): Source {
  return { ...CLAUSE, kind: "another", rank, field, zone: "value", lag: 0.4, full: 1 };
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
    memory: null,
    sources: controller ? { around: aroundClause(0, controller, 2) } : {},
  };
  return { id, patch: [{ op: "add", path: `/fields/${id}`, value }] };
}

/** Adds Follow through to a shape, at first with no field: all of it is loose. */
export function addFollowThrough(shot: Shot, shapeId: string): Patch {
  const settings = { zone: "value", amount: 1, swings: 1.5, damping: 0.25, settled: 1 } as const;
  return addStep(shot, shapeId, (rank) => ({
    kind: "follow_through",
    rank,
    on: true,
    part: "body",
    field: null,
    ...settings,
  }));
}

export function noiseClause(rank: number, size: number): Source {
  return {
    ...CLAUSE,
    kind: "noise",
    rank,
    word: rank > 0 ? "roughened by" : "or",
    size,
    octaves: 4,
    contrast: 50,
    space: "rest",
    seed: 1,
  };
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
    memory: null,
    sources: { around: aroundClause(0, controller, reach), noise: noiseClause(1, round(size * 0.15)) },
  };
  const fieldId = newId(shot.fields, "front");
  patch.push({ op: "add", path: `/fields/${fieldId}`, value: field });
  patch.push(
    ...addStep(shot, shapeId, (rank) => ({
      kind: "cut_away",
      rank,
      on: true,
      part: "body",
      field: fieldId,
      zone: "inside",
      edge: "exact",
      amount: 1,
      backs: "second look",
      back_look: INSIDE_LOOK,
    })),
  );
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
  return Object.fromEntries(Object.entries(thing).map(([name, value]) => [name, retimed(value, factor)]));
}

function round(value: number): number {
  return Number(value.toPrecision(2));
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

import { isKeyed } from "./parameter";
import { rulingFields } from "./steps";
import { type Field, fieldsOf, type Item, inOrder, type Shape, type Shot, type Source } from "./types";

/** The items that a clause measures from, those of its group included. */
function itemsOf(shot: Shot, source: Source): string[] {
  if (source.kind === "near") return Object.keys(shot.groups[source.group]?.members ?? {});
  return "controller" in source && source.controller ? [source.controller] : [];
}

/** The fields that the steps of a shape listen to, the overall one included. */
export function listenedBy(shape: Shape): string[] {
  const steps = Object.values(shape.recipe.steps).filter((step) => step.on);
  const overall = steps.length > 0 && shape.recipe.overall ? [shape.recipe.overall] : [];
  return [...overall, ...steps.flatMap((step) => [...(step.field ? [step.field] : []), ...rulingFields(step)])];
}

/** Whether a field drives a step, or another field measures from it. */
export function drives(shot: Shot, field: string): boolean {
  return (
    Object.values(shot.items).some((item) => item.kind === "shape" && listenedBy(item).includes(field)) ||
    Object.values(shot.fields).some((other) => fieldsOf(other).includes(field))
  );
}

/** The shape on which a field's strip is measured: the chosen one if it listens, else the first that does. */
export function listenerOf(shot: Shot, field: string, chosen: string | null): string | null {
  const shapes = inOrder(shot.items).filter(([, item]) => item.kind === "shape");
  const reaches = (from: string): boolean =>
    from === field || fieldsOf(shot.fields[from] as Field).some((other) => reaches(other));
  const listens = shapes.filter(([, item]) => item.kind === "shape" && listenedBy(item).some(reaches));
  const pool = listens.length > 0 ? listens : shapes;
  return (pool.find(([id]) => id === chosen) ?? pool[0])?.[0] ?? null;
}

/** The frames of all keys that move a field: its own, its sources', and those of the controllers it measures from. */
export function keyFrames(shot: Shot, field: Field): number[] {
  const frames = new Set<number>();
  const collect = (thing: unknown): void => {
    if (isKeyed(thing)) for (const key of Object.values(thing.keys)) frames.add(key.frame);
    else if (typeof thing === "object" && thing !== null) for (const value of Object.values(thing)) collect(value);
  };
  const gather = (one: Field | undefined): void => {
    if (!one) return;
    collect(one);
    for (const source of Object.values(one.sources))
      for (const item of itemsOf(shot, source)) collect(stand(shot, item));
    for (const other of fieldsOf(one)) gather(shot.fields[other]);
  };
  gather(field);
  return Array.from(frames).sort((one, other) => one - other);
}

/** Where an item stands and how it is made; not what its recipe does. */
function stand(shot: Shot, id: string): unknown {
  const item = shot.items[id];
  return item?.kind === "shape" ? [item.place, item.turn, item.scale, item.geometry] : item;
}

/** The items that may carry one: all but itself and those that it carries, or that aim at it. */
export function carriersFor(items: Shot["items"], id: string): [string, Item][] {
  const leansOnIt = (from: string | null | undefined): boolean =>
    from === id || (from ? leansOnIt(items[from]?.parent) || leansOnIt(items[from]?.aim) : false);
  return inOrder(items).filter(([key]) => !leansOnIt(key));
}

/** The items that one may aim at: as for carriers, since neither may depend on the other. */
export const targetsFor = carriersFor;

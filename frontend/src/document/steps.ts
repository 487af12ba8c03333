import { newStep } from "./defaults";
import { inOrder, lastRank, newId, type Patch, type Shape, type Shot, type Step } from "./types";

/** What the part that a step adds is called at first. */
const MAKES: Partial<Record<Step["kind"], { word: string; name: string }>> = {
  scatter: { word: "copies", name: "Copies" },
  shed: { word: "embers", name: "Embers" },
};
/** Steps that one adds for what was made last, copies most of all. */
const MOVING: Step["kind"][] = ["shift", "jumble", "release"];

/** The part that a step adds, null where it changes the one it takes. */
export function madeBy(step: Step): string | null {
  if (step.kind === "scatter" || step.kind === "shed") return step.makes ?? null;
  return step.kind === "wire" ? (step.makes ?? null) : null;
}

/** The parts that are there before a step, in the order in which they come. */
export function partsBefore(shape: Shape, id: string | null): string[] {
  const parts = ["body"];
  for (const [key, step] of inOrder(shape.recipe.steps)) {
    if (key === id) break;
    const made = madeBy(step);
    if (made && !parts.includes(made)) parts.push(made);
  }
  return parts;
}

/** Adds a step of a kind to a shape, in the shape's own size; it takes the part that such a step is most likely for. */
export function addStepFor(shot: Shot, shapeId: string, kind: Step["kind"], size: number): Patch {
  const shape = shot.items[shapeId];
  if (shape?.kind !== "shape") return [];
  const { steps, parts } = shape.recipe;
  const id = newId(steps, kind);
  const rank = lastRank(steps);
  const part = MOVING.includes(kind) ? (partsBefore(shape, null).at(-1) ?? "body") : "body";
  const patch: Patch = [];
  const makes = MAKES[kind];
  let given: Record<string, unknown> = {};
  if (makes) {
    const made = newId(parts ?? {}, makes.word);
    patch.push({
      op: "add",
      path: `/items/${shapeId}/recipe/parts/${made}`,
      value: {
        name: made === makes.word ? makes.name : `${makes.name} ${made.split("-").at(-1)}`,
        rank: lastRank(parts ?? {}),
      },
    });
    given = { makes: made };
  }
  const step = { ...newStep(kind, { rank }), part, ...sized(kind, size), ...given };
  return [...patch, { op: "add", path: `/items/${shapeId}/recipe/steps/${id}`, value: step }];
}

/** Settings in metres that fit a shape that is so large. */
function sized(kind: Step["kind"], size: number): Record<string, unknown> {
  const of = (share: number) => Number((size * share).toPrecision(1));
  if (kind === "scatter") return { size: of(0.04), spacing: of(0.03) };
  if (kind === "shed") return { size: of(0.012), rate: Number((80 / Math.max(size, 0.01)).toPrecision(1)) };
  if (kind === "shift") return { move: [0, of(0.2), 0] };
  if (kind === "jumble") return { move: [of(0.05), of(0.05), of(0.05)] };
  if (kind === "fracture") return { block: [of(0.2), of(0.2), of(0.2)] };
  return {};
}

const READ_BY_NAME = ["path", "about", "source", "plane", "controller"];

/** What a step reads of the shot: the name of the setting, and the item. */
export function readsOf(step: Step): { setting: string; item: string }[] {
  const told = step as unknown as Record<string, unknown>;
  const named = READ_BY_NAME.flatMap((setting) =>
    typeof told[setting] === "string" ? [{ setting, item: told[setting] }] : [],
  );
  const copied = step.kind === "scatter" ? Object.entries(step.shapes_of ?? {}) : [];
  return [...named, ...copied.map(([id, one]) => ({ setting: `shapes_of/${id}`, item: one.shape }))];
}

/** The fields that rule settings of a step, beside the one that drives it. */
export function rulingFields(step: Step): string[] {
  if (step.kind !== "scatter") return [];
  return [step.size_by, step.length_by, step.turn_by, step.lift_by].flatMap((one) => (one ? [one.field] : []));
}

/** Takes an item out of the steps that read it. */
export function withoutItem(shapeId: string, shape: Shape, item: string): Patch {
  return Object.entries(shape.recipe.steps).flatMap(([id, step]) =>
    readsOf(step)
      .filter((one) => one.item === item)
      .map(({ setting }): Patch[number] => {
        const path = `/items/${shapeId}/recipe/steps/${id}/${setting}`;
        return setting.startsWith("shapes_of") ? { op: "remove", path } : { op: "replace", path, value: null };
      }),
  );
}

/** Removes a step, with the steps that work on the part it makes; their names for the person are given too. */
export function removeStep(shape: Shape, shapeId: string, id: string): { patch: Patch; others: string[] } {
  const path = `/items/${shapeId}/recipe`;
  const step = shape.recipe.steps[id];
  const made = step ? madeBy(step) : null;
  const elsewhere = Object.entries(shape.recipe.steps).some(([key, one]) => key !== id && madeBy(one) === made);
  if (!made || elsewhere) return { patch: [{ op: "remove", path: `${path}/steps/${id}` }], others: [] };
  const others = Object.entries(shape.recipe.steps).filter(([, one]) => one.part === made);
  const patch: Patch = others.flatMap(([key]) => removeStep(shape, shapeId, key).patch);
  return {
    patch: [...patch, { op: "remove", path: `${path}/steps/${id}` }, { op: "remove", path: `${path}/parts/${made}` }],
    others: others.map(([key]) => key),
  };
}

/** Lets a step make a part of its own, or change the one it takes. */
export function makeApart(shape: Shape, shapeId: string, id: string, word: string, apart: boolean): Patch {
  const path = `/items/${shapeId}/recipe`;
  const step = shape.recipe.steps[id];
  if (!step) return [];
  if (!apart) return [{ op: "replace", path: `${path}/steps/${id}/makes`, value: null }];
  const parts = shape.recipe.parts ?? {};
  const made = newId(parts, word);
  return [
    {
      op: "add",
      path: `${path}/parts/${made}`,
      value: { name: `${word[0]?.toUpperCase()}${word.slice(1)}`, rank: lastRank(parts) },
    },
    { op: "replace", path: `${path}/steps/${id}/makes`, value: made },
  ];
}

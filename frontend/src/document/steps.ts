import { inOrder, type Shape, type Step } from "./types";

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

/** The fields that rule settings of a step, beside the one that drives it. */
export function rulingFields(step: Step): string[] {
  if (step.kind !== "scatter") return [];
  return [step.size_by, step.length_by, step.turn_by, step.lift_by].flatMap((one) => (one ? [one.field] : []));
}

import { inOrder, type Shape } from "../document/types";
import type { SessionStore } from "../view/session";
import type { Editing } from "./editing";
import { useSession, useShot } from "./editing";

/** Stands for the shape itself, before its steps: no id has a stroke in it. */
export const SHAPE = "/shape";

/** The step of a recipe that is open: the one that was opened last, at first the first, or the shape where there are none; null
 * where all are folded. */
function openedOf(opened: string | undefined, shape: Shape): string | null {
  if (opened === "") return null;
  const ids = inOrder(shape.recipe.steps).map(([id]) => id);
  return opened !== undefined && [SHAPE, ...ids].includes(opened) ? opened : (ids[0] ?? SHAPE);
}

export function useOpened(item: string, shape: Shape): string | null {
  return useSession((session) => openedOf(session.opened[item], shape));
}

/** The field that drives the open step of the chosen item. */
export function useOpenField(): string | null {
  const chosen = useSession((session) => session.chosen);
  const item = useShot((shot) => (chosen ? shot.items[chosen] : undefined));
  const opened = useSession((session) => (chosen ? session.opened[chosen] : undefined));
  const open = item?.kind === "shape" ? openedOf(opened, item) : null;
  return (open && item?.kind === "shape" && item.recipe.steps[open]?.field) || null;
}

/** Opens a step of an item's recipe and folds the others; null folds all. */
export function openStep(session: SessionStore, item: string, step: string | null): void {
  session.setState({ opened: { ...session.getState().opened, [item]: step ?? "" } });
}

/** Chooses the item, opens the step and brings it into sight. */
export function showStep({ session }: Editing, item: string, step: string): void {
  session.setState({ chosen: item });
  openStep(session, item, step);
  requestAnimationFrame(() =>
    document.querySelector(`[data-place="/items/${item}/recipe/steps#${step}"]`)?.scrollIntoView({ block: "nearest" }),
  );
}

/** Opens the step after the open one of the chosen item, or before it. */
export function stepAlong(editing: Editing, by: 1 | -1): void {
  const { chosen, opened } = editing.session.getState();
  const item = chosen ? editing.documents.getState().shot.items[chosen] : undefined;
  if (!chosen || item?.kind !== "shape") return;
  const ids = [SHAPE, ...inOrder(item.recipe.steps).map(([id]) => id)];
  const at = ids.indexOf(openedOf(opened[chosen], item) ?? "");
  const next = at < 0 ? (by > 0 ? ids[0] : ids.at(-1)) : ids[at + by];
  if (next) showStep(editing, chosen, next);
}

/** Opens the first step of an item that a field drives, unless the open one is driven by it already. */
export function showDriven(editing: Editing, item: string | null, field: string): void {
  const shape = item ? editing.documents.getState().shot.items[item] : undefined;
  if (!item || shape?.kind !== "shape") return;
  const open = openedOf(editing.session.getState().opened[item], shape);
  if (open && shape.recipe.steps[open]?.field === field) return;
  const driven = inOrder(shape.recipe.steps).find(([, step]) => step.field === field);
  if (driven) showStep(editing, item, driven[0]);
}

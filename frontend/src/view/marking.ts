import { answered, api } from "../api/client";
import { change } from "../document/changing";
import type { Editing } from "../parts/editing";
import { tell } from "../parts/messages";

type Place = [number, number, number];

/** Marks being set: for which step, and where on its own shape the next one is, once that was pressed. */
export type Marking = { step: string; here: Place | null };

/** The shape on which the next press sets a mark, and the number of the mark; null where the step is gone or has no other shape. */
export function wanted(editing: Editing, { step: pointer, here }: Marking): { item: string; number: number } | null {
  const [, , item = "", , , key = ""] = pointer.split("/");
  const shape = editing.documents.getState().shot.items[item];
  const step = shape?.kind === "shape" ? shape.recipe.steps[key] : undefined;
  if (!step || !("marks" in step) || !step.target) return null;
  return { item: here ? step.target : item, number: Object.keys(step.marks).length + 1 };
}

/** Sets one half of a mark where the picture is pressed, at shares from -1 to 1; the second half makes the edit. */
export async function mark(editing: Editing, marking: Marking, x: number, y: number): Promise<void> {
  const next = wanted(editing, marking);
  if (!next) return editing.session.setState({ marking: null });
  const { shot, revision, unsaved, id } = editing.documents.getState();
  const hit = editing.stage.current?.pick(x, y, next.item);
  if (!hit) return tell(`Nothing of ${shot.items[next.item]?.name ?? "it"} is there. Press on it where it is seen.`);
  const body = {
    revision,
    patch: unsaved(),
    frame: editing.session.getState().frame,
    item: hit.item,
    place: hit.place,
    part: hit.part,
  };
  try {
    const found = await answered(api.POST("/api/shots/{shot_id}/rest", { params: { path: { shot_id: id } }, body }));
    const place = found.place as Place;
    if (editing.session.getState().marking !== marking) return;
    if (!marking.here) return editing.session.setState({ marking: { step: marking.step, here: place } });
    editing.session.setState({ marking: { step: marking.step, here: null } });
    await change(editing, { kind: "add_mark", of: marking.step, here: marking.here, there: place });
  } catch (fault) {
    tell(fault instanceof Error ? fault.message : String(fault));
  }
}

import { answered, api } from "../api/client";
import type { Patch } from "../document/types";
import { asking } from "../parts/asking";
import { allChosen } from "../parts/chosen";
import type { Editing } from "../parts/editing";
import { tell } from "../parts/messages";
import type { Side } from "./freeView";

type Seen = { patch: Patch; middle: [number, number, number]; size: [number, number, number] };

/** What is to be seen: items, everything where none is named, or where the band of a field is on them. */
type Wanted = { items: string[]; band: string | null };

async function seen(editing: Editing, patch: Patch, wanted: Wanted, always: boolean): Promise<Seen> {
  const { id, revision } = editing.documents.getState();
  const { frame } = editing.session.getState();
  const told = patch.map(({ op, path, value = null }) => ({ op, path, value }));
  const body = { revision, patch: told, frame, ...wanted, always };
  const asked = answered(api.POST("/api/shots/{shot_id}/into-view", { params: { path: { shot_id: id } }, body }));
  return (await asking("Looking where that is", asked)) as Seen;
}

/** Make an edit; where what it adds would not be in the picture, the same edit brings the camera to it. */
export async function commitInView(editing: Editing, label: string, patch: Patch, item: string): Promise<void> {
  let framed: Patch = [];
  try {
    framed = (await seen(editing, patch, { items: [item], band: null }, false)).patch;
  } catch {
    // What cannot be looked at yet is added all the same; Bring into view does the rest.
  }
  editing.documents.getState().commit(label, [...patch, ...framed]);
}

/** Look freely from a side at what is chosen, or at everything. */
export async function lookFrom(editing: Editing, side: Side): Promise<void> {
  try {
    const told = await seen(editing, [], { items: allChosen(editing.session.getState()), band: null }, true);
    editing.session.setState({ through: "free" });
    editing.stage.current?.free.lookAt(told.middle, Math.hypot(...told.size), side);
  } catch (fault) {
    tell(fault instanceof Error ? fault.message : String(fault));
  }
}

/** Bring things, or where the band of a field is on them, into view: an edit of the camera, or the free view where that is looked through. */
export async function bringIntoView(editing: Editing, items: string[], band: string | null = null): Promise<void> {
  try {
    const told = await seen(editing, [], { items, band }, true);
    if (editing.session.getState().through === "free") {
      editing.stage.current?.free.lookAt(told.middle, Math.hypot(...told.size));
      return;
    }
    if (told.patch.length === 0) {
      tell("The shot has no camera to bring it into view with. Add one, or look freely.");
      return;
    }
    editing.documents.getState().commit("bring into view", told.patch);
  } catch (fault) {
    tell(fault instanceof Error ? fault.message : String(fault));
  }
}

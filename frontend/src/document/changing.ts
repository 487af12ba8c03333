import { answered, api } from "../api/client";
import type { components } from "../api/schema";
import type { Editing } from "../parts/editing";
import { tell } from "../parts/messages";
import { commitInView } from "../view/framing";
import type { Patch } from "./types";

type Change = components["schemas"]["ChangeWish"]["change"];
type Planned = components["schemas"]["PlannedOut"];

/** Something that can be done to a shot: its kind, and what differs from the defaults that the server has. */
export type Wanted = {
  [Kind in Change["kind"]]: { kind: Kind } & Partial<Extract<Change, { kind: Kind }>>;
}[Change["kind"]];

/** Asks the server which edit a change is; null where that cannot be done, which is said. */
async function planned(editing: Editing, wanted: Wanted): Promise<Planned | null> {
  const { id, revision, unsaved } = editing.documents.getState();
  const { frame } = editing.session.getState();
  const params = { path: { shot_id: id } };
  const body = { revision, patch: unsaved(), frame, change: wanted as Change };
  try {
    return await answered(api.POST("/api/shots/{shot_id}/changes", { params, body }));
  } catch (fault) {
    tell(fault instanceof Error ? fault.message : String(fault));
    return null;
  }
}

function editOf(made: Planned): Patch {
  return made.patch.map(({ op, path, value }) => (op === "remove" ? { op, path } : { op, path, value }));
}

/** Does something to the shot; where more goes with it than was asked for, the person is asked first. */
export async function change(editing: Editing, wanted: Wanted, after?: (made: Planned) => void): Promise<void> {
  const made = await planned(editing, wanted);
  if (!made) return;
  const act = () => {
    editing.documents.getState().commit(made.says, editOf(made));
    if (made.field) editing.session.setState({ field: made.field });
    after?.(made);
  };
  if (made.warning) tell(made.warning, { label: made.agree, run: act });
  else act();
}

/** Adds something to the shot, in the picture, and chooses it. */
export async function add(editing: Editing, wanted: Wanted, label?: string): Promise<void> {
  const made = await planned(editing, wanted);
  if (!made) return;
  await commitInView(editing, label ?? made.says, editOf(made), made.item);
  editing.session.setState({ chosen: made.item });
}

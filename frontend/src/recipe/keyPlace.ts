import { setKey } from "../document/parameter";
import { type Editing, valueNow } from "../parts/editing";

/** Keys where an item stands at the frame in view. */
export function keyPlace(editing: Editing, id: string): void {
  const { shot, commit } = editing.documents.getState();
  const { frame } = editing.session.getState();
  const pointer = `/items/${id}/place`;
  commit(
    `key of ${shot.items[id]?.name ?? "place"} at ${frame}`,
    setKey(shot, pointer, valueNow(editing, pointer), frame),
  );
}

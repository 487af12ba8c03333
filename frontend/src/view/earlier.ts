import { answered, api } from "../api/client";
import { settingInWords } from "../document/parameter";
import type { Editing } from "../parts/editing";

/** The value that is focused, else the one that was changed last on this page, and what it is called. */
function valueMeant({ documents }: Editing): { pointer: string; called: string } | null {
  const focused = document.activeElement instanceof HTMLElement ? document.activeElement.dataset : {};
  const [pointer] = focused.pointer?.split("#") ?? [];
  if (pointer) return { pointer, called: focused.called ?? "It" };
  const { made } = documents.getState();
  const [first, ...others] = made?.patch ?? [];
  if (!made || first?.op !== "replace" || others.length > 0) return null;
  const shown = document.querySelector<HTMLElement>(`[data-pointer="${first.path}"], [data-pointer^="${first.path}#"]`);
  return { pointer: first.path, called: shown?.dataset.called ?? made.label };
}

/** The shot as it was before the last change is seen, until `now`; the last settings of the value that is meant come with it. */
export async function before(editing: Editing): Promise<void> {
  const { session, documents } = editing;
  const meant = valueMeant(editing);
  session.setState({ before: true, earlier: null });
  if (!meant) return;
  const params = { path: { shot_id: documents.getState().id }, query: { pointer: meant.pointer } };
  const told = await answered(api.GET("/api/shots/{shot_id}/settings", { params })).catch(() => ({ settings: [] }));
  if (session.getState().before) session.setState({ earlier: { ...meant, settings: told.settings, at: -1 } });
}

export function now({ session }: Editing): void {
  session.setState({ before: false, earlier: null });
}

/** A key that is pressed while B is held: a digit shows that setting, 0 the shot before the last change, Enter keeps what is
 * shown. Whether it was one of these. */
export function whileBefore(editing: Editing, key: string): boolean {
  const { session, documents } = editing;
  const { earlier } = session.getState();
  if (!earlier) return false;
  if (/^[0-5]$/.test(key)) {
    const at = Number(key) - 1;
    if (at < earlier.settings.length) session.setState({ earlier: { ...earlier, at } });
    return true;
  }
  const value = earlier.settings[earlier.at];
  if (key !== "Enter" || value === undefined) return false;
  const label = `${earlier.called} ${settingInWords(value)} again`;
  documents.getState().commit(label, [{ op: "replace", path: earlier.pointer, value }]);
  now(editing);
  return true;
}

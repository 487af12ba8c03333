import { change } from "../document/changing";
import type { Editing } from "../parts/editing";
import { tell } from "../parts/messages";

/** Has what is pressed, at shares of the picture from -1 to 1, be sharp for a camera or a finishing step, by its JSON Pointer. */
export function focusAt(editing: Editing, pointer: string, x: number, y: number): void {
  const place = editing.stage.current?.placeAt(x, y);
  if (!place) {
    tell("Nothing is there that could be sharp. Press on something that is seen.");
    return;
  }
  editing.session.setState({ focusing: null });
  void change(editing, { kind: "focus_at", of: pointer, place: [place.x, place.y, place.z] });
}

import { add, change } from "../document/changing";
import type { Editing } from "../parts/editing";

/** The shapes that are built from nothing else, by the words of the menu. */
const SHAPES = [
  ["Text", "text"],
  ["Sphere", "sphere"],
  ["Box", "box"],
  ["Sheet", "plane"],
  ["Ring", "ring"],
  ["Tube", "tube"],
  ["Revolve", "revolve"],
] as const;

/** Everything that can be added to a shot, by name. */
export function additions(editing: Editing): (readonly [string, () => void])[] {
  const item = (what: "controller" | "light" | "camera") => () => void add(editing, { kind: "add_item", what });
  return [
    ["Import a file…", () => editing.session.setState({ panel: "import" })],
    ...SHAPES.map(([name, what]) => [name, () => void add(editing, { kind: "add_built", what })] as const),
    ["Sweep along a path", () => void add(editing, { kind: "add_sweep", along: editing.session.getState().chosen })],
    ["Path", () => void add(editing, { kind: "add_paths" })],
    ["Controller", item("controller")],
    ["Light", item("light")],
    ["Camera", item("camera")],
  ];
}

/** A copy of an item beside it, chosen at once. */
export function copyChosen(editing: Editing, id: string): void {
  void change(editing, { kind: "copy_item", item: id }, (made) => editing.session.setState({ chosen: made.item }));
}

/** Removes an item; where others use it, says who and asks. */
export function removeChosen(editing: Editing, id: string): void {
  void change(editing, { kind: "remove_item", item: id }, () => editing.session.setState({ chosen: null }));
}

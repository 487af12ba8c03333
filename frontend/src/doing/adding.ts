import {
  addCamera,
  addController,
  addLight,
  addPath,
  addShape,
  addSweep,
  copyItem,
  GEOMETRIES,
} from "../document/commands";
import { type Item, inOrder, type Patch } from "../document/types";
import { removeItem, usersOf } from "../document/uses";
import type { Editing } from "../parts/editing";
import { tell } from "../parts/messages";
import { commitInView } from "../view/framing";

/** How high the middle of a new shape stands, so that it stands on the ground. */
const STANDING_HEIGHTS: Partial<Record<keyof typeof GEOMETRIES, number>> = {
  Sphere: 1,
  Box: 0.5,
  Ring: 0.2,
  Tube: 0.75,
};

/** Everything that can be added to a shot, by name. */
export function additions(editing: Editing): (readonly [string, () => void])[] {
  const shot = () => editing.documents.getState().shot;
  const add = (label: string, made: { id: string; patch: Patch }) => {
    void commitInView(editing, label, made.patch, made.id).then(() => editing.session.setState({ chosen: made.id }));
  };
  const shapes = (Object.keys(GEOMETRIES) as (keyof typeof GEOMETRIES)[]).map(
    (name) =>
      [
        name,
        () => add(`add ${name}`, addShape(shot(), name, GEOMETRIES[name], [0, STANDING_HEIGHTS[name] ?? 0, 0])),
      ] as const,
  );
  const chosen = () => editing.session.getState().chosen;
  return [
    ["Import a file…", () => editing.session.setState({ panel: "import" })],
    ...shapes,
    ["Sweep along a path", () => add("add a sweep", addSweep(shot(), pathFor(shot().items, chosen())))],
    ["Path", () => add("add a path", addPath(shot()))],
    ["Controller", () => add("add a controller", addController(shot(), [1.5, 1, 0]))],
    ["Light", () => add("add a light", addLight(shot()))],
    ["Camera", () => add("add a camera", addCamera(shot()))],
  ];
}

/** The chosen item if it is a path, else the last path of the shot. */
function pathFor(items: Record<string, Item>, chosen: string | null): string | null {
  if (chosen && items[chosen]?.kind === "path") return chosen;
  const paths = inOrder(items).filter(([, item]) => item.kind === "path");
  return paths.at(-1)?.[0] ?? null;
}

/** A copy of an item beside it, chosen at once. */
export function copyChosen(editing: Editing, id: string): void {
  const { shot, commit } = editing.documents.getState();
  const bounds = editing.stage.current?.boundsOf(id);
  const made = copyItem(shot, id, bounds ? Number((bounds.size[0] * 1.1).toPrecision(2)) : 1);
  commit(`copy ${shot.items[id]?.name ?? "it"}`, made.patch);
  editing.session.setState({ chosen: made.id });
}

/** Removes an item; where others use it, says who and asks. */
export function removeChosen(editing: Editing, id: string): void {
  const { shot, commit } = editing.documents.getState();
  const name = shot.items[id]?.name ?? "it";
  const users = usersOf(shot, id);
  const patch = removeItem(shot, id);
  const away = () => {
    editing.session.setState({ chosen: null });
    commit(`remove ${name}`, patch);
  };
  if (users.length === 0) {
    away();
    return;
  }
  const text = `${name} is used by ${users.join(" and ")}. Removing it takes those clauses away too.`;
  tell(text, { label: "Remove it", run: away });
}

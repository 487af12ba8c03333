import { change } from "../document/changing";
import { inOrder } from "../document/types";
import { GUIDED } from "../guide/Guide";
import { takeUp } from "../guide/progress";
import { go } from "../parts/address";
import { allChosen } from "../parts/chosen";
import type { Editing } from "../parts/editing";
import { tell } from "../parts/messages";
import { stepAlong } from "../parts/opening";
import { currentTheme, putOn } from "../theme";
import { closerCommands } from "../view/closer";
import { endComparing } from "../view/compared";
import { before, now, whileBefore } from "../view/earlier";
import { bringIntoView } from "../view/framing";
import { freeCommands } from "../view/freeCommands";
import type { HandleMode, Panel, ReadingMode } from "../view/session";
import { additions, copyChosen, keyPlace, removeChosen, stepAdditions } from "./adding";

/** Something that can be done in the editor. `end`: what letting go of its key does. `meanwhile`: what a key does that is
 * pressed while its own is held; false where it does nothing of its own. */
export type Command = {
  id: string;
  name: string;
  says?: string | undefined;
  key?: string;
  run: () => void;
  end?: () => void;
  meanwhile?: (key: string) => boolean;
};

/** Every command, by name, with the key that it has at first. */
export function commandsOf(editing: Editing): Command[] {
  const { documents, session } = editing;
  const shot = () => documents.getState().shot;
  const chosen = () => session.getState().chosen;
  const step = (by: number) => () => {
    const { first, last } = shot().frames;
    const at = Math.round(session.getState().frame) + by;
    session.setState({ frame: Math.min(last, Math.max(first, at)), playing: false });
  };
  const take = (which: "undo" | "redo") => () => void documents.getState().takeBack(which);
  const open = (panel: Panel) => () => session.setState({ panel });
  const read = (reading: ReadingMode) => () => session.setState({ reading });
  const handle = (mode: HandleMode) => () => session.setState({ handle: mode });
  const neighbour = (by: 1 | -1) => () => {
    const ids = inOrder(shot().items).map(([id]) => id);
    const place = ids.indexOf(chosen() ?? "");
    session.setState({ chosen: ids[(place + by + ids.length) % ids.length] ?? null });
  };
  const withChosen = (run: (id: string) => void) => () => {
    const id = chosen();
    if (id && shot().items[id]) run(id);
  };
  const fields = Array.from({ length: 9 }, (_, place) => ({
    id: `field ${place + 1}`,
    name: `See field ${place + 1}`,
    key: String(place + 1),
    run: () => {
      const field = inOrder(shot().fields)[place]?.[0];
      if (field) session.setState({ field });
    },
  }));
  const steps = stepAdditions(editing, () => chosen() ?? "").map(([name, run, says]) => ({
    id: `step ${name}`,
    name: `Add step: ${name}`,
    says,
    run: withChosen(run),
  }));
  const adds = additions(editing).map(([name, run]) => ({ id: `add ${name}`, name: `Add: ${name}`, run }));
  return [
    { id: "do", name: "Do…", key: "Mod+K", run: open("do") },
    { id: "keys", name: "Keys", key: "?", run: open("keys") },
    {
      id: "play",
      name: "Play or stop",
      key: "Space",
      run: () => session.setState({ playing: !session.getState().playing }),
    },
    { id: "next frame", name: "Next frame", key: ".", run: step(1) },
    { id: "frame before", name: "Frame before", key: ",", run: step(-1) },
    { id: "ten on", name: "Ten frames on", key: "Shift+.", run: step(10) },
    { id: "ten back", name: "Ten frames back", key: "Shift+,", run: step(-10) },
    { id: "first", name: "First frame", key: "Home", run: step(-1e6) },
    { id: "last", name: "Last frame", key: "End", run: step(1e6) },
    { id: "undo", name: "Undo", key: "Mod+Z", run: take("undo") },
    { id: "redo", name: "Redo", key: "Mod+Shift+Z", run: take("redo") },
    { id: "heat held", name: "Heat, while held", key: "H", run: read("heat"), end: read("picture") },
    {
      id: "before held",
      name: "Before the last change, while held",
      key: "B",
      run: () => void before(editing),
      end: () => now(editing),
      meanwhile: (key) => whileBefore(editing, key),
    },
    { id: "picture", name: "See the picture", run: read("picture") },
    { id: "heat", name: "See heat", run: read("heat") },
    { id: "finished", name: "See it finished", run: read("finished") },
    { id: "mesh", name: "See the mesh", run: read("mesh") },
    { id: "camera", name: "Look through the camera", run: () => session.setState({ through: "camera" }) },
    { id: "free", name: "Look freely", run: () => session.setState({ through: "free" }) },
    ...freeCommands(editing),
    ...closerCommands(editing),
    { id: "move", name: "Handles that move", run: handle("move") },
    { id: "turn", name: "Handles that turn", run: handle("turn") },
    { id: "stretch", name: "Handles that stretch", run: handle("stretch") },
    {
      id: "snap",
      name: "Keep to steps, or not",
      run: () => session.setState({ snap: session.getState().snap > 0 ? 0 : 0.1 }),
    },
    { id: "next item", name: "Choose the next item", key: "PageDown", run: neighbour(1) },
    { id: "item before", name: "Choose the item before", key: "PageUp", run: neighbour(-1) },
    { id: "next step", name: "Open the next step", key: "]", run: () => stepAlong(editing, 1) },
    { id: "step before", name: "Open the step before", key: "[", run: () => stepAlong(editing, -1) },
    { id: "key place", name: "Key the place of the chosen item here", run: withChosen((id) => keyPlace(editing, id)) },
    {
      id: "layer",
      name: "Picture what is chosen in a layer of its own",
      run: withChosen(() => void change(editing, { kind: "add_layer", items: allChosen(session.getState()) })),
    },
    { id: "copy", name: "Copy the chosen item", run: withChosen((id) => copyChosen(editing, id)) },
    { id: "remove", name: "Remove the chosen item", run: withChosen((id) => removeChosen(editing, id)) },
    {
      id: "into view",
      name: "Bring what is chosen into view",
      key: "V",
      run: withChosen((id) => void bringIntoView(editing, [id])),
    },
    {
      id: "all into view",
      name: "Bring everything into view",
      key: "Shift+V",
      run: () => void bringIntoView(editing, []),
    },
    {
      id: "band into view",
      name: "Bring the band of the field into view",
      key: "Alt+V",
      run: () => {
        const { field } = session.getState();
        if (field && shot().fields[field]) void bringIntoView(editing, allChosen(session.getState()), field);
        else tell("No field is chosen whose band could be looked at. Choose one in the tracks.");
      },
    },
    { id: "history", name: "History", run: open("history") },
    { id: "compare", name: "Compare with an edit or another shot", run: open("history") },
    {
      id: "end comparing",
      name: "End comparing",
      run: () => endComparing(editing),
    },
    { id: "findings", name: "Findings", run: open("findings") },
    { id: "costs", name: "Where the time goes", run: open("costs") },
    { id: "settings", name: "Shot settings", run: open("settings") },
    { id: "export", name: "Export", run: open("export") },
    { id: "theme", name: "Other theme", run: () => putOn(currentTheme() === "chart" ? "night" : "chart") },
    {
      id: "first steps",
      name: "First steps: take them up",
      run: () => {
        takeUp();
        if (documents.getState().id !== GUIDED) go(`/shots/${GUIDED}`);
      },
    },
    { id: "home", name: "Go home", run: () => go("/") },
    ...fields,
    ...steps,
    ...adds,
  ];
}

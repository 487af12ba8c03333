import { change } from "../document/changing";
import type { Editing } from "../parts/editing";
import { lookFrom } from "./framing";
import type { Stage } from "./stage";

/** What can be done with the free view, by name. */
export function freeCommands(editing: Editing): { id: string; name: string; key?: string; run: () => void }[] {
  const { session, documents, stage } = editing;
  const free = () => session.setState({ through: "free" });
  return [
    { id: "from front", name: "Look freely from the front", key: "Alt+1", run: () => void lookFrom(editing, "front") },
    { id: "from side", name: "Look freely from the side", key: "Alt+2", run: () => void lookFrom(editing, "side") },
    { id: "from top", name: "Look freely from the top", key: "Alt+3", run: () => void lookFrom(editing, "top") },
    {
      id: "from camera",
      name: "Look freely from where the camera is",
      run: () => {
        free();
        stage.current?.freeAsCamera(false);
      },
    },
    {
      id: "camera here",
      name: "Bring the camera to where the free view is",
      run: () => {
        const { camera } = documents.getState().shot;
        const standing = stage.current?.free.standing;
        if (!standing) return;
        const wanted = { kind: "look_from", camera: camera ?? null, ...standing } as const;
        void change(editing, wanted, { after: () => session.setState({ through: "camera" }) });
      },
    },
  ];
}

const TURN = Math.PI / 36;

/** Arrows turn the free view, with Shift they move it, plus and minus bring it closer and away. */
export function moveByKey(stage: Stage | null, event: React.KeyboardEvent): void {
  if (!stage || event.target !== event.currentTarget) return;
  const [right, up] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key] ?? [];
  const times = { "+": 0.9, "=": 0.9, "-": 1 / 0.9 }[event.key];
  if (right !== undefined && up !== undefined) {
    if (event.shiftKey) stage.free.slide(0.05 * right, 0.05 * up);
    else stage.free.turn(TURN * right, TURN * up);
  } else if (times) stage.free.approach(times);
  else return;
  event.preventDefault();
}

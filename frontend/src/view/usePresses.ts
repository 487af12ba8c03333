import { useEffect } from "react";
import { allChosen, choose } from "../parts/chosen";
import { useEditing } from "../parts/editing";
import { focusAt } from "./focusing";
import { mark } from "./marking";

/** Pixels of the page within which a press is one, and two are on the same place. */
const NEAR = 4;

type Press = Pick<PointerEvent, "clientX" | "clientY" | "shiftKey" | "ctrlKey" | "metaKey">;

/** Lets a press on something that lies over the picture count as one on the picture. */
export function pressThrough(canvas: HTMLCanvasElement, { clientX, clientY, shiftKey, ctrlKey, metaKey }: Press): void {
  canvas.dispatchEvent(new CustomEvent("press", { detail: { clientX, clientY, shiftKey, ctrlKey, metaKey } }));
}

/** A press in the view chooses what was pressed, a second one on the same place what is behind it; with Shift or Ctrl it is
 * chosen as well, or no longer. */
export function usePresses(canvas: React.RefObject<HTMLCanvasElement | null>): void {
  const editing = useEditing();
  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    let down: { x: number; y: number } | null = null;
    let last: { x: number; y: number } | null = null;

    function press(event: Press) {
      if (!element) return;
      const { session, documents, stage } = editing;
      const { items } = documents.getState().shot;
      const box = element.getBoundingClientRect();
      const x = ((event.clientX - box.left) / box.width) * 2 - 1;
      const y = 1 - ((event.clientY - box.top) / box.height) * 2;
      const { marking, focusing } = session.getState();
      if (focusing) return focusAt(editing, focusing, x, y);
      if (marking) return void mark(editing, marking, x, y);
      const found = (stage.current?.itemsAt(x, y) ?? []).filter((id) => items[id] && !items[id].locked);
      const again = last !== null && near(last, event);
      last = { x: event.clientX, y: event.clientY };
      const [first] = found;
      if (first === undefined) return;
      const all = allChosen(session.getState());
      if (event.shiftKey || event.ctrlKey || event.metaKey) {
        choose(session, all.includes(first) ? all.filter((id) => id !== first) : [...all, first]);
        return;
      }
      const here = found.indexOf(all[0] ?? "");
      choose(session, [(again && here >= 0 ? found[(here + 1) % found.length] : first) ?? first]);
    }

    const start = (event: PointerEvent) => {
      down = event.button === 0 && event.isPrimary ? { x: event.clientX, y: event.clientY } : null;
    };
    const end = (event: PointerEvent) => {
      if (down && near(down, event)) press(event);
      down = null;
    };
    const through = (event: Event) => press((event as CustomEvent<Press>).detail);
    element.addEventListener("pointerdown", start);
    element.addEventListener("pointerup", end);
    element.addEventListener("press", through);
    return () => {
      element.removeEventListener("pointerdown", start);
      element.removeEventListener("pointerup", end);
      element.removeEventListener("press", through);
    };
  }, [canvas, editing]);
}

function near(one: { x: number; y: number }, event: Press): boolean {
  return Math.hypot(one.x - event.clientX, one.y - event.clientY) < NEAR;
}

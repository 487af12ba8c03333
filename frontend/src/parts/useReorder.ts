import { useRef, useState } from "react";
import { placedBeside } from "../document/commands";
import { useCommit } from "./editing";

type Ranked = Record<string, { rank: number }>;
export type Landing = { id: string; after: boolean } | null;

/**
 * Dragging the things of an ordered collection by a grip. Each thing carries `data-place` with the collection's pointer
 * and its id; `landing` says beside which of them it would be laid now.
 */
export function useReorder(collection: Ranked, pointer: string, label: string) {
  const commit = useCommit();
  const [landing, setLanding] = useState<Landing>(null);
  const latest = useRef<Landing>(null);

  function grab(id: string, down: React.PointerEvent<HTMLElement>) {
    if (down.button !== 0) return;
    down.preventDefault();
    const grip = down.currentTarget;
    grip.setPointerCapture(down.pointerId);
    const set = (next: Landing) => {
      latest.current = next;
      setLanding(next);
    };
    const move = (event: PointerEvent) => {
      const under = document.elementFromPoint(event.clientX, event.clientY)?.closest<HTMLElement>("[data-place]");
      const [list, target] = under?.dataset.place?.split("#") ?? [];
      if (!under || list !== pointer || !target || target === id) return set(null);
      const box = under.getBoundingClientRect();
      const after = event.clientY > (box.top + box.bottom) / 2;
      set({ id: target, after });
    };
    const end = (event: PointerEvent) => {
      grip.removeEventListener("pointermove", move);
      grip.removeEventListener("pointerup", end);
      grip.removeEventListener("pointercancel", end);
      const beside = latest.current;
      set(null);
      if (event.type !== "pointerup" || !beside) return;
      const patch = placedBeside(collection, pointer, id, beside.id, beside.after);
      if (patch.length > 0) commit(label, patch);
    };
    grip.addEventListener("pointermove", move);
    grip.addEventListener("pointerup", end);
    grip.addEventListener("pointercancel", end);
  }

  return { landing, grab };
}

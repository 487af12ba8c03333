import { useRef, useState } from "react";
import { useDrag, useDrop } from "react-aria";
import { change } from "../document/changing";
import { useEditing } from "./editing";

/** The thing that is dragged now, and how far down the page it began. */
let dragged: { id: string; top: number } | null = null;

/**
 * A thing of an ordered collection that takes the place of another one when its grip is dragged there: by pointer, or by
 * keyboard with Enter, Tab and Enter. collection: JSON Pointer.
 */
export function useReorder(collection: string, id: string, label: string) {
  const editing = useEditing();
  const card = useRef<HTMLDivElement>(null);
  const [landing, setLanding] = useState<"before" | "after" | undefined>();
  const kind = `windsock${collection.toLowerCase()}`;
  const top = () => card.current?.getBoundingClientRect().top ?? 0;
  const { dragProps } = useDrag({
    getItems: () => [{ [kind]: id }],
    getAllowedDropOperations: () => ["move"],
    onDragStart: () => {
      dragged = { id, top: top() };
    },
    onDragEnd: () => {
      dragged = null;
    },
  });
  const { dropProps } = useDrop({
    ref: card,
    getDropOperation: (types) => (types.has(kind) && dragged?.id !== id ? "move" : "cancel"),
    onDropEnter: () => setLanding(dragged && dragged.top < top() ? "after" : "before"),
    onDropExit: () => setLanding(undefined),
    onDrop: async ({ items }) => {
      const after = landing === "after";
      setLanding(undefined);
      for (const item of items) {
        if (!("getText" in item)) continue;
        const moved = await item.getText(kind);
        void change(editing, { kind: "place_beside", collection, id: moved, beside: id, after });
      }
    },
  });
  return {
    // By keyboard the places are gone to one by one, so that they have to take the focus.
    placeProps: { ref: card, tabIndex: -1, "data-place": `${collection}#${id}`, "data-landing": landing, ...dropProps },
    gripProps: { label, ...dragProps },
  };
}

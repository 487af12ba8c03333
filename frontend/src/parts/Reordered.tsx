import {
  createContext,
  type ElementType,
  type HTMLAttributes,
  type ReactNode,
  useContext,
  useRef,
  useState,
} from "react";
import { useDrag, useDrop } from "react-aria";
import { change } from "../document/changing";
import { useEditing } from "./editing";
import { Grip } from "./Grip";

/** The thing that is dragged now, and how far down the page it began. */
let dragged: { id: string; top: number } | null = null;

type Props = {
  /** What it is laid out as. */
  as: ElementType;
  /** JSON Pointer of the ordered collection. */
  collection: string;
  id: string;
  /** What its grip is called. */
  label: string;
  children: ReactNode;
} & HTMLAttributes<HTMLElement> & { [data: `data-${string}`]: string | boolean | undefined };

type GripProps = { label: string } & HTMLAttributes<HTMLElement>;

const Gripped = createContext<GripProps | null>(null);

/**
 * A thing of an ordered collection that takes the place of another one when its grip, somewhere among its children, is dragged
 * there: by pointer, or by keyboard with Enter, Tab and Enter. Whenever a hand goes from keyboard to pointer it is laid out
 * again, its children are not.
 */
export function Reordered({ as: Whole, collection, id, label, children, ...others }: Props) {
  const { placeProps, gripProps } = useReorder(collection, id, label);
  return (
    <Gripped.Provider value={gripProps}>
      <Whole {...others} {...placeProps}>
        {children}
      </Whole>
    </Gripped.Provider>
  );
}

/** What the thing of an ordered collection around it is dragged by. */
export function OwnGrip() {
  const props = useContext(Gripped);
  return props && <Grip {...props} />;
}

function useReorder(collection: string, id: string, label: string) {
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

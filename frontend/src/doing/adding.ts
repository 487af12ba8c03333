import { add, change } from "../document/changing";
import { OFFERS, taken } from "../document/kinds";
import type { MenuCommand } from "../parts/Choice";
import type { Editing } from "../parts/editing";

/** Everything that can be added to a shot, by name. */
export function additions(editing: Editing): MenuCommand[] {
  return [
    ["Import a file…", () => editing.session.setState({ panel: "import" }), "", "Shapes"],
    ...OFFERS.items.map(
      (offer): MenuCommand => [
        offer.words,
        () => void add(editing, taken(offer, editing.session.getState().chosen)),
        offer.says,
        offer.wish,
      ],
    ),
  ];
}

/** Every step that can be added to a shape, by name. */
export function stepAdditions(editing: Editing, item: () => string): MenuCommand[] {
  return OFFERS.steps.map((offer) => [
    offer.words,
    () => void change(editing, taken(offer, item())),
    offer.says,
    offer.wish,
  ]);
}

/** A copy of an item beside it, chosen at once. */
export function copyChosen(editing: Editing, id: string): void {
  const after = (made: { item: string }) => editing.session.setState({ chosen: made.item });
  void change(editing, { kind: "copy_item", item: id }, { after });
}

/** Removes an item; where others use it, says who and asks. */
export function removeChosen(editing: Editing, id: string): void {
  const after = () => editing.session.setState({ chosen: null });
  void change(editing, { kind: "remove_item", item: id }, { after });
}

/** Keys where an item stands at the frame in view. */
export function keyPlace(editing: Editing, id: string): void {
  const { shot } = editing.documents.getState();
  const label = `key of ${shot.items[id]?.name ?? "place"} at ${editing.session.getState().frame}`;
  void change(editing, { kind: "set_key", at: `/items/${id}/place` }, { label });
}

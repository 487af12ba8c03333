import { add, change, editFor } from "../document/changing";
import { OFFERS, type Offer, taken } from "../document/kinds";
import type { MenuCommand } from "../parts/Choice";
import type { Editing } from "../parts/editing";
import { Trial } from "../view/Trial";

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

/** Every step that can be added to a shape, by name; those that fit its recipe best stand first, each with a picture of what it
 * would make. */
export function stepAdditions(editing: Editing, item: () => string): MenuCommand[] {
  const fitting = editing.documents.getState().relations.items[item()]?.next_steps ?? [];
  const rank = ({ change: wanted }: Offer) => ("step" in wanted ? fitting.indexOf(wanted.step ?? "") : -1);
  return [...OFFERS.steps]
    .sort((one, other) => rank(one) - rank(other))
    .map((offer) => [
      offer.words,
      () => void change(editing, taken(offer, item())),
      offer.says,
      offer.wish,
      () => <Trial tried={{ item: item(), edit: () => editFor(editing, taken(offer, item())) }} says={offer.says} />,
    ]);
}

/** Every clause that can be added to a field, each with a picture of the field on a shape. */
export function clauseAdditions(editing: Editing, field: string, subject: string): MenuCommand[] {
  return OFFERS.clauses.map((offer) => [
    offer.words,
    () => void change(editing, taken(offer, field)),
    offer.says,
    offer.wish,
    () => (
      <Trial
        tried={{ item: subject, heat: field, edit: () => editFor(editing, taken(offer, field)) }}
        says={offer.says}
      />
    ),
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

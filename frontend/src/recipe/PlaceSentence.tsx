import { change } from "../document/changing";
import { inOrder } from "../document/types";
import { SmallButton } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { ColourValue } from "../parts/ColourValue";
import { useCommit, useEditing, useRelations, useShot } from "../parts/editing";
import { vectorsOf } from "./steps/values";

/** Where an item stands, how it is turned and stretched, as a sentence. */
export function PlaceSentence({ pointer, model, scaled }: { pointer: string; model: string; scaled: boolean }) {
  const id = pointer.split("/").at(-1) ?? "";
  const editing = useEditing();
  const commit = useCommit();
  const items = useShot((shot) => shot.items);
  const item = items[id];
  const leaning = useRelations((all) => all.items[id]?.leaning) ?? [id];
  const carriers = inOrder(items).flatMap(([key, one]) => (leaning.includes(key) ? [] : [[key, one.name] as const]));
  const mark = (value: "own" | null) => {
    const label = value ? "a colour of its own" : "no colour of its own";
    void change(editing, { kind: "choose", of: pointer, setting: "mark", value }, { label });
  };
  const vector = vectorsOf(model, pointer);
  return (
    <>
      Stands at {vector("place", "Place")}, turned {vector("turn", "Turn")}
      {scaled && (
        <>
          , stretched {vector("scale", "Stretch")}, about its own {vector("pivot", "Pivot")}
        </>
      )}
      , carried by{" "}
      <Choice
        label="Carried by"
        value={item?.parent ?? ""}
        options={[["", "nothing"], ...carriers]}
        onChoose={(carrier) => void change(editing, { kind: "carry_item", item: id, carrier: carrier || null })}
      />
      , aimed at{" "}
      <Choice
        label="Aimed at"
        value={item?.aim ?? ""}
        options={[["", "nothing"], ...carriers]}
        onChoose={(aim) => commit("aimed at", [{ op: "replace", path: `${pointer}/aim`, value: aim || null }])}
      />
      , marked{" "}
      {item?.mark ? (
        <>
          <ColourValue pointer={`${pointer}/mark`} label="Colour of the item in lists and in the view" />{" "}
          <SmallButton onPress={() => mark(null)}>No colour</SmallButton>
        </>
      ) : (
        <SmallButton onPress={() => mark("own")}>with a colour</SmallButton>
      )}
    </>
  );
}

import { useState } from "react";
import type { components } from "../api/schema";
import { change } from "../document/changing";
import { inOrder } from "../document/types";
import { SmallButton } from "../parts/Button";
import { Choice } from "../parts/Choice";
import { ColourValue } from "../parts/ColourValue";
import { useCommit, useEditing, useRelations, useShot } from "../parts/editing";
import { MovementDialog } from "./MovementDialog";
import { valuesOf, vectorsOf } from "./steps/values";

type Along = components["schemas"]["Travel"];
type Springs = components["schemas"]["Springs"];

const TURNINGS = [
  ["along", "turning with it"],
  ["upright", "upright"],
  ["own", "not turning"],
] as const;
const SPRINGING = [
  ["both", "place and turn"],
  ["place", "its place alone"],
] as const;
const ENDS = [
  ["waits", "waiting at its end"],
  ["again", "coming again from its start"],
] as const;

/** How an item goes along the path that carries it, or that it does not. */
function Going({ pointer, along }: { pointer: string; along: Along | null }) {
  const editing = useEditing();
  const commit = useCommit();
  const go = (value: "own" | null) =>
    void change(
      editing,
      { kind: "choose", of: pointer, setting: "along", value },
      { label: value ? "goes along the path" : "stands on the path" },
    );
  const put = (name: "turning" | "ends", value: string) =>
    commit(value, [{ op: "replace", path: `${pointer}/along/${name}`, value }]);
  const value = valuesOf("Travel", `${pointer}/along`);
  if (!along)
    return (
      <>
        {" "}
        <SmallButton onPress={() => go("own")}>going along it</SmallButton>
      </>
    );
  return (
    <>
      , going along it from {value("share", "Share")} of it at {value("speed", "Speed")},{" "}
      <Choice
        label="How it turns"
        value={along.turning ?? "along"}
        options={TURNINGS}
        onChoose={(turning) => put("turning", turning)}
      />
      , leaning by {value("bank", "Bank")},{" "}
      <Choice label="At the end" value={along.ends ?? "waits"} options={ENDS} onChoose={(ends) => put("ends", ends)} />{" "}
      <SmallButton onPress={() => go(null)}>Not along it</SmallButton>
    </>
  );
}

/** That an item follows its own motion on springs, or that it stands stiffly. */
function Springing({ pointer, springs }: { pointer: string; springs: Springs | null }) {
  const editing = useEditing();
  const commit = useCommit();
  const spring = (value: "own" | null) =>
    void change(
      editing,
      { kind: "choose", of: pointer, setting: "springs", value },
      { label: value ? "follows on springs" : "follows stiffly" },
    );
  const value = valuesOf("Springs", `${pointer}/springs`);
  if (!springs)
    return (
      <>
        {" "}
        <SmallButton onPress={() => spring("own")}>on springs</SmallButton>
      </>
    );
  return (
    <>
      , on springs that swing {value("swings", "Swings")} with damping {value("damping", "Damping")},{" "}
      <Choice
        label="What springs"
        value={springs.turns === false ? "place" : "both"}
        options={SPRINGING}
        onChoose={(what) => commit(what, [{ op: "replace", path: `${pointer}/springs/turns`, value: what === "both" }])}
      />
      , settled for {value("settled", "Settling", false)} before the first frame{" "}
      <SmallButton onPress={() => spring(null)}>Without springs</SmallButton>
    </>
  );
}

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
  const [bringing, setBringing] = useState(false);
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
      {item?.parent && items[item.parent]?.kind === "path" && <Going pointer={pointer} along={item.along ?? null} />},
      aimed at{" "}
      <Choice
        label="Aimed at"
        value={item?.aim ?? ""}
        options={[["", "nothing"], ...carriers]}
        onChoose={(aim) => commit("aimed at", [{ op: "replace", path: `${pointer}/aim`, value: aim || null }])}
      />
      <Springing pointer={pointer} springs={item?.springs ?? null} />, moved as{" "}
      <SmallButton onPress={() => setBringing(true)}>a file says</SmallButton>
      {bringing && <MovementDialog item={id} name={item?.name ?? ""} close={() => setBringing(false)} />}, marked{" "}
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

import { change } from "../../document/changing";
import { Choice } from "../../parts/Choice";
import { useEditing } from "../../parts/editing";
import { LevelAndBand } from "../LevelAndBand";
import { AXES } from "../sources/clause";
import { SpaceChoice } from "./DeformingSentence";
import { OwnLook } from "./OwnLook";
import { FieldChoice, type SentenceProps } from "./sentence";
import { ItemChoice, valuesOf } from "./values";

const BY = [
  ["slab", "a slab"],
  ["shape", "the shape"],
  ["field", "where it is inside"],
] as const;
const TAKES = [
  ["inside", "what is within"],
  ["outside", "all but what is within"],
] as const;

const CAPS = [
  ["beside", "a part of its own"],
  ["with", "one with the shape"],
] as const;

export function SliceSentence({ pointer, step, put }: SentenceProps<"slice">) {
  const value = valuesOf("Slice", pointer);
  const [, , subject = ""] = pointer.split("/");
  return (
    <>
      Take away{" "}
      <Choice label="Takes" value={step.zone} options={TAKES} onChoose={(takes) => put(takes, "zone", takes)} />{" "}
      <Choice label="By" value={step.by} options={BY} onChoose={(by) => put(`by ${by}`, "by", by)} />{" "}
      {step.by === "slab" && (
        <>
          from {value("start", "Start")} to {value("end", "End")} along{" "}
          <Choice
            label="Axis"
            value={step.axis}
            options={AXES}
            onChoose={(axis) => put(`along ${axis}`, "axis", axis)}
          />{" "}
          of <SpaceChoice controller={step.controller ?? null} none="its own space" put={put} />
        </>
      )}
      {step.by === "shape" && (
        <ItemChoice
          label="Which shape"
          kind="shape"
          value={step.cutter ?? null}
          none="no shape yet"
          but={subject}
          onChoose={(cutter) => put("another shape", "cutter", cutter)}
        />
      )}
      {step.by === "field" && (
        <>
          <FieldChoice pointer={pointer} step={step} put={put} everything="no field yet" />
          {step.field && <LevelAndBand field={step.field} />}
        </>
      )}
      , as a solid with a cap
    </>
  );
}

export function SliceMore({ pointer, step }: SentenceProps<"slice">) {
  const editing = useEditing();
  const value = valuesOf("Slice", pointer);
  return (
    <>
      The cap is{" "}
      <Choice
        label="The cap is"
        value={step.makes ? "beside" : "with"}
        options={CAPS}
        onChoose={(way) => {
          const [, , item = "", , , step = ""] = pointer.split("/");
          void change(editing, { kind: "make_apart", item, step, word: way === "beside" ? "cap" : null });
        }}
      />
      {step.makes && <>, with the surface up to {value("beside", "Beside")} beside the cut</>}. It has{" "}
      <OwnLook pointer={pointer} of="the cap" own={Boolean(step.look)} />. What does not close
      {step.by === "field" && ", and the field,"} is taken in voxels of {value("voxel", "Voxel", false)}.
      {step.by === "field" && <> The field counts by {value("amount", "Amount")}.</>}
    </>
  );
}

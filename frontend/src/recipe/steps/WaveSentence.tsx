import { change } from "../../document/changing";
import { SmallButton } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { useEditing } from "../../parts/editing";
import { SpaceChoice } from "./DeformingSentence";
import { placeOf, StepGroup } from "./StepGroup";
import { Listening, type SentenceProps, StepCurve } from "./sentence";
import { ItemChoice, valuesOf } from "./values";

const FORMS = [
  ["round", "round about"],
  ["straight", "straight along X of"],
  ["shapes", "from the shapes of"],
  ["path", "along the path"],
] as const;
const WAYS = [
  ["outward", "outward"],
  ["inward", "inward"],
] as const;
const RAISES = [
  ["up", "up"],
  ["normal", "along the surface’s normal"],
] as const;
const PIECES = [
  ["bend", "bend with it"],
  ["whole", "are moved whole"],
] as const;

export function WaveSentence({ pointer, step, put, undriven }: SentenceProps<"wave">) {
  const value = valuesOf("Wave", pointer);
  return (
    <>
      Waves {value("length", "Length")} long and {value("height", "Height")} high go{" "}
      <Choice label="Way" value={step.way} options={WAYS} onChoose={(way) => put(way, "way", way)} /> at{" "}
      {value("speed", "Speed")},{" "}
      <Choice label="Form" value={step.form} options={FORMS} onChoose={(form) => put(`waves ${form}`, "form", form)} />{" "}
      {step.form === "shapes" ? (
        <StepGroup pointer={pointer} group={step.group ?? null} put={put} />
      ) : step.form === "path" ? (
        <ItemChoice
          label="Path of the waves"
          kind="path"
          value={step.path ?? null}
          none="no path yet"
          onChoose={(path) => put("path of the waves", "path", path)}
        />
      ) : (
        <SpaceChoice controller={step.controller ?? null} none="its own space" put={put} />
      )}
      , crests sharp by {value("sharp", "Sharp")}, <Listening {...{ pointer, step, put, undriven }} />
    </>
  );
}

export function WaveMore({ pointer, step, put }: SentenceProps<"wave">) {
  const editing = useEditing();
  const value = valuesOf("Wave", pointer);
  const close = (setting: "speed" | "length") =>
    void change(editing, { kind: "close_step", ...placeOf(pointer), setting });
  return (
    <>
      They raise it{" "}
      <Choice
        label="Raises"
        value={step.raises}
        options={RAISES}
        onChoose={(raises) => put(`raised ${raises}`, "raises", raises)}
      />
      , fade over {value("fades", "Fades")} of way and die over {value("dies", "Dies")} (0: never). Pieces and copies{" "}
      <Choice
        label="Pieces"
        value={step.pieces}
        options={PIECES}
        onChoose={(pieces) => put(`pieces ${pieces}`, "pieces", pieces)}
      />
      . It counts by {value("amount", "Amount")}.{" "}
      <SmallButton onPress={() => close("speed")}>Close the shot by the speed</SmallButton>{" "}
      <SmallButton onPress={() => close("length")}>Close it by the length</SmallButton>{" "}
      <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

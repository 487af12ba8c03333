import { FIRST_CURVE } from "../../document/curves";
import { SmallButton } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { CurveEditor } from "../../parts/CurveEditor";
import { OwnLook } from "./OwnLook";
import { Listening, type SentenceProps, StepCurve } from "./sentence";
import { valuesOf } from "./values";

const OF = [
  ["points", "of its points"],
  ["pieces", "of its pieces or copies"],
  ["whole", "of the whole"],
] as const;
const FORMS = [
  ["tubes", "tubes"],
  ["ribbons", "ribbons"],
  ["lines", "lines that face the camera"],
  ["sheet", "a sheet between neighbours"],
] as const;

export function TrailSentence({ pointer, step, put, undriven }: SentenceProps<"trail">) {
  const value = valuesOf("Trail", pointer);
  return (
    <>
      The way {step.of === "points" && <>of {value("count", "Count", false)} </>}
      <Choice label="Of" value={step.of} options={OF} onChoose={(of) => put(of, "of", of)} /> over the last{" "}
      {value("lasts", "Seconds")} (0: all), as{" "}
      <Choice label="Form" value={step.form} options={FORMS} onChoose={(form) => put(form, "form", form)} />
      {step.form !== "sheet" && (
        <>
          {" "}
          {value("width", "Width")} wide, thick <Listening {...{ pointer, step, put, undriven }} />
        </>
      )}
    </>
  );
}

export function TrailMore({ pointer, step, put }: SentenceProps<"trail">) {
  const value = valuesOf("Trail", pointer);
  return (
    <>
      {step.form === "sheet" ? null : step.along ? (
        <>
          How thick it is over its age:
          <CurveEditor pointer={`${pointer}/along`} curve={step.along} label="Thickness over age" />
          <SmallButton onPress={() => put("no curve over age", "along", null)}>Take the curve away</SmallButton>
        </>
      ) : (
        <>
          Its end is thinner by {value("thinner", "Thinner")}.{" "}
          <SmallButton onPress={() => put("a curve over age", "along", FIRST_CURVE)}>Thickness by a curve</SmallButton>
        </>
      )}{" "}
      It goes in steps of {value("spacing", "Steps", false)} and is smooth over {value("smooth", "Smooth", false)}. It
      has <OwnLook pointer={pointer} of="the trail" own={Boolean(step.look)} />. It counts by{" "}
      {value("amount", "Amount")}. <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

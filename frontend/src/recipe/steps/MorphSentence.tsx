import { FIRST_CURVE } from "../../document/curves";
import { SmallButton } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { CurveEditor } from "../../parts/CurveEditor";
import { Marks } from "./Marks";
import { Listening, type SentenceProps, StepCurve } from "./sentence";
import { ItemChoice, valuesOf } from "./values";

const WAYS = [
  ["nearest", "to the nearest place"],
  ["rays", "along rays from"],
  ["axis", "straight from the Y of"],
  ["uv", "to the same u,v"],
  ["order", "by their order"],
  ["marks", "by places marked on both"],
] as const;
const LAID = [
  ["boxes", "fitted into its box"],
  ["middles", "brought to its middle"],
  ["standing", "where both stand"],
] as const;
const GOINGS = [
  ["straight", "straight"],
  ["round", "round about their middles"],
] as const;
const LOOKS = [
  ["crossing", "looks cross over"],
  ["own", "it keeps its own look"],
] as const;

/** Which shape it turns into, and which way each point goes there. */
function Into({ pointer, step, put }: Pick<SentenceProps<"morph" | "pair">, "pointer" | "step" | "put">) {
  const [, , subject = ""] = pointer.split("/");
  return (
    <>
      <ItemChoice
        label="Into which shape"
        kind="shape"
        value={step.target ?? null}
        none="no shape yet"
        but={subject}
        onChoose={(target) => put("into another shape", "target", target)}
      />
      , each point{" "}
      <Choice label="Which way" value={step.way} options={WAYS} onChoose={(way) => put(`morph ${way}`, "way", way)} />
      {(step.way === "rays" || step.way === "axis") && (
        <>
          {" "}
          <ItemChoice
            label="Rays from"
            kind="controller"
            value={step.controller ?? null}
            none="its middle"
            onChoose={(from) => put("rays from another place", "controller", from)}
          />
        </>
      )}
      {step.way === "marks" && <Marks pointer={pointer} step={step} />}
    </>
  );
}

/** How it goes there. */
function OnTheWay({
  pointer,
  step,
  put,
  model,
}: Pick<SentenceProps<"morph" | "pair">, "pointer" | "step" | "put"> & { model: "Morph" | "Pair" }) {
  const value = valuesOf(model, pointer);
  return (
    <>
      Places are found with this shape{" "}
      <Choice label="Laid" value={step.laid} options={LAID} onChoose={(laid) => put(`laid ${laid}`, "laid", laid)} />.
      It goes{" "}
      <Choice label="Going" value={step.going} options={GOINGS} onChoose={(going) => put(going, "going", going)} />,
      smoothed {value("smoothing", "Smoothing", false)} times half way, and{" "}
      <Choice label="Looks" value={step.look} options={LOOKS} onChoose={(look) => put(`look ${look}`, "look", look)} />.
      It counts by {value("amount", "Amount")}.{" "}
      {step.bulge_along ? (
        <>
          It swells by a curve{" "}
          <SmallButton onPress={() => put("swells most half way", "bulge_along", null)}>Without it</SmallButton>
          <CurveEditor pointer={`${pointer}/bulge_along`} curve={step.bulge_along} label="Swelling on the way" />
        </>
      ) : (
        <SmallButton onPress={() => put("swells by a curve", "bulge_along", FIRST_CURVE)}>
          Let it swell by a curve
        </SmallButton>
      )}
    </>
  );
}

export function MorphSentence({ pointer, step, put, undriven }: SentenceProps<"morph">) {
  const value = valuesOf("Morph", pointer);
  return (
    <>
      Morph into <Into pointer={pointer} step={step} put={put} />, swelling by {value("bulge", "Bulge")},{" "}
      <Listening pointer={pointer} step={step} put={put} undriven={undriven} />
    </>
  );
}

export function MorphMore({ pointer, step, put }: SentenceProps<"morph">) {
  return (
    <>
      <OnTheWay pointer={pointer} step={step} put={put} model="Morph" />{" "}
      <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

export function PairSentence({ pointer, step, put, undriven }: SentenceProps<"pair">) {
  const value = valuesOf("Pair", pointer);
  return (
    <>
      Change places with <Into pointer={pointer} step={step} put={put} />, from {value("begins_at", "Begins")} on within{" "}
      {value("lasts", "Lasts")}, cross-faded over {value("fade", "Fade")} of that,{" "}
      <Listening pointer={pointer} step={step} put={put} undriven={undriven} />
    </>
  );
}

export function PairMore({ pointer, step, put }: SentenceProps<"pair">) {
  const value = valuesOf("Pair", pointer);
  return (
    <>
      It swells by {value("bulge", "Bulge")}. <OnTheWay pointer={pointer} step={step} put={put} model="Pair" />{" "}
      <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

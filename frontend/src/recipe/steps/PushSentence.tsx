import { Choice } from "../../parts/Choice";
import { SpaceChoice } from "./DeformingSentence";
import { Listening, type SentenceProps, StepCurve } from "./sentence";
import { valuesOf, vectorsOf } from "./values";

const WAYS = [
  ["outward", "outward"],
  ["axis", "along a direction"],
  ["controller", "away from"],
  ["rising", "where the field rises"],
] as const;
const SPACES = [
  ["world", "the world"],
  ["own", "the shape"],
  ["controller", "a controller"],
] as const;

export function PushSentence({ pointer, step, put, undriven }: SentenceProps<"push">) {
  const value = valuesOf("Push", pointer);
  const vector = vectorsOf("Push", pointer);
  return (
    <>
      Push points by {value("distance", "Distance")}{" "}
      <Choice label="Which way" value={step.along} options={WAYS} onChoose={(way) => put(way, "along", way)} />
      {step.along === "axis" && (
        <>
          {" "}
          {vector("direction", "Direction")} of{" "}
          <Choice
            label="Whose axes"
            value={step.space}
            options={SPACES}
            onChoose={(space) => put(`axes of ${space}`, "space", space)}
          />
        </>
      )}
      {(step.along === "controller" || (step.along === "axis" && step.space === "controller")) && (
        <>
          {" "}
          <SpaceChoice controller={step.controller ?? null} none="its own middle" put={put} />
        </>
      )}
      , <Listening pointer={pointer} step={step} put={put} undriven={undriven} />
    </>
  );
}

export function PushMore({ pointer, step, put }: SentenceProps<"push">) {
  const value = valuesOf("Push", pointer);
  return (
    <>
      It counts by {value("amount", "Amount")}. <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

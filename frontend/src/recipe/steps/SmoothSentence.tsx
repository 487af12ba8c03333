import { Choice } from "../../parts/Choice";
import { Listening, type SentenceProps, StepCurve } from "./sentence";
import { valuesOf } from "./values";

const VOLUMES = [
  ["kept", "keeping its volume"],
  ["shrinking", "letting it shrink"],
] as const;

export function SmoothSentence({ pointer, step, put, undriven }: SentenceProps<"smooth">) {
  const value = valuesOf("Smooth", pointer);
  return (
    <>
      Smooth {value("times", "Times", false)} times,{" "}
      <Choice
        label="Volume"
        value={step.volume}
        options={VOLUMES}
        onChoose={(volume) => put(`volume ${volume}`, "volume", volume)}
      />
      , <Listening pointer={pointer} step={step} put={put} undriven={undriven} />
    </>
  );
}

export function SmoothMore({ pointer, step, put }: SentenceProps<"smooth">) {
  const value = valuesOf("Smooth", pointer);
  return (
    <>
      It counts by {value("amount", "Amount")}. <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

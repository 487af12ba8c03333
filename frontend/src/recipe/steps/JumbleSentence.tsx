import { Choice } from "../../parts/Choice";
import { MOVING_AXES } from "./ShiftSentence";
import { Listening, type SentenceProps, StepCurve } from "./sentence";
import { valuesOf, vectorsOf } from "./values";

export function JumbleSentence({ pointer, step, put, undriven }: SentenceProps<"jumble">) {
  const value = valuesOf("Jumble", pointer);
  const vector = vectorsOf("Jumble", pointer);
  return (
    <>
      Jumble pieces or copies: each moved by up to {vector("move", "Move")}, turned by up to {vector("turn", "Turn")},{" "}
      {value("smallest", "Smallest")} to {value("largest", "Largest")} as large,{" "}
      <Listening pointer={pointer} step={step} put={put} undriven={undriven} />
    </>
  );
}

export function JumbleMore({ pointer, step, put }: SentenceProps<"jumble">) {
  const value = valuesOf("Jumble", pointer);
  return (
    <>
      It goes along{" "}
      <Choice
        label="Axes"
        value={step.axes}
        options={MOVING_AXES}
        onChoose={(axes) => put(`along ${axes} axes`, "axes", axes)}
      />
      , by chances number {value("seed", "Seed", false)}, and counts by {value("amount", "Amount")}.{" "}
      <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

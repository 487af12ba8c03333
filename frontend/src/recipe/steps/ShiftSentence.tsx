import { Choice } from "../../parts/Choice";
import { Listening, type SentenceProps, StepCurve } from "./sentence";
import { ItemChoice, valuesOf, vectorsOf } from "./values";

export const MOVING_AXES = [
  ["world", "the world’s axes"],
  ["own", "its own axes"],
  ["normal", "the surface’s normal"],
] as const;

export function ShiftSentence({ pointer, step, put, undriven }: SentenceProps<"shift">) {
  const vector = vectorsOf("Shift", pointer);
  return (
    <>
      Shift each piece or copy by {vector("move", "Move")}, turn it by {vector("turn", "Turn")}, size it{" "}
      {vector("size", "Size")}, <Listening pointer={pointer} step={step} put={put} undriven={undriven} />
    </>
  );
}

export function ShiftMore({ pointer, step, put }: SentenceProps<"shift">) {
  const value = valuesOf("Shift", pointer);
  return (
    <>
      It goes along{" "}
      <Choice
        label="Axes"
        value={step.axes}
        options={MOVING_AXES}
        onChoose={(axes) => put(`along ${axes} axes`, "axes", axes)}
      />
      , turned and sized about{" "}
      <ItemChoice
        label="About"
        kind="controller"
        value={step.about ?? null}
        none="its own middle"
        onChoose={(about) => put("about", "about", about)}
      />
      , and counts by {value("amount", "Amount")}. <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

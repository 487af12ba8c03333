import { Choice } from "../../parts/Choice";
import { StepGroup } from "./StepGroup";
import { Listening, type SentenceProps, StepCurve } from "./sentence";
import { valuesOf } from "./values";

const WALLS = [
  ["throw back", "throw them back"],
  ["swallow", "swallow them"],
] as const;

export function RippleSentence({ pointer, step, put, undriven }: SentenceProps<"ripple">) {
  const value = valuesOf("Ripple", pointer);
  return (
    <>
      Waves run at {value("speed", "Speed")} from what the shapes of{" "}
      <StepGroup pointer={pointer} group={step.group ?? null} put={put} /> press in, as strong as{" "}
      {value("strength", "Strength")}, dying by {value("damping", "Damping")}; open edges{" "}
      <Choice
        label="Walls"
        value={step.walls}
        options={WALLS}
        onChoose={(walls) => put(`edges ${walls}`, "walls", walls)}
      />
      , <Listening {...{ pointer, step, put, undriven }} />
    </>
  );
}

export function RippleMore({ pointer, step, put }: SentenceProps<"ripple">) {
  const value = valuesOf("Ripple", pointer);
  return (
    <>
      What comes as near as {value("margin", "Margin", false)} touches. It counts by {value("amount", "Amount")}.{" "}
      <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

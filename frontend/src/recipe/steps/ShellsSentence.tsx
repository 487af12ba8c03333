import { Choice } from "../../parts/Choice";
import { OwnLook } from "./OwnLook";
import { Listening, type SentenceProps, StepCurve } from "./sentence";
import { valuesOf } from "./values";

const WAYS = [
  ["out", "further out along the surface"],
  ["scale", "larger about its middle"],
] as const;

export function ShellsSentence({ pointer, step, put, undriven }: SentenceProps<"shells">) {
  const value = valuesOf("Shells", pointer);
  return (
    <>
      {value("count", "How many", false)} layers, each{" "}
      {step.by === "out" ? value("apart", "Apart") : value("larger", "Larger")}{" "}
      <Choice label="By" value={step.by} options={WAYS} onChoose={(by) => put(`layers ${by}`, "by", by)} />, thinner by{" "}
      {value("thinner", "Thinner")} and fainter by {value("fainter", "Fainter")} each,{" "}
      <Listening {...{ pointer, step, put, undriven }} />
    </>
  );
}

export function ShellsMore({ pointer, step, put }: SentenceProps<"shells">) {
  const value = valuesOf("Shells", pointer);
  return (
    <>
      They have <OwnLook pointer={pointer} of="the layers" own={Boolean(step.look)} />. It counts by{" "}
      {value("amount", "Amount")}. <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

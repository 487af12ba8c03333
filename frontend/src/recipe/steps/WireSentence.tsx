import { quantity } from "../../document/quantities";
import { Choice } from "../../parts/Choice";
import { NumberValue } from "../../parts/NumberValue";
import { Listening, type SentenceProps, StepCurve } from "./sentence";

const EDGES = [
  ["squares", "the edges of its cells"],
  ["all", "all edges"],
  ["sharp", "its sharp edges"],
] as const;

export function WireSentence({ pointer, step, put, undriven }: SentenceProps<"wire">) {
  return (
    <>
      Wire{" "}
      <Choice
        label="Edges"
        value={step.edges}
        options={EDGES}
        onChoose={(edges) => put(`wire ${edges}`, "edges", edges)}
      />{" "}
      with <NumberValue pointer={`${pointer}/width`} quantity={quantity("Wire", "width")} label="Width" /> tubes,{" "}
      <Listening pointer={pointer} step={step} put={put} undriven={undriven} />
    </>
  );
}

export function WireMore({ pointer, step, put }: SentenceProps<"wire">) {
  return (
    <>
      Tubes have{" "}
      <NumberValue pointer={`${pointer}/sides`} quantity={quantity("Wire", "sides")} label="Sides" keyable={false} />{" "}
      sides, and count by{" "}
      <NumberValue pointer={`${pointer}/amount`} quantity={quantity("Wire", "amount")} label="Amount" />.{" "}
      <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

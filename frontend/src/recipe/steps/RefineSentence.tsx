import { quantity } from "../../document/quantities";
import { Choice } from "../../parts/Choice";
import { NumberValue } from "../../parts/NumberValue";
import { WAYS } from "../FinenessSentence";
import { Listening, type SentenceProps, StepCurve } from "./sentence";

export function RefineSentence({ pointer, step, put, undriven }: SentenceProps<"refine">) {
  return (
    <>
      Refine{" "}
      <NumberValue
        pointer={`${pointer}/times`}
        quantity={quantity("Refine", "times")}
        label="How often faces are split"
        keyable={false}
      />{" "}
      times, <Choice label="Way" value={step.way} options={WAYS} onChoose={(way) => put(`refine ${way}`, "way", way)} />
      , <Listening pointer={pointer} step={step} put={put} undriven={undriven} />
    </>
  );
}

export function RefineMore({ pointer, step, put }: SentenceProps<"refine">) {
  return (
    <>
      It counts by <NumberValue pointer={`${pointer}/amount`} quantity={quantity("Refine", "amount")} label="Amount" />.{" "}
      <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

import { useState } from "react";
import { quantity } from "../../document/quantities";
import type { Step } from "../../document/types";
import { SmallButton } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { NumberValue } from "../../parts/NumberValue";
import { RampEditor, RampPicture } from "../../parts/RampEditor";
import { Listening, type SentenceProps, StepCurve } from "./sentence";

type Channel = Extract<Step, { kind: "shade" }>["channel"];

const CHANNELS: readonly (readonly [Channel, string])[] = [
  ["base_colour", "colour"],
  ["emission", "emission"],
  ["opacity", "opacity"],
  ["roughness", "roughness"],
  ["metallic", "metallic"],
  ["transmission", "transmission"],
];
const LAID = [
  ["by the field", "as far as the field goes"],
  ["everywhere", "everywhere"],
] as const;
const EDGES = [
  ["blended", "blended"],
  ["cut", "cut at one half"],
] as const;

export function ShadeSentence({ pointer, step, put, undriven }: SentenceProps<"shade">) {
  const [shaping, setShaping] = useState(false);
  const of = step.channel === "base_colour" || step.channel === "emission" ? "colours" : "values";
  return (
    <>
      Shade{" "}
      <Choice
        label="Channel"
        value={step.channel}
        options={CHANNELS}
        onChoose={(channel) => put(channel, "channel", channel)}
      />{" "}
      <Listening pointer={pointer} step={step} put={put} undriven={undriven} />, through{" "}
      <SmallButton aria-label="Shape the ramp" aria-expanded={shaping} onPress={() => setShaping(!shaping)}>
        <RampPicture ramp={step.ramp} of={of} />
      </SmallButton>
      {step.channel === "emission" && (
        <>
          {" "}
          at strength{" "}
          <NumberValue pointer={`${pointer}/strength`} quantity={quantity("Shade", "strength")} label="Strength" />
        </>
      )}
      {step.channel === "opacity" && (
        <>
          ,{" "}
          <Choice
            label="Opacity"
            value={step.edge}
            options={EDGES}
            onChoose={(edge) => put(`opacity ${edge}`, "edge", edge)}
          />
        </>
      )}
      {!undriven && (
        <>
          , laid{" "}
          <Choice
            label="Laid"
            value={step.laid}
            options={LAID}
            onChoose={(laid) => put(`laid ${laid}`, "laid", laid)}
          />
        </>
      )}
      {shaping && <RampEditor pointer={`${pointer}/ramp`} ramp={step.ramp} of={of} />}
    </>
  );
}

export function ShadeMore({ pointer, step, put }: SentenceProps<"shade">) {
  return (
    <>
      It counts by <NumberValue pointer={`${pointer}/amount`} quantity={quantity("Shade", "amount")} label="Amount" />.{" "}
      <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

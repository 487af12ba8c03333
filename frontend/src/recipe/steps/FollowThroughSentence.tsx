import { quantity } from "../../document/quantities";
import { Choice } from "../../parts/Choice";
import { NumberValue } from "../../parts/NumberValue";
import { LevelAndBand } from "../LevelAndBand";
import { FieldChoice, type SentenceProps, StepCurve, ZONES } from "./sentence";

export function FollowThroughSentence({ pointer, step, put, undriven }: SentenceProps<"follow_through">) {
  const value = (name: string, label: string, keyable = true) => (
    <NumberValue
      pointer={`${pointer}/${name}`}
      quantity={quantity("FollowThrough", name)}
      label={label}
      keyable={keyable}
    />
  );
  return (
    <>
      Follow through, swinging {value("swings", "Swings")} with damping {value("damping", "Damping")}, loose{" "}
      {!undriven && (
        <>
          <Choice label="Zone" value={step.zone} options={ZONES} onChoose={(zone) => put(zone, "zone", zone)} />{" "}
        </>
      )}
      <FieldChoice pointer={pointer} step={step} put={put} everything="everywhere" />
      {step.field && step.zone !== "value" && <LevelAndBand field={step.field} />}
    </>
  );
}

export function FollowThroughMore({ pointer, step, put }: SentenceProps<"follow_through">) {
  return (
    <>
      The loosest points are{" "}
      <NumberValue pointer={`${pointer}/amount`} quantity={quantity("FollowThrough", "amount")} label="Looseness" />{" "}
      loose. It settles for{" "}
      <NumberValue
        pointer={`${pointer}/settled`}
        quantity={quantity("FollowThrough", "settled")}
        label="Settling"
        keyable={false}
      />{" "}
      before the first frame. <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

import { quantity } from "../../document/quantities";
import { NumberValue } from "../../parts/NumberValue";
import { Listening, type SentenceProps, StepCurve } from "./sentence";

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
      <Listening pointer={pointer} step={step} put={put} undriven={undriven} />
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
      before the first frame. It hangs back by{" "}
      <NumberValue pointer={`${pointer}/drag`} quantity={quantity("FollowThrough", "drag")} label="Hanging back" /> of
      its motion, and stretches by{" "}
      <NumberValue pointer={`${pointer}/stretch`} quantity={quantity("FollowThrough", "stretch")} label="Stretching" />{" "}
      of what it would. <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

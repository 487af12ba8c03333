import { Choice } from "../../parts/Choice";
import { Listening, type SentenceProps, StepCurve } from "./sentence";
import { ItemChoice, valuesOf } from "./values";

const BYS = [
  ["surface", "by its nearest surface"],
  ["cage", "within it as a cage"],
] as const;
const PIECES = [
  ["bend", "bend along"],
  ["whole", "go whole"],
] as const;
const BOUNDS = [
  ["first", "the first frame"],
  ["frame", "frame"],
] as const;

export function RideSentence({ pointer, step, put, undriven }: SentenceProps<"ride">) {
  const [, , subject = ""] = pointer.split("/");
  return (
    <>
      Ride on{" "}
      <ItemChoice
        label="On which shape"
        kind="shape"
        value={step.carrier ?? null}
        none="no shape yet"
        but={subject}
        onChoose={(carrier) => put("another carrier", "carrier", carrier)}
      />{" "}
      <Choice label="Held by" value={step.by} options={BYS} onChoose={(by) => put(`held by its ${by}`, "by", by)} />,{" "}
      <Listening pointer={pointer} step={step} put={put} undriven={undriven} />
    </>
  );
}

export function RideMore({ pointer, step, put }: SentenceProps<"ride">) {
  const value = valuesOf("Ride", pointer);
  return (
    <>
      It is carried from where both are at{" "}
      <Choice
        label="Bound at"
        value={step.bound}
        options={BOUNDS}
        onChoose={(bound) => put(`bound at ${bound === "first" ? "the first frame" : "a frame"}`, "bound", bound)}
      />
      {step.bound === "frame" && <> {value("frame", "Frame", false)}</>}. Pieces{" "}
      <Choice
        label="Pieces"
        value={step.pieces}
        options={PIECES}
        onChoose={(pieces) => put(`pieces ${pieces}`, "pieces", pieces)}
      />
      . It counts by {value("amount", "Amount")}. <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

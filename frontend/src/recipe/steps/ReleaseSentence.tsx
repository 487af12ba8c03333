import { Choice } from "../../parts/Choice";
import { LevelAndBand } from "../LevelAndBand";
import { FieldChoice, type SentenceProps } from "./sentence";
import { ItemChoice, valuesOf, vectorsOf } from "./values";

const WAYS = [
  ["normal", "off the surface"],
  ["fixed", "in one direction"],
  ["away", "away from a controller"],
] as const;
const FLOORS = [
  ["height", "a level floor"],
  ["controller", "the plane of a controller"],
  ["none", "nothing"],
] as const;

export function ReleaseSentence({ pointer, step, put }: SentenceProps<"release">) {
  const value = valuesOf("Release", pointer);
  return (
    <>
      Release each piece or copy when it comes inside{" "}
      <FieldChoice pointer={pointer} step={step} put={put} everything="the first frame" />
      {step.field && <LevelAndBand field={step.field} />}, at {value("speed", "Speed")}{" "}
      <Choice label="Way" value={step.way} options={WAYS} onChoose={(way) => put(`start ${way}`, "way", way)} />
      {step.way === "away" && (
        <>
          {" "}
          <ItemChoice
            label="Away from"
            kind="controller"
            value={step.source ?? null}
            none="no controller yet"
            onChoose={(source) => put("away from", "source", source)}
          />
        </>
      )}
      {step.way === "fixed" && <> ({vectorsOf("Release", pointer)("direction", "Direction", false)})</>}, pulled down by{" "}
      {value("pull", "Pull", false)}, onto{" "}
      <Choice
        label="Floor"
        value={step.floor}
        options={FLOORS}
        onChoose={(floor) => put(`floor ${floor}`, "floor", floor)}
      />
      {step.floor === "height" && <> at {value("height", "Height of the floor", false)}</>}
      {step.floor === "controller" && (
        <>
          {" "}
          <ItemChoice
            label="Plane of"
            kind="controller"
            value={step.plane ?? null}
            none="no controller yet"
            onChoose={(plane) => put("plane of the floor", "plane", plane)}
          />
        </>
      )}
    </>
  );
}

export function ReleaseMore({ pointer, step }: SentenceProps<"release">) {
  const value = valuesOf("Release", pointer);
  return (
    <>
      Up to {value("stray", "Stray")} of the speed goes any way; some wait up to {value("wait", "Wait", false)} more. In
      the air it loses {value("drag", "Drag", false)} of its speed, is led round by {value("whirl", "Whirl", false)} and
      turns by up to {value("spin", "Spin", false)}.{" "}
      {step.floor !== "none" && (
        <>
          A bounce leaves {value("bounce", "Bounce", false)} of its speed, a touch takes{" "}
          {value("friction", "Friction", false)} of that along the floor.{" "}
        </>
      )}
      Its chances are number {value("seed", "Seed", false)}; it counts by {value("amount", "Amount")}.
    </>
  );
}

import { Choice } from "../../parts/Choice";
import { HowFar, SeedsChoice } from "./FrontChoices";
import { OwnLook } from "./OwnLook";
import { Listening, type SentenceProps, StepCurve } from "./sentence";
import { valuesOf } from "./values";

const WAYS = [
  ["inward", "eaten in from its surface"],
  ["outward", "grown out beyond its surface"],
  ["seeds", "eaten from seeds"],
] as const;
const RUNS = [
  ["forwards", "forwards"],
  ["backwards", "backwards, so that it comes into being"],
] as const;

export function ErodeSentence({ pointer, step, put, undriven }: SentenceProps<"erode">) {
  const value = valuesOf("Erode", pointer);
  return (
    <>
      The shape is <Choice label="Way" value={step.way} options={WAYS} onChoose={(way) => put(way, "way", way)} />
      {step.way === "seeds" && (
        <>
          {" "}
          inside <SeedsChoice seeds={step.seeds} put={put} />
        </>
      )}{" "}
      <HowFar by={step.by} put={put} speed={value("speed", "Speed")} share={<>{value("share", "Share")} of it</>} />,{" "}
      <Choice label="Run" value={step.run} options={RUNS} onChoose={(run) => put(run, "run", run)} />; as fast{" "}
      <Listening {...{ pointer, step, put, undriven }} />
    </>
  );
}

export function ErodeMore({ pointer, step, put }: SentenceProps<"erode">) {
  const value = valuesOf("Erode", pointer);
  return (
    <>
      In voxels of {value("voxel", "Voxel", false)}. It goes {value("at_most", "At most", false)} at most
      {step.way !== "outward" && " (0: any)"}. What is fast and what is slow are parted by{" "}
      {value("sharpness", "Sharpness", false)}; the front is smooth over {value("smooth", "Smooth", false)}
      {step.way !== "outward" && <>; bits under {value("least", "Smallest bits", false)} go at once</>}.
      {step.field && <> The field is read anew each {value("anew", "Read anew", false)} (0: once, at the start).</>}{" "}
      What is opened has <OwnLook pointer={pointer} of="what is opened" own={Boolean(step.look)} />. The pace counts by{" "}
      {value("amount", "Amount")}. <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

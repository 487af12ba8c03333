import { Choice } from "../../parts/Choice";
import { StepGroup } from "./StepGroup";
import { Listening, type SentenceProps, StepCurve } from "./sentence";
import { valuesOf } from "./values";

const PROFILES = [
  ["own", "as deep as they go"],
  ["flat", "flat"],
  ["round", "round"],
] as const;
const RIMS = [
  ["kept", "as much is raised beside it"],
  ["height", "its edges are raised"],
  ["none", "nothing is raised"],
] as const;

export function ImprintSentence({ pointer, step, put, undriven }: SentenceProps<"imprint">) {
  const value = valuesOf("Imprint", pointer);
  return (
    <>
      The shapes of <StepGroup pointer={pointer} group={step.group ?? null} put={put} /> press a track in,{" "}
      <Choice
        label="Profile"
        value={step.profile}
        options={PROFILES}
        onChoose={(profile) => put(`profile ${profile}`, "profile", profile)}
      />
      {step.profile === "own" ? (
        <>, {value("at_most", "At most")} at most (0: any)</>
      ) : (
        <>, {value("depth", "Depth")} deep</>
      )}
      ; <Choice label="Rim" value={step.rim} options={RIMS} onChoose={(rim) => put(`rim ${rim}`, "rim", rim)} />
      {step.rim === "height" && <> by {value("rim_height", "Rim height")}</>}
      {step.rim === "kept" && <> but for {value("packed", "Packed")} that is packed</>}
      {step.rim !== "none" && <>, over {value("rim_width", "Rim width", false)}</>},{" "}
      <Listening {...{ pointer, step, put, undriven }} />
    </>
  );
}

export function ImprintMore({ pointer, step, put }: SentenceProps<"imprint">) {
  const value = valuesOf("Imprint", pointer);
  return (
    <>
      Its edge is soft over {value("soft", "Soft", false)}; it is rough by {value("rough", "Rough")}, in grains of{" "}
      {value("grain", "Grain")}, chance {value("seed", "Seed", false)}. It comes back in {value("recovers", "Recovers")}{" "}
      (0: never). Edges of faces there are {value("finest", "Finest", false)} long at most (0: as they are). What comes
      as near as {value("margin", "Margin", false)} touches. It counts by {value("amount", "Amount")}.{" "}
      <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

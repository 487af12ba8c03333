import { Choice } from "../../parts/Choice";
import { AXES } from "../sources/clause";
import { SpaceChoice } from "./DeformingSentence";
import { HowFar, SeedsChoice } from "./FrontChoices";
import { OwnLook } from "./OwnLook";
import { Listening, type SentenceProps, StepCurve } from "./sentence";
import { valuesOf, vectorsOf } from "./values";

const BEGINNINGS = [
  ["back", "from its back end"],
  ["place", "from the place of"],
  ["seeds", "from where it is inside"],
] as const;
const ENDS = [
  ["low", "from low to high"],
  ["high", "from high to low"],
] as const;
const BENEATH = [
  ["kept", "stays"],
  ["gone", "is taken away"],
] as const;

export function CoatSentence({ pointer, step, put, undriven }: SentenceProps<"coat">) {
  const value = valuesOf("Coat", pointer);
  return (
    <>
      A coat {value("thick", "Thick")} thick spreads{" "}
      <Choice
        label="Begins"
        value={step.begins_at}
        options={BEGINNINGS}
        onChoose={(begins) => put("another beginning", "begins_at", begins)}
      />{" "}
      {step.begins_at === "back" && (
        <>
          along{" "}
          <Choice
            label="Axis"
            value={step.axis}
            options={AXES}
            onChoose={(axis) => put(`along ${axis}`, "axis", axis)}
          />{" "}
          of <SpaceChoice controller={step.controller ?? null} none="its own space" put={put} />,{" "}
          <Choice label="End" value={step.end} options={ENDS} onChoose={(end) => put("another end", "end", end)} />
        </>
      )}
      {step.begins_at === "place" && (
        <SpaceChoice controller={step.controller ?? null} none="no controller yet" put={put} />
      )}
      {step.begins_at === "seeds" && <SeedsChoice seeds={step.seeds} put={put} />}{" "}
      <HowFar
        by={step.by}
        put={put}
        speed={value("speed", "Speed")}
        share={<>{value("share", "Share")} of all that it comes to</>}
      />
      ; as fast <Listening {...{ pointer, step, put, undriven }} />
    </>
  );
}

export function CoatMore({ pointer, step, put }: SentenceProps<"coat">) {
  const value = valuesOf("Coat", pointer);
  const vector = vectorsOf("Coat", pointer);
  return (
    <>
      Its edge is {value("width", "Width", false)} wide and bulges by {value("bulge", "Bulge")}. Drips:{" "}
      {value("drips", "Drips", false)} of all that there is room for
      {step.drips > 0 && (
        <>
          , {value("drip_length", "Drip length", false)} long and {value("drip_width", "Drip width", false)} wide,
          pulled along {vector("pull", "Pull")} of the world, by the chances of number {value("seed", "Seed", false)}
        </>
      )}
      . Edges of its faces are no longer than {value("finest", "Finest", false)}. The surface beneath it{" "}
      <Choice
        label="Beneath"
        value={step.beneath}
        options={BENEATH}
        onChoose={(beneath) => put("the surface beneath", "beneath", beneath)}
      />
      . It has <OwnLook pointer={pointer} of="the coat" own={Boolean(step.look)} />. The pace counts by{" "}
      {value("amount", "Amount")}. <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

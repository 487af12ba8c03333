import type { ComponentType } from "react";
import type { Finish } from "../document/types";
import { Choice } from "../parts/Choice";
import { ColourValue } from "../parts/ColourValue";
import { CurveEditor } from "../parts/CurveEditor";
import { useShot } from "../parts/editing";
import { FocusButton } from "../parts/FocusButton";
import { valuesOf, vectorsOf } from "../recipe/steps/values";
import type { FinishProps } from "./sentence";

/** The sentences of all kinds of finishing steps. A new kind has its line here, and nowhere else in the page. */
const FINISHES: { [Kind in Finish["kind"]]: ComponentType<FinishProps<Kind>> } = {
  colour_fringe: ColourFringeSentence,
  depth_of_field: DepthOfFieldSentence,
  exposure: ExposureSentence,
  fade_to_colour: FadeSentence,
  glow: GlowSentence,
  grade: GradeSentence,
  grain: GrainSentence,
  sharpen: SharpenSentence,
  tone_curve: ToneCurveSentence,
  vignette: VignetteSentence,
  white_balance: WhiteBalanceSentence,
};

type AnyFinish = Omit<FinishProps<Finish["kind"]>, "step"> & { step: Finish };

/** The sentence of a finishing step, whichever it is. */
export function FinishSentence(props: AnyFinish) {
  const Sentence = FINISHES[props.step.kind] as ComponentType<AnyFinish>;
  return <Sentence {...props} />;
}

const SHINING = [
  ["what shines", "what shines"],
  ["what is bright", "what is brighter than"],
] as const;

function GlowSentence({ pointer, step, put }: FinishProps<"glow">) {
  const value = valuesOf("Glow", pointer);
  return (
    <>
      Light spreads about{" "}
      <Choice label="About what" value={step.of} options={SHINING} onChoose={(of) => put(`glow of ${of}`, "of", of)} />{" "}
      {step.of === "what is bright" && <>{value("level", "Brightness from which it glows")} </>}
      by {value("strength", "Strength of the glow")}, {value("reach", "Reach of the glow")} of the height wide
    </>
  );
}

function DepthOfFieldSentence({ pointer, step, put }: FinishProps<"depth_of_field">) {
  const value = valuesOf("DepthOfField", pointer);
  const items = useShot((shot) => shot.items);
  const named = Object.entries(items).map(([key, { name }]) => [key, name] as const);
  return (
    <>
      Out of focus as at f-number {value("f_number", "F-number")}, sharp at{" "}
      <Choice
        label="What is sharp"
        value={step.focus_on ?? ""}
        options={[["", "a distance of"], ...named]}
        onChoose={(item) => put("what is sharp", "focus_on", item || null)}
      />{" "}
      {!step.focus_on && value("focus", "Metres to what is sharp")} <FocusButton pointer={pointer} />
    </>
  );
}

function ExposureSentence({ pointer }: FinishProps<"exposure">) {
  return <>Brighter by {valuesOf("Exposure", pointer)("stops", "Stops brighter")} stops</>;
}

function WhiteBalanceSentence({ pointer }: FinishProps<"white_balance">) {
  const value = valuesOf("WhiteBalance", pointer);
  return (
    <>
      Light of {value("temperature", "Temperature")} looks white, tinted by {value("tint", "Tint")} (below 0 green,
      above magenta)
    </>
  );
}

function GradeSentence({ pointer }: FinishProps<"grade">) {
  const vector = vectorsOf("Grade", pointer);
  return (
    <>
      Red, green and blue times {vector("slope", "Slope")}, plus {vector("offset", "Offset")}, to the power of{" "}
      {vector("power", "Power")}; saturation {valuesOf("Grade", pointer)("saturation", "Saturation")}
    </>
  );
}

const COLOURS = [
  ["all colours", "all colours"],
  ["red", "red"],
  ["green", "green"],
  ["blue", "blue"],
] as const;

function ToneCurveSentence({ pointer, step, put }: FinishProps<"tone_curve">) {
  return (
    <>
      Take{" "}
      <Choice label="What goes through it" value={step.of} options={COLOURS} onChoose={(of) => put(of, "of", of)} />{" "}
      through a curve, dark to bright
      <CurveEditor pointer={`${pointer}/curve`} curve={step.curve} label="Curve of brightness" />
    </>
  );
}

function VignetteSentence({ pointer }: FinishProps<"vignette">) {
  const value = valuesOf("Vignette", pointer);
  return (
    <>
      The corners are darker by {value("stops", "Stops darker")} stops, from {value("start", "Where it starts")} of the
      way there, as round as {value("roundness", "Roundness")}
    </>
  );
}

function ColourFringeSentence({ pointer }: FinishProps<"colour_fringe">) {
  return <>Red and blue come apart by {valuesOf("ColourFringe", pointer)("spread", "Spread")} in the corners</>;
}

const MOVING = [
  ["moving", "new in each frame"],
  ["still", "that stands still"],
] as const;

function GrainSentence({ pointer, step, put }: FinishProps<"grain">) {
  const value = valuesOf("Grain", pointer);
  return (
    <>
      Grain{" "}
      <Choice
        label="Whether it moves"
        value={step.moves ? "moving" : "still"}
        options={MOVING}
        onChoose={(way) => put(`${way} grain`, "moves", way === "moving")}
      />
      , as strong as {value("strength", "Strength of the grain")}, {value("size", "Size of a grain")} of the height
      wide, {value("coloured", "How coloured")} coloured, by seed {value("seed", "Seed", false)}
    </>
  );
}

function SharpenSentence({ pointer }: FinishProps<"sharpen">) {
  const value = valuesOf("Sharpen", pointer);
  return (
    <>
      Edges stand out by {value("strength", "Strength")}, over {value("reach", "Reach")} of the height
    </>
  );
}

function FadeSentence({ pointer }: FinishProps<"fade_to_colour">) {
  return (
    <>
      Fade to <ColourValue pointer={`${pointer}/colour`} label="Colour that it fades to" /> by{" "}
      {valuesOf("FadeToColour", pointer)("share", "How far")}
    </>
  );
}

import { FIRST_CURVE } from "../../document/curves";
import { SmallButton } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { CurveEditor } from "../../parts/CurveEditor";
import { AXES } from "../sources/clause";
import { Listening, type SentenceProps, StepCurve } from "./sentence";
import { ItemChoice, valuesOf } from "./values";

const LENGTHS = [
  ["stretched", "reaching to"],
  ["kept", "as long as it is"],
] as const;

export function LieAlongSentence({ pointer, step, put, undriven }: SentenceProps<"lie_along">) {
  const value = valuesOf("LieAlong", pointer);
  return (
    <>
      Lie along{" "}
      <ItemChoice
        label="Path that it lies along"
        kind="path"
        value={step.path ?? null}
        none="no path yet"
        onChoose={(path) => put("lies along another path", "path", path)}
      />{" "}
      with its{" "}
      <Choice label="Axis" value={step.axis} options={AXES} onChoose={(axis) => put(`lies by ${axis}`, "axis", axis)} />
      , from {value("start", "Start")} of it,{" "}
      <Choice
        label="Length"
        value={step.length}
        options={LENGTHS}
        onChoose={(length) => put(`length ${length}`, "length", length)}
      />
      {step.length === "stretched" && <> {value("end", "End")}</>},{" "}
      <Listening pointer={pointer} step={step} put={put} undriven={undriven} />
    </>
  );
}

export function LieAlongMore({ pointer, step, put }: SentenceProps<"lie_along">) {
  const value = valuesOf("LieAlong", pointer);
  return (
    <>
      It is {value("thickness", "Thickness")} as thick{" "}
      <Along
        pointer={pointer}
        put={put}
        name="thick_along"
        label="Thickness along it"
        curve={step.thick_along ?? null}
      />
      , turned by {value("turn", "Turn")}{" "}
      <Along pointer={pointer} put={put} name="turn_along" label="Turn along it" curve={step.turn_along ?? null} />, and
      counts by {value("amount", "Amount")}. <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

type AlongProps = {
  pointer: string;
  put: SentenceProps<"lie_along">["put"];
  name: "thick_along" | "turn_along";
  label: string;
  curve: SentenceProps<"lie_along">["step"]["thick_along"] | null;
};

/** What is alike all along the shape, or follows a curve from its low end to its high end. */
function Along({ pointer, put, name, label, curve }: AlongProps) {
  if (!curve)
    return (
      <SmallButton aria-label={`all along: ${label} by a curve`} onPress={() => put(label, name, FIRST_CURVE)}>
        all along
      </SmallButton>
    );
  return (
    <>
      <SmallButton aria-label={`by a curve: ${label} without one`} onPress={() => put(`${label} even`, name, null)}>
        by a curve
      </SmallButton>
      <CurveEditor pointer={`${pointer}/${name}`} curve={curve} label={label} />
    </>
  );
}

import { Choice } from "../../parts/Choice";
import { AXES } from "../sources/clause";
import { Listening, type SentenceProps, StepCurve } from "./sentence";
import { ItemChoice, valuesOf } from "./values";

/** What deforms between two places along an axis. */
type Deforming = SentenceProps<"bend"> | SentenceProps<"twist"> | SentenceProps<"taper">;

const MODELS = { bend: "Bend", twist: "Twist", taper: "Taper" } as const;

/** From where to where, along which axis of whose space, and by which field. */
function Region({ pointer, step, put, undriven }: Deforming) {
  const value = valuesOf(MODELS[step.kind], pointer);
  return (
    <>
      between {value("start", "Start")} and {value("end", "End")} along{" "}
      <Choice label="Axis" value={step.axis} options={AXES} onChoose={(axis) => put(`along ${axis}`, "axis", axis)} />{" "}
      of <SpaceChoice controller={step.controller ?? null} none="its own space" put={put} />,{" "}
      <Listening pointer={pointer} step={step} put={put} undriven={undriven} />
    </>
  );
}

/** A controller in whose space something happens, or the shape's own. */
export function SpaceChoice({
  controller,
  none,
  put,
}: {
  controller: string | null;
  none: string;
  put: Deforming["put"];
}) {
  return (
    <ItemChoice
      label="In whose space"
      kind="controller"
      value={controller}
      none={none}
      onChoose={(chosen) => put("in another space", "controller", chosen)}
    />
  );
}

export function BendSentence(props: SentenceProps<"bend">) {
  const value = valuesOf("Bend", props.pointer);
  return (
    <>
      Bend by {value("angle", "Angle")}, turned to {value("toward", "Toward")}, <Region {...props} />
    </>
  );
}

export function TwistSentence(props: SentenceProps<"twist">) {
  const value = valuesOf("Twist", props.pointer);
  return (
    <>
      Twist by {value("angle", "Angle")} <Region {...props} />
    </>
  );
}

export function TaperSentence(props: SentenceProps<"taper">) {
  const value = valuesOf("Taper", props.pointer);
  return (
    <>
      Taper to {value("size", "Size")} <Region {...props} />
    </>
  );
}

export function DeformingMore({ pointer, step, put }: Deforming) {
  const value = valuesOf(MODELS[step.kind], pointer);
  return (
    <>
      It counts by {value("amount", "Amount")}. <StepCurve pointer={pointer} step={step} put={put} />
    </>
  );
}

import { change } from "../../document/changing";
import { FIRST_CURVE } from "../../document/curves";
import { inOrder, type Step } from "../../document/types";
import { SmallButton } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { CurveEditor } from "../../parts/CurveEditor";
import { useEditing, useShot } from "../../parts/editing";
import { LevelAndBand } from "../LevelAndBand";

/** What the sentence of a step is given. */
export type SentenceProps<Kind extends Step["kind"]> = {
  pointer: string;
  step: Extract<Step, { kind: Kind }>;
  put: (label: string, name: string, value: unknown) => void;
  undriven: boolean;
};

/** What a step listens to in its field. */
const ZONES = [
  ["value", "by the value of"],
  ["inside", "inside"],
  ["band", "in the band of"],
  ["outside", "outside"],
] as const;

const NEW = "a new field";

/** Which field drives a step: one of the shot's, a new one, or none. */
export function FieldChoice({
  step,
  put,
  everything,
  pointer,
}: {
  step: Step;
  put: SentenceProps<Step["kind"]>["put"];
  everything: string;
  pointer: string;
}) {
  const editing = useEditing();
  const fields = useShot((shot) => shot.fields);
  const choices = [
    ...inOrder(fields).map(([key, one]) => [key, `${one.letter} ${one.name}`] as const),
    [NEW, NEW] as const,
    ["", everything] as const,
  ];
  return (
    <Choice
      label="Field"
      tone="field"
      value={step.field ?? ""}
      options={choices}
      onChoose={(chosen) => {
        if (chosen !== NEW) return put("field", "field", chosen === "" ? null : chosen);
        const [, , item = "", , , step = ""] = pointer.split("/");
        void change(editing, { kind: "drive_by_new_field", item, step });
      }}
    />
  );
}

/** What a weighted step listens to: a zone of a field, with its level and band where they count; or nothing. */
export function Listening({
  pointer,
  step,
  put,
  undriven,
}: SentenceProps<Exclude<Step["kind"], "cut_away" | "release" | "shed" | "slice">>) {
  return (
    <>
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

/** The curve between the zone's weight and the step. */
export function StepCurve({
  pointer,
  step,
  put,
}: {
  pointer: string;
  step: Extract<Step, { curve?: unknown }>;
  put: SentenceProps<Step["kind"]>["put"];
}) {
  if (!step.field) return null;
  if (!step.curve) {
    return (
      <SmallButton onPress={() => put("a curve", "curve", FIRST_CURVE)}>Take the field through a curve</SmallButton>
    );
  }
  return (
    <>
      The field is taken through a curve:
      <CurveEditor pointer={`${pointer}/curve`} curve={step.curve} label="Curve of the step" />
    </>
  );
}

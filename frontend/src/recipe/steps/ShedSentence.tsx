import { FIRST_CURVE } from "../../document/curves";
import { SmallButton } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { CurveEditor } from "../../parts/CurveEditor";
import { RampEditor } from "../../parts/RampEditor";
import { LevelAndBand } from "../LevelAndBand";
import { LookSentence } from "../LookSentence";
import { FORMS } from "./ScatterSentence";
import { FieldChoice, type SentenceProps } from "./sentence";
import { valuesOf } from "./values";

const BORN = [
  ["band", "from the band of"],
  ["solid", "from the solid, as they are reached by"],
] as const;

export function ShedSentence({ pointer, step, put }: SentenceProps<"shed">) {
  const value = valuesOf("Shed", pointer);
  return (
    <>
      Shed {step.born === "solid" ? value("count", "Count", false) : value("rate", "Rate", false)}{" "}
      <Choice label="Shed what" value={step.what} options={FORMS} onChoose={(what) => put(what, "what", what)} />{" "}
      {value("size", "Size")} large{" "}
      <Choice label="Born" value={step.born} options={BORN} onChoose={(born) => put(born, "born", born)} />{" "}
      <FieldChoice pointer={pointer} step={step} put={put} everything="no field yet" />
      {step.field && <LevelAndBand field={step.field} />}, living {value("life", "Life", false)}, off at{" "}
      {value("speed", "Speed", false)}, pulled down by {value("pull", "Pull", false)}
    </>
  );
}

export function ShedMore({ pointer, step, put }: SentenceProps<"shed">) {
  const value = valuesOf("Shed", pointer);
  return (
    <>
      Up to {value("stray", "Stray", false)} of the speed goes any way; they lose {value("drag", "Drag", false)} of it,
      are led round by {value("whirl", "Whirl", false)} and turn by up to {value("spin", "Spin", false)}. Some are up to{" "}
      {value("vary", "Vary", false)} smaller and shorter-lived. Chances are number {value("seed", "Seed", false)}. Over
      a life they shine {value("glow", "Glow")} strong through
      <RampEditor pointer={`${pointer}/ramp`} ramp={step.ramp} of="colours" />
      {step.over_life ? (
        <>
          and their size follows
          <CurveEditor pointer={`${pointer}/over_life`} curve={step.over_life} label="Size over a life" />
        </>
      ) : (
        <SmallButton onPress={() => put("a curve", "over_life", FIRST_CURVE)}>
          Let their size follow a curve
        </SmallButton>
      )}{" "}
      They have <LookSentence pointer={`${pointer}/look`} backs={false} />.
    </>
  );
}

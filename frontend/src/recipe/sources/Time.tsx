import { quantity } from "../../document/quantities";
import { Choice } from "../../parts/Choice";
import { NumberValue } from "../../parts/NumberValue";
import type { ClauseProps } from "./clause";
import { Falling } from "./Falling";

const FORMS = [
  ["ramp", "a ramp of time"],
  ["pulse", "a pulse in time"],
  ["beat", "a beat in time"],
] as const;
const STAGGERS = [
  ["none", "everywhere at once"],
  ["order", "place after place"],
  ["chance", "each place by chance"],
  ["distance", "later with distance"],
] as const;

export function Time({ pointer, source, put, controllers }: ClauseProps<"time">) {
  const value = (name: string, label: string, keyable = true) => (
    <NumberValue pointer={`${pointer}/${name}`} quantity={quantity("Time", name)} label={label} keyable={keyable} />
  );
  const staggers = controllers.length > 0 ? STAGGERS : STAGGERS.slice(0, 3);
  return (
    <>
      <Choice label="Form" value={source.form} options={FORMS} onChoose={(form) => put(form, "form", form)} /> from{" "}
      {value("start", "Start")} over {value("length", "Length")}
      {source.form === "beat" && <>, again every {value("every", "Every")}</>}, going{" "}
      <Falling fall={source.fall} put={put} />,{" "}
      <Choice
        label="Stagger"
        value={source.stagger}
        options={staggers}
        onChoose={(stagger) => put(`stagger by ${stagger}`, "stagger", stagger)}
      />
      {(source.stagger === "order" || source.stagger === "chance") && <>, the last {value("spread", "Delay")} later</>}
      {source.stagger === "chance" && <>, chance {value("seed", "Seed", false)}</>}
      {source.stagger === "distance" && (
        <>
          {" "}
          from{" "}
          <Choice
            label="Controller"
            value={source.controller ?? ""}
            options={source.controller ? controllers : [["", "no controller yet"], ...controllers]}
            onChoose={(item) => put("controller", "controller", item || null)}
          />
          , {value("wait", "Wait")}
        </>
      )}
    </>
  );
}

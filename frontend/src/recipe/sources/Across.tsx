import { quantity } from "../../document/quantities";
import { Choice } from "../../parts/Choice";
import { More } from "../../parts/More";
import { NumberValue } from "../../parts/NumberValue";
import { AXES, type ClauseProps } from "./clause";
import { Falling } from "./Falling";

const EDGES = [
  ["straight", "straight"],
  ["wavering", "wavering"],
  ["steps", "in steps"],
] as const;

export function Across({ pointer, source, put, controllers }: ClauseProps<"across">) {
  const value = (name: string, label: string, keyable = true) => (
    <NumberValue pointer={`${pointer}/${name}`} quantity={quantity("Across", name)} label={label} keyable={keyable} />
  );
  return (
    <>
      <b>across</b>{" "}
      <Choice
        label="Controller"
        value={source.controller}
        options={controllers}
        onChoose={(item) => put("controller", "controller", item)}
      />{" "}
      along its <Choice label="Axis" value={source.axis} options={AXES} onChoose={(axis) => put(axis, "axis", axis)} />,
      come to {value("at", "Place of the sweep")}, falling <Falling fall={source.fall} put={put} /> over{" "}
      {value("soft", "Soft")}, its edge{" "}
      <Choice label="Edge" value={source.edge} options={EDGES} onChoose={(edge) => put(`${edge} edge`, "edge", edge)} />
      {source.edge === "wavering" && (
        <>
          {" "}
          by {value("wave", "Wave")} in waves of {value("wave_size", "Wave size")}
          <More of="the waves">
            , changing {value("evolution", "Change of the waves")}, chance {value("seed", "Seed", false)}
          </More>
        </>
      )}
      {source.edge === "steps" && <> of {value("step", "Step")}</>}
    </>
  );
}

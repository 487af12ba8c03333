import { quantity } from "../../document/quantities";
import { Choice } from "../../parts/Choice";
import { NumberValue } from "../../parts/NumberValue";
import { AXES, type ClauseProps } from "./clause";
import { Falling } from "./Falling";

const FORMS = [
  ["box", "a box"],
  ["slab", "a slab"],
] as const;

export function Within({ pointer, source, put, controllers }: ClauseProps<"within">) {
  const size = quantity("Within", "size");
  const side = (axis: 0 | 1 | 2) => (
    <NumberValue pointer={`${pointer}/size`} axis={axis} quantity={size} label={`Size along ${AXES[axis]?.[1]}`} />
  );
  return (
    <>
      <b>within</b>{" "}
      <Choice label="Form" value={source.form} options={FORMS} onChoose={(form) => put(form, "form", form)} /> about{" "}
      <Choice
        label="Controller"
        value={source.controller}
        options={controllers}
        onChoose={(item) => put("controller", "controller", item)}
      />
      {source.form === "box" ? (
        <>
          , {side(0)} by {side(1)} by {side(2)}
        </>
      ) : (
        <>
          , {side(source.axis === "x" ? 0 : source.axis === "y" ? 1 : 2)} thick along its{" "}
          <Choice label="Axis" value={source.axis} options={AXES} onChoose={(axis) => put(axis, "axis", axis)} />
        </>
      )}
      , falling <Falling fall={source.fall} put={put} /> over{" "}
      <NumberValue pointer={`${pointer}/soft`} quantity={quantity("Within", "soft")} label="Soft" /> outside
    </>
  );
}

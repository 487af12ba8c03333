import { quantity } from "../../document/quantities";
import { Choice } from "../../parts/Choice";
import { NumberValue } from "../../parts/NumberValue";
import type { ClauseProps } from "./clause";

const ZONES = [
  ["value", "the value of"],
  ["inside", "the inside of"],
  ["band", "the band of"],
  ["outside", "the outside of"],
  ["age", "the age of"],
] as const;

export function Another({ pointer, source, put, fields }: ClauseProps<"another">) {
  const value = (name: string, label: string) => (
    <NumberValue pointer={`${pointer}/${name}`} quantity={quantity("AnotherField", name)} label={label} />
  );
  return (
    <>
      <Choice label="Zone" value={source.zone} options={ZONES} onChoose={(zone) => put(zone, "zone", zone)} />{" "}
      <Choice
        label="Other field"
        tone="field"
        value={source.field}
        options={fields}
        onChoose={(field) => put("other field", "field", field)}
      />
      {source.zone === "age" && <>, full after {value("full", "Full age")}</>}, {value("lag", "Lag")} later
    </>
  );
}

import { quantity } from "../../document/quantities";
import { Choice } from "../../parts/Choice";
import { NumberValue } from "../../parts/NumberValue";
import type { ClauseProps } from "./clause";

const SPACES = [
  ["rest", "on the shape"],
  ["world", "in the world"],
] as const;

export function Noise({ pointer, source, put }: ClauseProps<"noise">) {
  const value = (name: string, label: string, keyable = true) => (
    <NumberValue pointer={`${pointer}/${name}`} quantity={quantity("Noise", name)} label={label} keyable={keyable} />
  );
  return (
    <>
      <b>noise</b> of {value("size", "Noise size")} in {value("octaves", "Octaves", false)} octaves, contrast{" "}
      {value("contrast", "Contrast")}, fixed{" "}
      <Choice
        label="Space"
        value={source.space}
        options={SPACES}
        onChoose={(space) => put(`noise ${space}`, "space", space)}
      />
      , pattern {value("seed", "Seed", false)}
    </>
  );
}

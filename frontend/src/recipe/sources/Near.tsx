import { quantity } from "../../document/quantities";
import { Choice } from "../../parts/Choice";
import { NumberValue } from "../../parts/NumberValue";
import { ClauseGroup } from "./ClauseGroup";
import type { ClauseProps } from "./clause";
import { Falling } from "./Falling";

const INSIDES = [
  ["counted", "counted as near"],
  ["not counted", "measured like the outside"],
] as const;

export function Near({ pointer, source, put, subject }: ClauseProps<"near">) {
  const value = (name: string, label: string) => (
    <NumberValue pointer={`${pointer}/${name}`} quantity={quantity("Near", name)} label={label} />
  );
  return (
    <>
      <b>near</b> the shapes of <ClauseGroup pointer={pointer} group={source.group} put={put} subject={subject} />, up
      to {value("reach", "Reach")}, falling <Falling fall={source.fall} put={put} /> over {value("soft", "Soft")},
      inside them{" "}
      <Choice
        label="Inside"
        value={source.inside}
        options={INSIDES}
        onChoose={(inside) => put(`inside ${inside}`, "inside", inside)}
      />
    </>
  );
}

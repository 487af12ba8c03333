import { quantity } from "../../document/quantities";
import { Choice } from "../../parts/Choice";
import { More } from "../../parts/More";
import { NumberValue } from "../../parts/NumberValue";
import { ClauseGroup } from "./ClauseGroup";
import type { ClauseProps } from "./clause";
import { Falling } from "./Falling";

const WAYS = [
  ["outward", "outward"],
  ["inward", "inward"],
] as const;

export function Crests({ pointer, source, put, subject }: ClauseProps<"crests">) {
  const value = (name: string, label: string, keyable = true) => (
    <NumberValue pointer={`${pointer}/${name}`} quantity={quantity("Crests", name)} label={label} keyable={keyable} />
  );
  return (
    <>
      <b>crests</b> {value("length", "Length")} apart that run at {value("speed", "Speed")}{" "}
      <Choice label="Way" value={source.way} options={WAYS} onChoose={(way) => put(way, "way", way)} /> from the shapes
      of <ClauseGroup pointer={pointer} group={source.group} put={put} subject={subject} />, up to{" "}
      {value("reach", "Reach")}, broken by {value("breaks", "Breaks")}
      <More of="the crests">
        , fading <Falling fall={source.fall} put={put} /> over {value("soft", "Soft")}, ending after{" "}
        {value("count", "Count")} crests (0: at their reach), hard by {value("hard", "Hard")}. Dashes go{" "}
        {value("dash", "Dash")} round and are alike for {value("across", "Across")}, chance{" "}
        {value("seed", "Seed", false)}. Shapes {value("gap", "Gap")} away set off nothing
      </More>
    </>
  );
}

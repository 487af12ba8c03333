import { change } from "../../document/changing";
import { quantity } from "../../document/quantities";
import { Choice } from "../../parts/Choice";
import { useEditing } from "../../parts/editing";
import { More } from "../../parts/More";
import { NumberValue } from "../../parts/NumberValue";
import { GroupChoice } from "../GroupChoice";
import type { ClauseProps } from "./clause";
import { Falling } from "./Falling";

const WAYS = [
  ["outward", "outward"],
  ["inward", "inward"],
] as const;

export function Crests({ pointer, source, put, subject }: ClauseProps<"crests">) {
  const editing = useEditing();
  const value = (name: string, label: string, keyable = true) => (
    <NumberValue pointer={`${pointer}/${name}`} quantity={quantity("Crests", name)} label={label} keyable={keyable} />
  );
  return (
    <>
      <b>crests</b> {value("length", "Length")} apart that run at {value("speed", "Speed")}{" "}
      <Choice label="Way" value={source.way} options={WAYS} onChoose={(way) => put(way, "way", way)} /> from the shapes
      of{" "}
      <GroupChoice
        group={source.group}
        subject={subject}
        onChoose={(group) => put("group", "group", group)}
        onNew={() => {
          const [, , field = "", , clause = ""] = pointer.split("/");
          void change(editing, { kind: "measure_from_new_group", field, source: clause });
        }}
      />
      , up to {value("reach", "Reach")}, broken by {value("breaks", "Breaks")}
      <More of="the crests">
        , fading <Falling fall={source.fall} put={put} /> over {value("soft", "Soft")}, at most{" "}
        {value("count", "Count")} of them, hard by {value("hard", "Hard")}. Dashes go {value("dash", "Dash")} round and
        are alike for {value("across", "Across")}, chance {value("seed", "Seed", false)}. Shapes {value("gap", "Gap")}{" "}
        away set off nothing
      </More>
    </>
  );
}

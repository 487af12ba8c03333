import { change } from "../../document/changing";
import { quantity } from "../../document/quantities";
import { Choice } from "../../parts/Choice";
import { useEditing } from "../../parts/editing";
import { NumberValue } from "../../parts/NumberValue";
import { GroupChoice } from "../GroupChoice";
import type { ClauseProps } from "./clause";
import { Falling } from "./Falling";

const INSIDES = [
  ["counted", "counted as near"],
  ["not counted", "measured like the outside"],
] as const;

export function Near({ pointer, source, put, subject }: ClauseProps<"near">) {
  const editing = useEditing();
  const value = (name: string, label: string) => (
    <NumberValue pointer={`${pointer}/${name}`} quantity={quantity("Near", name)} label={label} />
  );
  return (
    <>
      <b>near</b> the shapes of{" "}
      <GroupChoice
        group={source.group}
        subject={subject}
        onChoose={(group) => put("group", "group", group)}
        onNew={() => {
          const [, , field = "", , clause = ""] = pointer.split("/");
          void change(editing, { kind: "measure_from_new_group", field, source: clause });
        }}
      />
      , up to {value("reach", "Reach")}, falling <Falling fall={source.fall} put={put} /> over {value("soft", "Soft")},
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

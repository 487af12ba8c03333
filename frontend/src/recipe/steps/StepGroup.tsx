import { change } from "../../document/changing";
import { useEditing } from "../../parts/editing";
import { GroupChoice } from "../GroupChoice";

/** The shape and the step that a step's place in the document names. */
export function placeOf(pointer: string): { item: string; step: string } {
  const [, , item = "", , , step = ""] = pointer.split("/");
  return { item, step };
}

type Props = {
  pointer: string;
  group: string | null;
  put: (label: string, name: string, value: string | null) => void;
};

/** The group whose shapes a step reads, or a new one for it. */
export function StepGroup({ pointer, group, put }: Props) {
  const editing = useEditing();
  return (
    <GroupChoice
      group={group}
      none="no group yet"
      subject={placeOf(pointer).item}
      onChoose={(chosen) => put("group", "group", chosen)}
      onNew={() => void change(editing, { kind: "read_new_group", ...placeOf(pointer) })}
    />
  );
}

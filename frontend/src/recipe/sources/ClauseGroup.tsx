import { change } from "../../document/changing";
import { useEditing } from "../../parts/editing";
import { GroupChoice } from "../GroupChoice";
import type { ClauseProps } from "./clause";

type Props = Pick<ClauseProps<"near" | "crests" | "contact">, "pointer" | "put" | "subject"> & { group: string };

/** The group whose shapes a clause measures from, or a new one for it. */
export function ClauseGroup({ pointer, group, put, subject }: Props) {
  const editing = useEditing();
  const [, , field = "", , source = ""] = pointer.split("/");
  return (
    <GroupChoice
      group={group}
      subject={subject}
      onChoose={(chosen) => put("group", "group", chosen)}
      onNew={() => void change(editing, { kind: "measure_from_new_group", field, source })}
    />
  );
}

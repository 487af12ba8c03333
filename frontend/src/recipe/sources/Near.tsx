import { change } from "../../document/changing";
import { quantity } from "../../document/quantities";
import { inOrder } from "../../document/types";
import { SmallButton } from "../../parts/Button";
import { Choice, CommandMenu } from "../../parts/Choice";
import { useEditing, useShot } from "../../parts/editing";
import { NumberValue } from "../../parts/NumberValue";
import type { ClauseProps } from "./clause";
import { Falling } from "./Falling";

const INSIDES = [
  ["counted", "counted as near"],
  ["not counted", "measured like the outside"],
] as const;
const NEW = "a new group";

export function Near({ pointer, source, put, groups, subject }: ClauseProps<"near">) {
  const editing = useEditing();
  const items = useShot((shot) => shot.items);
  const members = useShot((shot) => shot.groups[source.group]?.members ?? {});
  const shapes = inOrder(items).filter(([id, item]) => item.kind === "shape" && id !== subject);
  const named = shapes.filter(([id]) => id in members).map(([, item]) => item.name);
  const value = (name: string, label: string) => (
    <NumberValue pointer={`${pointer}/${name}`} quantity={quantity("Near", name)} label={label} />
  );
  return (
    <>
      <b>near</b> the shapes of{" "}
      <Choice
        label="Group"
        value={source.group}
        options={[...groups, [NEW, NEW]]}
        onChoose={(group) => {
          if (group !== NEW) return put("group", "group", group);
          const [, , field = "", , clause = ""] = pointer.split("/");
          void change(editing, { kind: "measure_from_new_group", field, source: clause });
        }}
      />{" "}
      (
      <CommandMenu
        label="Shapes of the group"
        commands={shapes.map(([id, item]) => [
          id in members ? `Without ${item.name}` : `With ${item.name}`,
          () => void change(editing, { kind: "change_member", group: source.group, item: id }),
        ])}
      >
        <SmallButton aria-label="Shapes of the group">{named.join(", ") || "no shape yet"}</SmallButton>
      </CommandMenu>
      ), up to {value("reach", "Reach")}, falling <Falling fall={source.fall} put={put} /> over {value("soft", "Soft")},
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

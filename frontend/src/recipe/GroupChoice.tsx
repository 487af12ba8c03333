import { change } from "../document/changing";
import { inOrder } from "../document/types";
import { SmallButton } from "../parts/Button";
import { Choice, CommandMenu } from "../parts/Choice";
import { useEditing, useShot } from "../parts/editing";

const NEW = "a new group";

type Props = {
  group: string | null;
  /** What may be chosen in place of a group, where nothing may. */
  none?: string;
  /** The shape that is in no such group. */
  subject: string;
  onChoose: (group: string | null) => void;
  onNew: () => void;
};

/** A group of the shot, or a new one; and which shapes are in it. */
export function GroupChoice({ group, none, subject, onChoose, onNew }: Props) {
  const editing = useEditing();
  const items = useShot((shot) => shot.items);
  const groups = useShot((shot) => shot.groups);
  const members = group ? (groups[group]?.members ?? {}) : {};
  const shapes = inOrder(items).filter(([id, item]) => item.kind === "shape" && id !== subject);
  const named = shapes.filter(([id]) => id in members).map(([, item]) => item.name);
  const choices = inOrder(groups).map(([key, one]) => [key, one.name] as const);
  return (
    <>
      <Choice
        label="Group"
        value={group ?? ""}
        options={[...(none ? [["", none] as const] : []), ...choices, [NEW, NEW]]}
        onChoose={(chosen) => (chosen === NEW ? onNew() : onChoose(chosen || null))}
      />
      {group && (
        <>
          {" "}
          (
          <CommandMenu
            label="Shapes of the group"
            commands={shapes.map(([id, item]) => [
              id in members ? `Without ${item.name}` : `With ${item.name}`,
              () => void change(editing, { kind: "change_member", group, item: id }),
            ])}
          >
            <SmallButton aria-label="Shapes of the group">{named.join(", ") || "no shape yet"}</SmallButton>
          </CommandMenu>
          )
        </>
      )}
    </>
  );
}

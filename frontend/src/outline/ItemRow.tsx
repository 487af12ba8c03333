import { ChevronDown, ChevronRight, Eye, EyeOff, Image as ImageIcon, Lock, LockOpen, X } from "lucide-react";
import { Button, TreeItem, TreeItemContent } from "react-aria-components";
import styled from "styled-components";
import { change } from "../document/changing";
import { isKeyed } from "../document/parameter";
import type { Item, Shape } from "../document/types";
import { useCommit, useEditing, useSession } from "../parts/editing";
import { useName } from "../parts/useName";
import { Glyph } from "./Glyph";
import { PICTURE, type Row } from "./rows";

type Renaming = { renaming: string | null; rename: (id: string | null) => void };

/** A row of the outline, with those under it. */
export function ItemRow({ row, ...names }: { row: Row } & Renaming) {
  const { group } = row;
  const name = row.item?.[1].name ?? (group ? `Group ${group.name}` : (row.words ?? ""));
  return (
    // Letters are commands of the editor: no name begins with one, so that none is gone to by its first letters.
    <Line
      id={row.key}
      textValue={`\u2060${name}`}
      aria-label={name}
      data-item={row.item?.[0]}
      data-named={row.item || group ? row.key : undefined}
      data-folder={row.item ? undefined : true}
    >
      <TreeItemContent>
        {({ level, isExpanded, hasChildItems }) => (
          <Content style={{ paddingLeft: 4 + 16 * (level - 1) }}>
            {hasChildItems ? (
              <Chevron slot="chevron" aria-label={`${isExpanded ? "Fold" : "Unfold"} ${name}`}>
                {isExpanded ? <ChevronDown size={14} /> : <ChevronRight size={14} />}
              </Chevron>
            ) : (
              <Gap style={row.item?.[1].mark ? { borderLeft: `4px solid ${row.item[1].mark}` } : undefined} />
            )}
            {row.item ? (
              <ItemContent id={row.item[0]} item={row.item[1]} {...names} />
            ) : group ? (
              <GroupContent row={row.key} group={group} {...names} />
            ) : (
              <>
                {row.key === PICTURE && <ImageIcon size={14} aria-hidden style={{ margin: "0 4px 0 2px" }} />}
                <Words data-picture={row.key === PICTURE || undefined}>{row.words}</Words>
              </>
            )}
          </Content>
        )}
      </TreeItemContent>
      {row.rows.map((one) => (
        <ItemRow key={one.key} row={one} {...names} />
      ))}
    </Line>
  );
}

function ItemContent({ id, item, renaming, rename }: { id: string; item: Item } & Renaming) {
  const commit = useCommit();
  const lock = () =>
    commit(`${item.locked ? "unlock" : "lock"} ${item.name}`, [
      { op: "replace", path: `/items/${id}/locked`, value: !item.locked },
    ]);
  return (
    <>
      <Drag slot="drag" aria-label={`Drag ${item.name}`}>
        <Glyph item={item} />
      </Drag>
      {renaming === id ? (
        <NameBox pointer={`/items/${id}`} name={item.name} end={() => rename(null)} />
      ) : (
        <Name data-dim={item.locked || undefined}>{item.name}</Name>
      )}
      {item.kind === "shape" && <ShowButton id={id} shape={item} />}
      <RowButton
        aria-label={item.locked ? `Unlock ${item.name}` : `Lock ${item.name}`}
        data-on={item.locked || undefined}
        onPress={lock}
      >
        {item.locked ? <Lock size={13} /> : <LockOpen size={13} />}
      </RowButton>
    </>
  );
}

function GroupContent({ row, group, renaming, rename }: { row: string; group: NonNullable<Row["group"]> } & Renaming) {
  const editing = useEditing();
  if (renaming === row) return <NameBox pointer={`/groups/${group.id}`} name={group.name} end={() => rename(null)} />;
  return (
    <>
      <Name>
        Group {group.name}, {group.members.length}
      </Name>
      <RowButton
        aria-label={`Remove the group ${group.name}`}
        onPress={() => void change(editing, { kind: "remove_group", group: group.id })}
      >
        <X size={13} />
      </RowButton>
    </>
  );
}

/** Whether a shape is there at the frame in view. */
function ShowButton({ id, shape }: { id: string; shape: Shape }) {
  const editing = useEditing();
  const there = useSession(({ manifest }) => manifest?.items.some((one) => one.item === id));
  const shown = isKeyed(shape.shown) ? (there ?? true) : shape.shown >= 0.5;
  return (
    <RowButton
      aria-label={shown ? `Hide ${shape.name}` : `Show ${shape.name}`}
      data-on={shown ? undefined : true}
      onPress={() => void change(editing, { kind: "show_shape", item: id, shown: !shown })}
    >
      {shown ? <Eye size={13} /> : <EyeOff size={13} />}
    </RowButton>
  );
}

/** Where a thing is given another name. */
function NameBox({ pointer, name, end }: { pointer: string; name: string; end: () => void }) {
  const { text, setText, keep } = useName(pointer, name);
  const keepAndEnd = () => {
    keep();
    end();
  };
  return (
    <NameInput
      autoFocus
      aria-label={`Name of ${name}`}
      maxLength={80}
      value={text}
      onChange={(event) => setText(event.target.value)}
      onFocus={(event) => event.target.select()}
      onBlur={keepAndEnd}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Enter") keepAndEnd();
        if (event.key === "Escape") end();
      }}
    />
  );
}

const Line = styled(TreeItem)`
  outline: none; cursor: default;
  &[data-hovered] { background: color-mix(in srgb, var(--sea) 7%, transparent); }
  &[data-selected] { background: var(--sea-wash); }
  &[data-focus-visible] { outline: 2px solid var(--sea); outline-offset: -2px; }
  &[data-drop-target] { outline: 2px dashed var(--sea); outline-offset: -2px; }
  &[data-folder] { color: var(--ink-soft); }
`;
const Content = styled.div`
  display: flex; align-items: center; gap: 5px; min-height: 24px; padding-right: 2px;
  & > svg { flex: none; }
`;
const Gap = styled.span`flex: none; width: 16px; height: 16px;`;
const Chevron = styled(Button)`
  flex: none; display: grid; place-items: center; width: 24px; height: 24px; margin: 0 -4px; padding: 0; border: 0; background: none; cursor: pointer;
`;
const Drag = styled(Button)`
  flex: none; display: grid; place-items: center; width: 24px; height: 24px; margin: 0 -3px; padding: 0; border: 0; background: none;
  color: inherit; cursor: grab;
  &[data-focus-visible] { outline: 2px solid var(--sea); }
`;
const Words = styled.span`overflow: hidden; text-overflow: ellipsis; white-space: nowrap; &[data-picture] { color: var(--ink); }`;
const Name = styled(Words)`
  flex: 1; min-width: 0;
  &[data-dim] { color: var(--ink-soft); }
`;
const NameInput = styled.input`
  flex: 1; min-width: 0; padding: 0 4px; background: var(--card); border: 1px solid var(--sea); border-radius: 2px;
`;
const RowButton = styled(Button)`
  flex: none; display: grid; place-items: center; width: 24px; height: 24px; padding: 0; border: 0; border-radius: 3px;
  background: none; color: var(--ink-soft); cursor: pointer; opacity: 0;
  &[data-on], ${Line}[data-hovered] &, ${Line}[data-selected] &, ${Line}[data-focus-visible] & { opacity: 1; }
  &[data-hovered] { color: var(--sea); }
  &[data-focus-visible] { outline: 2px solid var(--sea); opacity: 1; }
  @media (hover: none) { opacity: 1; }
`;

import { MoreHorizontal } from "lucide-react";
import styled from "styled-components";
import { change } from "../document/changing";
import { inOrder, type PictureLayer } from "../document/types";
import { IconButton, SmallButton } from "../parts/Button";
import { Choice, CommandMenu } from "../parts/Choice";
import { useEditing, useShot } from "../parts/editing";
import { useName } from "../parts/useName";
import { Card, Corner } from "../recipe/Card";

const ROLES = [
  ["shown", "shown"],
  ["matte", "as a matte, white where it is"],
  ["held_out", "held out: a hole where it is"],
  ["glow_only", "by its glow alone"],
  ["", "not at all"],
] as const;

/** A layer as a sentence: what is pictured in it, and how. */
export function LayerCard({ id, layer }: { id: string; layer: PictureLayer }) {
  const editing = useEditing();
  const items = useShot((shot) => shot.items);
  const put = (item: string, role: string) => {
    const wanted = (role || null) as "shown" | "matte" | "held_out" | "glow_only" | null;
    void change(editing, { kind: "picture_in_layer", layer: id, item, role: wanted });
  };
  const members = inOrder(layer.items).flatMap(([key, { role }]) => {
    const item = items[key];
    return item ? [{ key, name: item.name, role }] : [];
  });
  const others = inOrder(items).filter(([key, item]) => item.kind === "shape" && !(key in layer.items));
  return (
    <Card style={{ paddingLeft: 12 }} aria-label={`Layer: ${layer.name}`}>
      <Corner>
        <CommandMenu
          label="This layer"
          commands={[["Remove it", () => void change(editing, { kind: "remove_layer", layer: id })]]}
        >
          <IconButton data-small aria-label={`Commands for ${layer.name}`}>
            <MoreHorizontal size={14} />
          </IconButton>
        </CommandMenu>
      </Corner>
      <LayerName key={layer.name} id={id} name={layer.name} /> pictures{" "}
      {members.map(({ key, name, role }, place) => (
        <span key={key}>
          {place > 0 && ", "}
          {name}{" "}
          <Choice
            label={`How ${name} is in ${layer.name}`}
            value={role ?? "shown"}
            options={ROLES}
            onChoose={(chosen) => put(key, chosen)}
          />
        </span>
      ))}
      {members.length > 0 && others.length > 0 && ", and "}
      {others.length > 0 && (
        <CommandMenu
          label={`Items for ${layer.name}`}
          commands={others.map(([key, { name }]) => [name, () => put(key, "shown")] as const)}
        >
          <SmallButton aria-label={`Add an item to ${layer.name}`}>Add an item</SmallButton>
        </CommandMenu>
      )}
      . Nothing else is seen in it: the rest lights, shades and mirrors as ever.
    </Card>
  );
}

function LayerName({ id, name }: { id: string; name: string }) {
  const { text, setText, keep } = useName(`/layers/${id}`, name);
  return (
    <Name
      aria-label={`Name of the layer ${name}`}
      maxLength={80}
      size={Math.max(4, text.length)}
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Enter") event.currentTarget.blur();
      }}
    />
  );
}

const Name = styled.input`
  font: inherit; font-weight: 600; color: inherit; background: none; padding: 1px 4px; margin-left: -5px; min-height: 24px;
  border: 1px solid transparent; border-radius: 3px;
  &:hover { border-color: var(--line); }
  &:focus-visible { outline: 2px solid var(--sea); }
`;

import { MoreHorizontal } from "lucide-react";
import { useEffect, useRef } from "react";
import styled from "styled-components";
import { change } from "../document/changing";
import { quantity } from "../document/quantities";
import { type Item, inOrder, type Shape } from "../document/types";
import { copyChosen, removeChosen, stepAdditions } from "../doing/adding";
import { ThePicture } from "../finishing/ThePicture";
import { Outline } from "../outline/Outline";
import { SeveralCard } from "../outline/SeveralCard";
import { Button, IconButton } from "../parts/Button";
import { Choice, CommandMenu } from "../parts/Choice";
import { useAllChosen } from "../parts/chosen";
import { useCommit, useEditing, useSession, useShot } from "../parts/editing";
import { NumberValue } from "../parts/NumberValue";
import { openStep } from "../parts/opening";
import { useName } from "../parts/useName";
import { usePanel } from "../parts/usePanel";
import { bringIntoView } from "../view/framing";
import { Trial } from "../view/Trial";
import { GeometryCard } from "./GeometryCard";
import { ImportDialog } from "./ImportDialog";
import { ItemCards } from "./ItemCards";
import { StepCard } from "./StepCard";
import { useStarters } from "./useStarters";

/** The recipe of the chosen item, read from top to bottom, with the items of the shot at its head. */
export function Recipe() {
  const items = useShot((shot) => shot.items);
  const chosen = useSession((session) => session.chosen);
  const several = useAllChosen();
  const importing = usePanel("import");
  const item = chosen ? items[chosen] : undefined;

  return (
    <Pane aria-label="Recipe">
      <Outline />
      {several.length > 1 ? (
        <SeveralCard items={several} />
      ) : chosen && item ? (
        <Chosen key={chosen} id={chosen} item={item} />
      ) : (
        <ThePicture />
      )}
      <ImportDialog open={importing.isOpen} close={() => importing.onOpenChange(false)} />
    </Pane>
  );
}

function Chosen({ id, item }: { id: string; item: Item }) {
  const editing = useEditing();
  const ready = useSession((session) => session.manifest !== null);
  const seen = useSession(({ manifest }) => manifest?.items.some((one) => one.item === id) ?? true);
  const { starters, lay, edit } = useStarters();
  useOpeningOfNew(id, item);

  function itemCommands(): (readonly [string, () => void])[] {
    const copy = () => copyChosen(editing, id);
    const view = () => void bringIntoView(editing, [id]);
    if (item.kind !== "shape") {
      return [
        ["Copy it", copy],
        ["Bring it into view", view],
      ];
    }
    const word = seen ? "Hide" : "Show";
    const show = (from: number | null) =>
      void change(editing, { kind: "show_shape", item: id, shown: !seen, from_frame: from });
    return [
      ["Copy it", copy],
      ["Bring it into view", view],
      [`${word} it`, () => show(null)],
      [`${word} it from this frame on`, () => show(Math.round(editing.session.getState().frame))],
    ];
  }

  return (
    <>
      <Head>
        <NameBox id={id} name={item.name} />
        <CommandMenu label="This item" commands={itemCommands()}>
          <IconButton aria-label="Commands for the item">
            <MoreHorizontal size={14} />
          </IconButton>
        </CommandMenu>
        <Button onPress={() => removeChosen(editing, id)}>Remove</Button>
      </Head>
      {item.kind === "shape" ? (
        <>
          <GeometryCard id={id} shape={item} />
          {Object.keys(item.recipe.steps).length > 0 && (
            <Line>
              <Overall id={id} shape={item} />. <Time id={id} shape={item} />
            </Line>
          )}
          {inOrder(item.recipe.steps).map(([stepId, step], place) => (
            <StepCard key={stepId} shapeId={id} shape={item} id={stepId} step={step} place={place + 1} />
          ))}
          <CommandMenu label="Add a step" commands={stepAdditions(editing, () => id)}>
            <Button
              style={{ marginRight: 8 }}
              data-main={Object.keys(item.recipe.steps).length === 0 || undefined}
              isDisabled={!ready}
            >
              Add a step
            </Button>
          </CommandMenu>
          <CommandMenu
            label="Lay a starter"
            commands={starters.map((one) => [
              one.name,
              () => void lay(one, id),
              one.says,
              one.wish,
              () => <Trial tried={{ item: id, edit: () => edit(one, id) }} says={one.says} />,
            ])}
          >
            <Button isDisabled={!ready || starters.length === 0}>Lay a starter</Button>
          </CommandMenu>
          {Object.keys(item.recipe.steps).length === 0 && (
            <Empty>
              No steps yet. A starter is a ready recipe in the shape’s own size. Or begin with one step: Cut away
              dissolves the shape by a field about a controller; Shade lets a field rule its colour or glow; Follow
              through lets it lag behind its own motion and spring past it.
            </Empty>
          )}
        </>
      ) : (
        <ItemCards id={id} item={item} />
      )}
    </>
  );
}

/** A step that is added is the one at hand. */
function useOpeningOfNew(id: string, item: Item): void {
  const { session } = useEditing();
  const listed = item.kind === "shape" ? inOrder(item.recipe.steps).map(([step]) => step) : [];
  const known = useRef(listed);
  const all = listed.join(" ");
  useEffect(() => {
    const now = all.split(" ").filter(Boolean);
    const added = now.find((step) => !known.current.includes(step));
    known.current = now;
    if (added) openStep(session, id, added);
  }, [all, id, session]);
}

const TIMES = [
  ["own", "in the shot’s time"],
  ["other", "as at frame"],
] as const;

/** Whether the recipe runs in the shot's own time, or shows another frame of it. */
function Time({ id, shape }: { id: string; shape: Shape }) {
  const commit = useCommit();
  const { session } = useEditing();
  const { retime } = shape.recipe;
  const pointer = `/items/${id}/recipe/retime`;
  return (
    <span>
      It runs{" "}
      <Choice
        label="Time of the recipe"
        value={retime ? "other" : "own"}
        options={TIMES}
        onChoose={(way) => {
          const value = way === "own" ? null : { frame: Math.round(session.getState().frame) };
          commit(way === "own" ? "in the shot’s time" : "in a time of its own", [
            { op: "replace", path: pointer, value },
          ]);
        }}
      />
      {retime && (
        <>
          {" "}
          <NumberValue
            pointer={`${pointer}/frame`}
            quantity={quantity("Retime", "frame")}
            label="Frame of the recipe"
          />
          ; keys that fall run it backwards, and put together what broke.
        </>
      )}
    </span>
  );
}

/** The field that every step counts by, if there is one. */
function Overall({ id, shape }: { id: string; shape: Shape }) {
  const commit = useCommit();
  const fields = useShot((shot) => shot.fields);
  const options = [
    ["", "in full"] as const,
    ...inOrder(fields).map(([key, field]) => [key, `by ${field.letter} ${field.name}`] as const),
  ];
  return (
    <span>
      Every step counts{" "}
      <Choice
        label="Every step counts"
        tone={shape.recipe.overall ? "field" : undefined}
        value={shape.recipe.overall ?? ""}
        options={options}
        onChoose={(chosen) =>
          commit(chosen ? "an overall field" : "no overall field", [
            { op: "replace", path: `/items/${id}/recipe/overall`, value: chosen || null },
          ])
        }
      />
    </span>
  );
}

function NameBox({ id, name }: { id: string; name: string }) {
  const { text, setText, keep } = useName(`/items/${id}`, name);
  return (
    <NameInput
      aria-label="Name of the item"
      maxLength={80}
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => event.key === "Enter" && keep()}
    />
  );
}

const Pane = styled.aside`
  overflow: auto; padding: 10px 12px 16px; border-right: 1px solid var(--line); background: var(--paper);
`;
const Head = styled.div`
  display: flex; gap: 8px; margin-bottom: 8px;
`;
const NameInput = styled.input`
  flex: 1; min-width: 0; padding: 3px 6px; font-weight: 600; font-size: 15px; background: none; border: 1px solid transparent; border-radius: 3px;
  &:hover, &:focus { border-color: var(--line); background: var(--card); }
`;
const Line = styled.p`margin: 5px 2px;`;
const Empty = styled.p`
  margin-top: 8px; color: var(--ink-soft);
`;

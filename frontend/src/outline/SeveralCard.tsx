import { useState } from "react";
import { Input, NumberField } from "react-aria-components";
import styled from "styled-components";
import { change, type Wanted } from "../document/changing";
import { inOrder } from "../document/types";
import { Button } from "../parts/Button";
import { Choice, CommandMenu } from "../parts/Choice";
import { choose } from "../parts/chosen";
import { useEditing, useRelations, useSession, useShot } from "../parts/editing";
import { Card } from "../recipe/Card";
import { bringIntoView } from "../view/framing";

type Vector = [number, number, number];
const SETTINGS = [
  ["place", "Move", "m", [0, 0, 0]],
  ["turn", "Turn", "°", [0, 0, 0]],
  ["scale", "Stretch", "×", [1, 1, 1]],
] as const;

/** What can be done to all chosen items at once, each as one edit. */
export function SeveralCard({ items }: { items: string[] }) {
  const editing = useEditing();
  const { session } = editing;
  const all = useShot((shot) => shot.items);
  const leaning = useRelations((relations) => relations.items);
  const named = items.flatMap((id) => all[id] ?? []);
  const shapes = items.filter((id) => all[id]?.kind === "shape");
  const seen = useSession(({ manifest }) => shapes.some((id) => manifest?.items.some((one) => one.item === id)));
  const carriers = inOrder(all).filter(([key]) => items.every((id) => !leaning[id]?.leaning.includes(key)));
  const several = (changes: Several, after = () => {}) =>
    void change(editing, { kind: "do_several", changes }, { after });
  const remove = () =>
    several(
      items.map((item) => ({ kind: "remove_item", item })),
      () => choose(session, []),
    );
  return (
    <Card style={{ paddingLeft: 12 }} aria-label="Several items">
      <b>{named.length} items:</b> {named.map((item) => item.name).join(", ")}
      {SETTINGS.map(([setting, word, unit, rest]) => (
        <ByRow
          key={setting}
          word={word}
          unit={unit}
          rest={[...rest]}
          act={(by) =>
            void change(editing, { kind: "move_items", items, setting, by, whole_curve: session.getState().wholeCurve })
          }
        />
      ))}
      <div>
        Carried by{" "}
        <Choice
          label="Carried by"
          value=""
          options={[["", "…"], ["/none", "nothing"], ...carriers.map(([key, one]) => [key, one.name] as const)]}
          onChoose={(carrier) =>
            carrier &&
            several(items.map((item) => ({ kind: "carry_item", item, carrier: carrier === "/none" ? null : carrier })))
          }
        />
      </div>
      <Row>
        <Button onPress={() => void bringIntoView(editing, items)}>Bring into view</Button>
        {shapes.length > 0 && (
          <Button
            onPress={() =>
              several(shapes.map((item) => ({ kind: "show_shape", item, shown: !seen, from_frame: null })))
            }
          >
            {seen ? "Hide" : "Show"}
          </Button>
        )}
        <Button onPress={() => void change(editing, { kind: "group_items", items })}>Group</Button>
        {shapes.length > 1 && (
          <CommandMenu
            label="Give all the look of"
            commands={shapes.map((id) => [
              all[id]?.name ?? id,
              () => void change(editing, { kind: "give_look", of: id, to: shapes }),
            ])}
          >
            <Button>Look of…</Button>
          </CommandMenu>
        )}
        <Button onPress={remove}>Remove</Button>
      </Row>
      <Hint>The handles in the view work on all of them.</Hint>
    </Card>
  );
}

type Several = NonNullable<Extract<Wanted, { kind: "do_several" }>["changes"]>;

/** Three numbers by which all are changed alike. */
function ByRow({ word, unit, rest, act }: { word: string; unit: string; rest: Vector; act: (by: Vector) => void }) {
  const [by, setBy] = useState<Vector>(rest);
  return (
    <Row>
      <Word>{word} by</Word>
      {(["X", "Y", "Z"] as const).map((letter, axis) => (
        <Amount
          key={letter}
          aria-label={`${word} by, ${letter}`}
          value={by[axis] ?? 0}
          minValue={-100000}
          maxValue={100000}
          formatOptions={{ maximumFractionDigits: 4, useGrouping: false }}
          onChange={(value) =>
            setBy(by.map((one, place) => (place === axis ? (Number.isFinite(value) ? value : rest[0]) : one)) as Vector)
          }
        >
          <Input />
        </Amount>
      ))}
      {unit}
      <Button isDisabled={by.every((one, axis) => one === rest[axis])} onPress={() => act(by)}>
        {word}
      </Button>
    </Row>
  );
}

const Row = styled.div`display: flex; flex-wrap: wrap; gap: 6px; align-items: center; margin: 6px 0;`;
const Word = styled.span`width: 62px;`;
const Amount = styled(NumberField)`
  & input {
    width: 48px; min-height: 24px; padding: 0 5px; text-align: right; background: var(--paper); color: var(--ink);
    border: 1px solid var(--line); border-radius: 3px;
  }
`;
const Hint = styled.p`color: var(--ink-soft); line-height: 1.4;`;

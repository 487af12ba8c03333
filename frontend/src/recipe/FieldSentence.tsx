import { ChevronDown, ChevronUp } from "lucide-react";
import { useState } from "react";
import styled from "styled-components";
import { type Cost, isReadIn } from "../api/frames";
import { bytes, told } from "../costs/amounts";
import { change } from "../document/changing";
import { quantity } from "../document/quantities";
import { type Field, type Item, inOrder } from "../document/types";
import { clauseAdditions } from "../doing/adding";
import { IconButton, SmallButton } from "../parts/Button";
import { Choice, CommandMenu, type MenuCommand } from "../parts/Choice";
import { useEditing, useRelations, useSession, useShot } from "../parts/editing";
import { Letter } from "../parts/Letter";
import { NumberValue } from "../parts/NumberValue";
import { Meta, Unfolded } from "./Card";
import { Clause } from "./Clause";
import { Histogram } from "./Histogram";
import { LevelAndBand } from "./LevelAndBand";

const MEMORIES = [
  ["none", "remembered not at all"],
  ["hold", "remembered for good"],
  ["fade", "remembered, fading over"],
] as const;

/** A field told as a sentence: its clauses, joined by words, and how its values lie on the subject. */
export function FieldSentence({
  id,
  field,
  subject,
  driven,
}: {
  id: string;
  field: Field;
  subject: string;
  /** The step of the subject that it drives, if it drives one. */
  driven: string | undefined;
}) {
  const editing = useEditing();
  const items = useShot((shot) => shot.items);
  const groups = inOrder(useShot((shot) => shot.groups)).map(([key, group]) => [key, group.name] as const);
  const all = useShot((shot) => shot.fields);
  const named = (kind: Item["kind"]) =>
    inOrder(items)
      .filter(([, item]) => item.kind === kind)
      .map(([key, item]) => [key, item.name] as const);
  const relations = useRelations((found) => found.fields[id]);
  const fields = (relations?.measurable ?? []).map((key) => [key, `${all[key]?.letter} ${all[key]?.name}`] as const);
  const clauses = inOrder(field.sources);

  const remember = (memory: "none" | "hold" | "fade") => void change(editing, { kind: "remember", field: id, memory });

  const commands: MenuCommand[] = [
    ...clauseAdditions(editing, id, subject),
    ...(field.memory ? [] : [["Remember the most it was", () => remember("hold"), "", "Over time"] as const]),
  ];
  const adding = (
    <CommandMenu label="Add a clause" commands={commands}>
      <Adding data-several={clauses.length > 1 || undefined}>Add a clause</Adding>
    </CommandMenu>
  );
  return (
    <Told data-tells={id}>
      <Letter>{field.letter}</Letter> is {clauses.length === 0 && <>0 everywhere. </>}
      {clauses.map(([key, source], place) => (
        <Clause
          key={key}
          pointer={`/fields/${id}/sources/${key}`}
          source={source}
          first={place === 0}
          field={field}
          fieldId={id}
          id={key}
          measurable={{ controllers: named("controller"), fields, groups, shapes: named("shape"), subject }}
        />
      ))}
      {field.memory && (
        <>
          , <Choice label="Memory" value={field.memory.kind} options={MEMORIES} onChoose={remember} />
        </>
      )}
      {field.memory?.kind === "fade" && (
        <>
          {" "}
          <NumberValue
            pointer={`/fields/${id}/memory/seconds`}
            quantity={quantity("Memory", "seconds")}
            label="Fading"
            keyable={false}
          />
        </>
      )}{" "}
      {adding}
      {driven && <OnSubject field={id} letter={field.letter} subject={subject} step={driven} />}
      <Costs id={id} subject={subject} />
      {(relations?.measures ?? []).map((key) => (
        <Referred key={key} id={key} subject={subject} />
      ))}
    </Told>
  );
}

const Told = styled.div`position: relative;`;
/** Where there are several clauses it stands in the first line, beside the field's letter. */
const Adding = styled(SmallButton)`
  &[data-several] { position: absolute; left: 44px; top: 0; }
`;

/** How its values lie on the subject of a step that it drives, once that has been read. */
function OnSubject({ field, letter, subject, step }: { field: string; letter: string; subject: string; step: string }) {
  const reading = useSession(({ manifest }) => {
    if (manifest && !isReadIn(manifest, subject)) return "not yet";
    return manifest?.steps.find((one) => one.item === subject && one.step === step)?.reading;
  });
  return reading && <Histogram fieldId={field} letter={letter} reading={reading} />;
}

/** What the field's history cost to find, where it has one. */
function Costs({ id, subject }: { id: string; subject: string }) {
  const costs = useSession((session) => session.manifest?.costs);
  const measured = useRelations((all) => all.fields[id]?.measures) ?? [];
  const found = (costs ?? []).filter(
    (cost) =>
      cost.made > 0 &&
      cost.item === subject &&
      cost.sort in HISTORIES &&
      (cost.field === id ? cost.sort === "memory" : measured.includes(cost.field) && cost.sort !== "memory"),
  );
  if (found.length === 0) return null;
  return (
    <Meta title="What was found once for the whole shot: how long that took, and the memory it takes">
      {found.map((cost) => (
        <span key={cost.node}>
          {HISTORIES[cost.sort]} {told(cost.milliseconds)}, {bytes(cost.bytes)}
        </span>
      ))}
    </Meta>
  );
}

const HISTORIES: Partial<Record<Cost["sort"], string>> = {
  crossed: "comings found in",
  front: "front in",
  memory: "memory in",
};

/** A field that this one measures from, unfolding in its turn. */
function Referred({ id, subject }: { id: string; subject: string }) {
  const field = useShot((shot) => shot.fields[id]);
  const [open, setOpen] = useState(false);
  if (!field) return null;
  return (
    <Unfolded>
      <IconButton
        data-small
        style={{ float: "right" }}
        aria-label={`${open ? "Fold" : "Unfold"} field ${field.letter}`}
        aria-expanded={open}
        onPress={() => setOpen(!open)}
      >
        {open ? <ChevronUp size={14} /> : <ChevronDown size={14} />}
      </IconButton>
      {open ? (
        <>
          <FieldSentence id={id} field={field} subject={subject} driven={undefined} />
          <LevelAndBand field={id} />
        </>
      ) : (
        <span>
          it measures from <Letter>{field.letter}</Letter> {field.name}
        </span>
      )}
    </Unfolded>
  );
}

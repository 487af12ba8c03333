import { ChevronDown, ChevronUp } from "lucide-react";
import { useState } from "react";
import type { Reading } from "../api/frames";
import { newGroup, reachableFields } from "../document/commands";
import { newSource } from "../document/defaults";
import { quantity } from "../document/quantities";
import { type Field, fieldsOf, inOrder, lastRank, newId, type Patch, type Source, type Word } from "../document/types";
import { IconButton, SmallButton } from "../parts/Button";
import { Choice, CommandMenu } from "../parts/Choice";
import { useCommit, useEditing, useSession, useShot } from "../parts/editing";
import { Letter } from "../parts/Letter";
import { NumberValue } from "../parts/NumberValue";
import { useReorder } from "../parts/useReorder";
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
  reading,
}: {
  id: string;
  field: Field;
  subject: string;
  reading: Reading | undefined;
}) {
  const { documents } = useEditing();
  const commit = useCommit();
  const items = useShot((shot) => shot.items);
  const groups = inOrder(useShot((shot) => shot.groups)).map(([key, group]) => [key, group.name] as const);
  const all = useShot((shot) => shot.fields);
  const controllers = inOrder(items)
    .filter(([, item]) => item.kind === "controller")
    .map(([key, item]) => [key, item.name] as const);
  const fields = reachableFields(all, id).map((key) => [key, `${all[key]?.letter} ${all[key]?.name}`] as const);
  const clauses = inOrder(field.sources);

  function add(word: string, source: Source, before: Patch = []) {
    const key = newId(field.sources, word);
    const patch: Patch = [...before, { op: "add", path: `/fields/${id}/sources/${key}`, value: source }];
    commit(`${field.letter} with ${word}`, patch);
  }

  /** Near the first group of the shot, or a new one. */
  function addNear() {
    const { shot } = documents.getState();
    const first = groups[0]?.[0];
    const made = first ? { id: first, patch: [] } : newGroup(shot, null);
    add("near", newSource("near", { rank: lastRank(field.sources), group: made.id }), made.patch);
  }

  const remember = (kind: "hold" | "fade" | null) =>
    commit(kind ? `memory: ${kind}` : "no memory", [
      {
        op: "replace",
        path: `/fields/${id}/memory`,
        value: kind ? { kind, seconds: field.memory?.seconds ?? 1 } : null,
      },
    ]);

  const { landing, grab } = useReorder(field.sources, `/fields/${id}/sources`, "order of clauses");
  const rank = lastRank(field.sources);
  const [controller, other] = [controllers[0]?.[0], fields[0]?.[0]];
  const commands: (readonly [string, () => void])[] = [
    ...(controller
      ? ([
          ["Around a controller", () => add("around", newSource("around", { rank, controller }))],
          ["Across a controller", () => add("across", newSource("across", { rank, controller }))],
          ["Within a controller's box", () => add("within", newSource("within", { rank, controller }))],
        ] as const)
      : []),
    ["Near shapes", addNear],
    ["The surface", () => add("surface", newSource("surface", { rank, word: joining(rank, "times") }))],
    ["Noise", () => add("noise", newSource("noise", { rank, word: joining(rank, "roughened by"), contrast: 50 }))],
    ["Time", () => add("time", newSource("time", { rank, word: joining(rank, "times"), start: 0.5 }))],
    ["Chance", () => add("chance", newSource("chance", { rank, word: joining(rank, "times") }))],
    ...(other
      ? ([
          ["A spread from another field", () => add("spread", newSource("spread", { rank, seeds: other }))],
          ["Another field, later", () => add("another", newSource("another", { rank, field: other, lag: 0.4 }))],
        ] as const)
      : []),
    ...(field.memory ? [] : [["Remember the most it was", () => remember("hold")] as const]),
  ];
  return (
    <div data-tells={id}>
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
          measurable={{ controllers, fields, groups, subject }}
          landing={landing?.id === key ? (landing.after ? "after" : "before") : undefined}
          onGrab={(down) => grab(key, down)}
        />
      ))}
      {field.memory && (
        <>
          ,{" "}
          <Choice
            label="Memory"
            value={field.memory.kind}
            options={MEMORIES}
            onChoose={(kind) => remember(kind === "none" ? null : kind)}
          />
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
      <CommandMenu label="Add a clause" commands={commands}>
        <SmallButton>Add a clause</SmallButton>
      </CommandMenu>
      {reading && <Histogram fieldId={id} letter={field.letter} reading={reading} />}
      <Costs id={id} field={field} subject={subject} />
      {fieldsOf(field).map((key) => (
        <Referred key={key} id={key} subject={subject} />
      ))}
    </div>
  );
}

/** The word that joins a further clause; the first is joined to nothing. */
function joining(rank: number, word: Word): Word {
  return rank > 0 ? word : "or";
}

/** What the field's history cost to find, where it has one. */
function Costs({ id, field, subject }: { id: string; field: Field; subject: string }) {
  const costs = useSession((session) => session.manifest?.costs);
  const histories = [
    `memory ${id}`,
    ...Object.values(field.sources).flatMap((source) => {
      if (source.kind === "spread") return [`front ${source.seeds}`, `crossed ${source.seeds}`];
      return source.kind === "another" && source.zone === "age" ? [`crossed ${source.field}`] : [];
    }),
  ];
  const found = (costs ?? []).filter(
    (cost) => cost.made > 0 && histories.some((name) => cost.node === `${name} ${subject}`),
  );
  if (found.length === 0) return null;
  return (
    <Meta>
      {found.map((cost) => (
        <span key={cost.node}>
          {HISTORIES[cost.node.split(" ")[0] ?? ""]} in {told(cost.milliseconds)}, {bytes(cost.bytes)}
        </span>
      ))}
    </Meta>
  );
}

const HISTORIES: Record<string, string> = {
  crossed: "when it comes to each point: found",
  front: "its front: found",
  memory: "its memory: brought here",
};

export function told(milliseconds: number): string {
  return milliseconds < 950
    ? `${milliseconds.toFixed(milliseconds < 9.5 ? 1 : 0)} ms`
    : `${(milliseconds / 1000).toFixed(1)} s`;
}

export function bytes(count: number): string {
  return count < 1e6 ? `${Math.max(1, Math.round(count / 1e3))} kB` : `${(count / 1e6).toFixed(1)} MB`;
}

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
          <FieldSentence id={id} field={field} subject={subject} reading={undefined} />
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

import { ChevronDown, ChevronUp, MoreHorizontal } from "lucide-react";
import { useState } from "react";
import type { Reading } from "../api/frames";
import {
  anotherClause,
  aroundClause,
  moveInOrder,
  noiseClause,
  reachableFields,
  spreadClause,
  timeClause,
} from "../document/commands";
import { CURVES, curveName } from "../document/curves";
import { quantity } from "../document/quantities";
import { type Field, fieldsOf, inOrder, lastRank, newId, type Patch, type Source, type Word } from "../document/types";
import { IconButton, SmallButton } from "../parts/Button";
import { Choice, CommandMenu } from "../parts/Choice";
import { useCommit, useSession, useShot } from "../parts/editing";
import { Letter } from "../parts/Letter";
import { NumberValue } from "../parts/NumberValue";
import { Meta, Unfolded } from "./Card";
import { Histogram } from "./Histogram";
import type { Named } from "./sources/clause";
import { SOURCE_WORDS, SourceClause } from "./sources/SourceClause";

const WORDS: readonly (readonly [Word, Word])[] = (
  ["and", "or", "times", "plus", "less", "except", "mixed with", "roughened by", "lifted by", "apart from"] as const
).map((word) => [word, word] as const);
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
  const commit = useCommit();
  const items = useShot((shot) => shot.items);
  const all = useShot((shot) => shot.fields);
  const controllers = inOrder(items)
    .filter(([, item]) => item.kind === "controller")
    .map(([key, item]) => [key, item.name] as const);
  const fields = reachableFields(all, id).map((key) => [key, `${all[key]?.letter} ${all[key]?.name}`] as const);
  const clauses = inOrder(field.sources);

  function add(word: string, make: (rank: number) => Source) {
    const key = newId(field.sources, word);
    commit(`${field.letter} with ${word}`, [
      { op: "add", path: `/fields/${id}/sources/${key}`, value: make(lastRank(field.sources)) },
    ]);
  }

  const remember = (kind: "hold" | "fade" | null) =>
    commit(kind ? `memory: ${kind}` : "no memory", [
      {
        op: "replace",
        path: `/fields/${id}/memory`,
        value: kind ? { kind, seconds: field.memory?.seconds ?? 1 } : null,
      },
    ]);

  const [controller, other] = [controllers[0]?.[0], fields[0]?.[0]];
  const commands: (readonly [string, () => void])[] = [
    ...(controller
      ? [["Around a controller", () => add("around", (rank) => aroundClause(rank, controller, 2))] as const]
      : []),
    ["Noise", () => add("noise", (rank) => noiseClause(rank, 0.5))],
    ["Time", () => add("time", timeClause)],
    ...(other
      ? [
          ["A spread from another field", () => add("spread", (rank) => spreadClause(rank, other))] as const,
          ["Another field, later", () => add("another", (rank) => anotherClause(rank, other))] as const,
        ]
      : []),
    ...(field.memory ? [] : [["Remember the most it was", () => remember("hold")] as const]),
  ];
  return (
    <div>
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
          controllers={controllers}
          fields={fields}
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
          at level{" "}
          <NumberValue
            tone="field"
            pointer={`/fields/${id}/level`}
            quantity={quantity("Field", "level")}
            label="level"
          />
          , band{" "}
          <NumberValue tone="field" pointer={`/fields/${id}/band`} quantity={quantity("Field", "band")} label="band" />
        </>
      ) : (
        <span>
          it measures from <Letter>{field.letter}</Letter> {field.name}
        </span>
      )}
    </Unfolded>
  );
}

type Props = {
  pointer: string;
  source: Source;
  first: boolean;
  field: Field;
  fieldId: string;
  id: string;
  controllers: Named;
  fields: Named;
};

function Clause({ pointer, source, first, field, fieldId, id, controllers, fields }: Props) {
  const commit = useCommit();
  const put = (label: string, name: string, value: unknown) =>
    commit(label, [{ op: "replace", path: `${pointer}/${name}`, value }]);
  const sources = `/fields/${fieldId}/sources`;
  const move = (by: 1 | -1): Patch => moveInOrder(field.sources, sources, id, by);
  const named = curveName(source.curve);
  const curves = [...(named in CURVES || !source.curve ? [] : [named]), ...Object.keys(CURVES), "as it is"];
  return (
    <>
      {!first && (
        <>
          ,{" "}
          <Choice
            label="Joining word"
            value={source.word}
            options={WORDS}
            onChoose={(word) => put(word, "word", word)}
          />{" "}
        </>
      )}
      {source.inverted && "not "}
      <SourceClause pointer={pointer} source={source} put={put} controllers={controllers} fields={fields} />
      {source.curve && (
        <>
          , taken{" "}
          <Choice
            label="Curve"
            value={named}
            options={curves.map((name) => [name, name] as const)}
            onChoose={(name) => name !== named && put(`curve ${name}`, "curve", CURVES[name] ?? null)}
          />
        </>
      )}
      {source.amount !== 1 && (
        <>
          , by <NumberValue pointer={`${pointer}/amount`} quantity={quantity("Around", "amount")} label="Amount" />
        </>
      )}{" "}
      <CommandMenu
        label="This clause"
        commands={[
          [source.inverted ? "Not inverted" : "Invert it (not)", () => put("not", "inverted", !source.inverted)],
          ...(source.curve
            ? []
            : [["Take it through a curve", () => put("a curve", "curve", CURVES["eased in and out"])] as const]),
          ...(source.amount === 1 ? [["Count only half of it", () => put("amount 0.5", "amount", 0.5)] as const] : []),
          ["Move it before", () => commit("order of clauses", move(-1))],
          ["Move it after", () => commit("order of clauses", move(1))],
          [
            "Remove it",
            () =>
              commit(`${field.letter} without ${SOURCE_WORDS[source.kind]}`, [
                { op: "remove", path: `${sources}/${id}` },
              ]),
          ],
        ]}
      >
        <IconButton data-small aria-label={`More for ${SOURCE_WORDS[source.kind]}`}>
          <MoreHorizontal size={14} />
        </IconButton>
      </CommandMenu>
    </>
  );
}

import { MoreHorizontal } from "lucide-react";
import type { Reading } from "../api/frames";
import { aroundClause, moveInOrder, noiseClause } from "../document/commands";
import { quantity } from "../document/quantities";
import { type Field, inOrder, lastRank, newId, type Patch, type Source, type Word } from "../document/types";
import { IconButton, SmallButton } from "../parts/Button";
import { Choice, CommandMenu } from "../parts/Choice";
import { useCommit, useShot } from "../parts/editing";
import { Letter } from "../parts/Letter";
import { NumberValue } from "../parts/NumberValue";
import { Histogram } from "./Histogram";

const WORDS: readonly (readonly [Word, Word])[] = (
  ["and", "or", "times", "plus", "less", "except", "mixed with", "roughened by", "lifted by", "apart from"] as const
).map((word) => [word, word] as const);

/** A field told as a sentence: its clauses, joined by words, and how its values lie on the subject. */
export function FieldSentence({ id, field, reading }: { id: string; field: Field; reading: Reading | undefined }) {
  const commit = useCommit();
  const controllers = useShot((shot) => shot.items);
  const choices = inOrder(controllers)
    .filter(([, item]) => item.kind === "controller")
    .map(([key, item]) => [key, item.name] as const);
  const clauses = inOrder(field.sources);

  function add(make: (rank: number) => Source, word: string) {
    const key = newId(field.sources, word);
    commit(`${field.letter} with ${word}`, [
      { op: "add", path: `/fields/${id}/sources/${key}`, value: make(lastRank(field.sources)) },
    ]);
  }

  const first = choices[0]?.[0];
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
          controllers={choices}
        />
      ))}{" "}
      <CommandMenu
        label="Add a clause"
        commands={[
          ...(first
            ? [["Around a controller", () => add((rank) => aroundClause(rank, first, 2), "around")] as const]
            : []),
          ["Noise", () => add((rank) => noiseClause(rank, 0.5), "noise")],
        ]}
      >
        <SmallButton>Add a clause</SmallButton>
      </CommandMenu>
      <Histogram fieldId={id} letter={field.letter} reading={reading} />
    </div>
  );
}

type ClauseProps = {
  pointer: string;
  source: Source;
  first: boolean;
  field: Field;
  fieldId: string;
  id: string;
  controllers: readonly (readonly [string, string])[];
};

function Clause({ pointer, source, first, field, fieldId, id, controllers }: ClauseProps) {
  const commit = useCommit();
  const put = (label: string, name: string, value: unknown) =>
    commit(label, [{ op: "replace", path: `${pointer}/${name}`, value }]);
  const sources = `/fields/${fieldId}/sources`;
  const move = (by: 1 | -1): Patch => moveInOrder(field.sources, sources, id, by);
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
      {source.kind === "around" ? (
        <Around pointer={pointer} source={source} controllers={controllers} put={put} />
      ) : (
        <NoiseClause pointer={pointer} source={source} put={put} />
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
          ...(source.amount === 1 ? [["Count only half of it", () => put("amount 0.5", "amount", 0.5)] as const] : []),
          ["Move it before", () => commit("order of clauses", move(-1))],
          ["Move it after", () => commit("order of clauses", move(1))],
          [
            "Remove it",
            () => commit(`${field.letter} without ${source.kind}`, [{ op: "remove", path: `${sources}/${id}` }]),
          ],
        ]}
      >
        <IconButton data-small aria-label={`More for ${source.kind}`}>
          <MoreHorizontal size={14} />
        </IconButton>
      </CommandMenu>
    </>
  );
}

type Put = (label: string, name: string, value: unknown) => void;
const FALLS = [
  ["straight", "evenly"],
  ["smooth", "softly"],
] as const;
const SPACES = [
  ["rest", "on the shape"],
  ["world", "in the world"],
] as const;

function Around({
  pointer,
  source,
  controllers,
  put,
}: {
  pointer: string;
  source: Extract<Source, { kind: "around" }>;
  controllers: ClauseProps["controllers"];
  put: Put;
}) {
  const value = (name: string, label: string) => (
    <NumberValue pointer={`${pointer}/${name}`} quantity={quantity("Around", name)} label={label} />
  );
  return (
    <>
      <b>around</b>{" "}
      <Choice
        label="Controller"
        value={source.controller}
        options={controllers}
        onChoose={(item) => put("controller", "controller", item)}
      />{" "}
      reaching {value("reach", "Reach")}, falling{" "}
      <Choice
        label="Fall"
        value={source.fall}
        options={FALLS}
        onChoose={(fall) => put(`falling ${fall}`, "fall", fall)}
      />{" "}
      over {value("soft", "Soft")}
    </>
  );
}

function NoiseClause({
  pointer,
  source,
  put,
}: {
  pointer: string;
  source: Extract<Source, { kind: "noise" }>;
  put: Put;
}) {
  const value = (name: string, label: string, keyable = true) => (
    <NumberValue pointer={`${pointer}/${name}`} quantity={quantity("Noise", name)} label={label} keyable={keyable} />
  );
  return (
    <>
      <b>noise</b> of {value("size", "Noise size")} in {value("octaves", "Octaves", false)} octaves, contrast{" "}
      {value("contrast", "Contrast")}, fixed{" "}
      <Choice
        label="Space"
        value={source.space}
        options={SPACES}
        onChoose={(space) => put(`noise ${space}`, "space", space)}
      />
      , pattern {value("seed", "Seed", false)}
    </>
  );
}

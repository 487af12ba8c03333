import { MoreHorizontal } from "lucide-react";
import { useState } from "react";
import styled from "styled-components";
import { change } from "../document/changing";
import { curveName, FIRST_CURVE } from "../document/curves";
import { called, modelOf, OFFERS } from "../document/kinds";
import { quantity } from "../document/quantities";
import type { Field, Source } from "../document/types";
import { IconButton, SmallButton } from "../parts/Button";
import { Choice, CommandMenu, type MenuCommand, WordButton } from "../parts/Choice";
import { CurveEditor } from "../parts/CurveEditor";
import { useCommit, useEditing } from "../parts/editing";
import { NumberValue } from "../parts/NumberValue";
import { OwnGrip, Reordered } from "../parts/Reordered";
import { Trial } from "../view/Trial";
import { SourceClause } from "./sentences";
import type { Measurable } from "./sources/clause";

const MEASURED = [
  ["rest", "sticking to the surface"],
  ["posed", "as the surface comes by"],
] as const;

type Props = {
  pointer: string;
  source: Source;
  first: boolean;
  field: Field;
  fieldId: string;
  id: string;
  measurable: Measurable;
};

/** One clause of a field's sentence: joining word, source, and what becomes of its value. */
export function Clause({ pointer, source, first, field, fieldId, id, measurable }: Props) {
  const editing = useEditing();
  const commit = useCommit();
  const [shaping, setShaping] = useState(false);
  const putAll = (label: string, changes: Record<string, unknown>) =>
    commit(
      label,
      Object.entries(changes).map(([name, value]) => ({ op: "replace", path: `${pointer}/${name}`, value })),
    );
  const put = (label: string, name: string, value: unknown) => putAll(label, { [name]: value });
  const sources = `/fields/${fieldId}/sources`;
  const name = called("source", source.kind);
  const move = (by: 1 | -1) => void change(editing, { kind: "move_in_order", collection: sources, id, by });
  const words = OFFERS.joining.map(({ word, says, wish }): MenuCommand => {
    const edit = async () => [{ op: "replace" as const, path: `${pointer}/word`, value: word }];
    const picture = () => <Trial tried={{ item: measurable.subject, heat: fieldId, edit }} says={says} />;
    return [word, () => put(word, "word", word), says, wish, picture];
  });
  const several = Object.keys(field.sources).length > 1;
  const sticks = "measured" in source && source.measured === "rest";
  return (
    <Reordered
      as={Words}
      collection={sources}
      id={id}
      label="Drag the clause to another place"
      data-several={several || undefined}
    >
      {several && <OwnGrip />}
      {!first && (
        <>
          <CommandMenu label="Joining word" commands={words} holds={source.word}>
            <WordButton aria-label={`${source.word}, joining word`}>{source.word}</WordButton>
          </CommandMenu>{" "}
        </>
      )}
      {source.inverted && "not "}
      <SourceClause pointer={pointer} source={source} put={put} putAll={putAll} {...measurable} />
      {sticks && (
        <>
          ,{" "}
          <Choice
            label="Measured"
            value="rest"
            options={MEASURED}
            onChoose={(measured) => put(`measured ${measured}`, "measured", measured)}
          />
        </>
      )}
      {source.curve && (
        <>
          , taken{" "}
          <SmallButton aria-expanded={shaping} onPress={() => setShaping(!shaping)}>
            {curveName(source.curve)}
          </SmallButton>
        </>
      )}
      {source.amount !== 1 && (
        <>
          , by{" "}
          <NumberValue
            pointer={`${pointer}/amount`}
            quantity={quantity(modelOf("source", source.kind), "amount")}
            label="Amount"
          />
        </>
      )}{" "}
      <CommandMenu
        label="This clause"
        commands={[
          [source.inverted ? "Not inverted" : "Invert it (not)", () => put("not", "inverted", !source.inverted)],
          ...("measured" in source && !sticks
            ? [["Let it stick to the surface", () => put("measured at rest", "measured", "rest")] as const]
            : []),
          ...(source.curve
            ? [["Without its curve", () => put("no curve", "curve", null)] as const]
            : [
                [
                  "Take it through a curve",
                  () => {
                    put("a curve", "curve", FIRST_CURVE);
                    setShaping(true);
                  },
                ] as const,
              ]),
          ...("stretch" in source
            ? [["Stretch its cells", () => put("stretched", "stretch", [1, 2, 1])] as const]
            : []),
          ...(source.amount === 1 ? [["Count only half of it", () => put("amount 0.5", "amount", 0.5)] as const] : []),
          ["Move it before", () => move(-1)],
          ["Move it after", () => move(1)],
          ["Remove it", () => void change(editing, { kind: "remove_clause", field: fieldId, source: id })],
        ]}
      >
        <IconButton data-small aria-label={`More for ${name}`}>
          <MoreHorizontal size={14} />
        </IconButton>
      </CommandMenu>{" "}
      {shaping && source.curve && (
        <CurveEditor pointer={`${pointer}/curve`} curve={source.curve} label={`Curve of ${name}`} />
      )}
    </Reordered>
  );
}

const Words = styled.span`
  &[data-several] { display: block; padding-left: 24px; text-indent: -24px; }
  &[data-several] > * { text-indent: 0; }
  &[data-landing="before"] { box-shadow: 0 -2px var(--signal); }
  &[data-landing="after"] { box-shadow: 0 2px var(--signal); }
`;

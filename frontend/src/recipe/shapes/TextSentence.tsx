import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Label, TextArea, TextField } from "react-aria-components";
import styled from "styled-components";
import { answered, api } from "../../api/client";
import { quantity } from "../../document/quantities";
import { Choice } from "../../parts/Choice";
import { useCommit, useEditing } from "../../parts/editing";
import { NumberValue } from "../../parts/NumberValue";
import type { ShapeProps } from "./shape";
import { ThickSentence } from "./ThickSentence";

/** The fonts that ship, by what they look like. */
const SHIPPED = [
  ["grotesque", "a grotesque"],
  ["slab", "a slab serif"],
  ["serif", "a book serif"],
  ["stencil", "a stencil"],
  ["script", "a brush script"],
] as const;
const ALIGNMENTS = [
  ["left", "from the left"],
  ["middle", "in the middle"],
  ["right", "to the right"],
] as const;

export function TextSentence({ pointer, geometry: text }: ShapeProps<"text">) {
  const commit = useCommit();
  const { data } = useQuery({ queryKey: ["assets"], queryFn: () => answered(api.GET("/api/assets")) });
  const own = (data?.assets ?? [])
    .filter((asset) => asset.sort === "font")
    .map((asset) => [asset.hash, asset.name.replace(/\.[^.]*$/, "")] as const);
  const put = (label: string, name: string, value: unknown) =>
    commit(label, [{ op: "replace", path: `${pointer}/${name}`, value }]);
  const value = (name: string, label: string) => (
    <NumberValue pointer={`${pointer}/${name}`} quantity={quantity("Text", name)} label={label} />
  );
  return (
    <>
      <Words pointer={`${pointer}/words`} words={text.words} />
      in{" "}
      <Choice
        label="Font"
        value={text.font}
        options={[...SHIPPED, ...own]}
        onChoose={(font) => put("font", "font", font)}
      />
      , capitals {value("size", "Height of a capital")} high, set{" "}
      <Choice
        label="Alignment"
        value={text.align}
        options={ALIGNMENTS}
        onChoose={(align) => put(`set ${align}`, "align", align)}
      />
      , tracking {value("tracking", "Tracking")}, lines {value("leading", "Leading")} apart,{" "}
      <Choice
        label="Kerning"
        value={text.kerning ? "on" : "off"}
        options={[
          ["on", "with kerning"],
          ["off", "without kerning"],
        ]}
        onChoose={(kerning) => put(`kerning ${kerning}`, "kerning", kerning === "on")}
      />
      ; <ThickSentence pointer={pointer} model="Text" form={text.bevel_form} />
    </>
  );
}

/** The words themselves: seen while they are typed, one edit when the box is left. */
function Words({ pointer, words }: { pointer: string; words: string }) {
  const { documents } = useEditing();
  const commit = useCommit();
  const [typed, setTyped] = useState<string | null>(null);
  const timer = useRef(0);
  /** The words before typing began: those that come from outside are what is typed, meanwhile. */
  const before = useRef(words);
  useEffect(() => () => window.clearTimeout(timer.current), []);
  const patch = (value: string) => [{ op: "replace" as const, path: pointer, value }];
  function type(value: string) {
    if (typed === null) before.current = words;
    setTyped(value);
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => {
      if (value.trim()) documents.getState().dragTo(patch(value));
    }, 250);
  }
  function keep() {
    window.clearTimeout(timer.current);
    if (typed?.trim() && typed !== before.current) commit("words", patch(typed));
    else documents.getState().dragTo(null);
    setTyped(null);
  }
  return (
    <TextField
      value={typed ?? words}
      onChange={type}
      onBlur={keep}
      maxLength={600}
      onKeyDown={(event) => {
        if (event.key !== "Escape") return;
        documents.getState().dragTo(null);
        setTyped(null);
      }}
    >
      <Label>Text</Label>
      <Box rows={Math.min(5, (typed ?? words).split("\n").length)} />
    </TextField>
  );
}

const Box = styled(TextArea)`
  display: block; width: 100%; resize: vertical; padding: 4px 6px; margin: 2px 0; font: inherit; font-weight: 600; line-height: 1.4;
  background: var(--paper); color: var(--ink); border: 1px solid var(--line); border-radius: 3px;
`;

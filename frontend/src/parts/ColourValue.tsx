import { useRef } from "react";
import styled from "styled-components";
import { at } from "../document/parameter";
import { useCommit, useEditing, useShot } from "./editing";

/** A colour of a sentence. It is seen while it is chosen, and kept when the choosing ends. */
export function ColourValue({ pointer, label }: { pointer: string; label: string }) {
  const editing = useEditing();
  const commit = useCommit();
  const colour = String(useShot((shot) => at(shot, pointer)) ?? "#ffffff");
  const timer = useRef(0);
  return (
    <Swatch
      type="color"
      aria-label={label}
      title={label}
      value={colour}
      onChange={(event) => {
        const value = event.target.value;
        editing.documents.getState().dragTo([{ op: "replace", path: pointer, value }]);
        window.clearTimeout(timer.current);
        timer.current = window.setTimeout(() => commit(label, [{ op: "replace", path: pointer, value }]), 400);
      }}
    />
  );
}

const Swatch = styled.input`
  width: 34px; height: 16px; padding: 0; border: 1px solid var(--ink-soft); border-radius: 2px; vertical-align: -3px; background: none; cursor: pointer;
  &::-webkit-color-swatch-wrapper { padding: 0; }
  &::-webkit-color-swatch { border: 0; border-radius: 1px; }
`;

import { useEffect, useRef } from "react";
import styled from "styled-components";
import { useStore } from "zustand";
import { type Field, inOrder, type Shot } from "../document/types";
import { allChosen } from "../parts/chosen";
import { useEditing, useRelations, useSession } from "../parts/editing";
import { Letter } from "../parts/Letter";
import { showDriven, useOpenField } from "../parts/opening";
import { bringIntoView } from "../view/framing";
import { type Strip, useStrip } from "./coverage";
import { StripPicture } from "./StripPicture";

/** A field: its letter and name, what it covers when, and the keys that move it. */
export function FieldRow({ id, field }: { id: string; field: Field }) {
  const editing = useEditing();
  const { session, documents } = editing;
  const shot = useStore(documents, (state) => state.shot);
  const chosenField = useSession((state) => state.field);
  const chosen = useSession((state) => state.chosen);
  const relations = useRelations((all) => all.fields[id]);
  const { listeners = [], drives: driving = false, clauses = [], key_frames: keyFrames = [] } = relations ?? {};
  const pool = listeners.length > 0 ? listeners : shapesOf(shot);
  const listener = pool.find((shape) => shape === chosen) ?? pool[0] ?? null;
  const { strip, fresh } = useStrip(id, listener);
  const dragging = useStore(documents, (state) => state.drag !== null);
  const row = useRef<HTMLButtonElement>(null);
  const ofOpen = useOpenField() === id;
  useEffect(() => {
    if (ofOpen) row.current?.scrollIntoView({ block: "nearest" });
  }, [ofOpen]);
  const before = useRef<Strip | null>(null);
  useEffect(() => {
    if (!dragging && fresh) before.current = strip;
  }, [dragging, fresh, strip]);
  const { first, last } = shot.frames;
  const share = (at: number) => ((at - first) / Math.max(1, last - first)) * 100;
  return (
    <>
      <Name
        ref={row}
        type="button"
        data-open={ofOpen || undefined}
        aria-pressed={chosenField === id}
        data-idle={driving ? undefined : true}
        onClick={() => {
          session.setState({ field: id });
          showDriven(editing, chosen, id);
        }}
        onDoubleClick={() => void bringIntoView(editing, allChosen(session.getState()), id)}
        title="Show this field in Heat and Mesh; pressed twice, its band comes into view"
      >
        <Letter data-chosen={chosenField === id || undefined}>{field.letter}</Letter>
        <span>
          <b>{field.name}</b>
          <small>{driving ? clauses.join(", ") || "0 everywhere" : "drives nothing yet"}</small>
        </span>
      </Name>
      <Cover data-strip={id}>
        <StripPicture strip={strip} before={dragging ? before.current : null} letter={field.letter} />
        {keyFrames.map((at) => (
          <Key
            key={at}
            type="button"
            aria-label={`Key at ${at}`}
            title={`Key at ${at}`}
            style={{ left: `${share(at)}%` }}
            onClick={() => session.setState({ frame: at, playing: false })}
          />
        ))}
      </Cover>
    </>
  );
}

/** The shapes of a shot, on which the strip of a field is measured that reaches none. */
function shapesOf(shot: Shot): string[] {
  return inOrder(shot.items).flatMap(([id, item]) => (item.kind === "shape" ? [id] : []));
}

const Name = styled.button`
  display: flex; gap: 8px; align-items: center; text-align: left; padding: 2px 6px 2px 0; min-width: 0; border: 0; background: none; cursor: pointer;
  & span:last-child { display: grid; min-width: 0; line-height: 1.2; }
  & small { font-size: 11.5px; color: var(--ink-soft); overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  &[data-open] b { text-decoration: underline; text-decoration-color: var(--signal); text-decoration-thickness: 2px; text-underline-offset: 3px; }
  &[data-idle] { background: repeating-linear-gradient(135deg, transparent 0 6px, var(--hatch) 6px 12px); }
`;
const Cover = styled.div`
  position: relative; align-self: center; height: 26px; margin: 2px 8px;
  & > svg { position: absolute; inset: 3px 0; width: 100%; height: 20px; border-radius: 2px; }
`;
const Key = styled.button`
  position: absolute; top: -1px; width: 10px; height: 28px; margin-left: -5px; padding: 0; border: 0; background: none; cursor: pointer; z-index: 2;
  &::before { content: ""; position: absolute; left: 4px; top: 0; bottom: 0; width: 2px; background: var(--ink); }
  &::after { content: ""; position: absolute; left: 1px; top: 0; width: 8px; height: 5px; background: var(--ink); border-radius: 1px; }
`;

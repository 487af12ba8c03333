import { useEffect, useRef, useState } from "react";
import styled from "styled-components";
import { fetchFrame, type Manifest } from "../api/frames";
import type { Patch } from "../document/types";
import { bandNow, type Editing, useEditing, valueNow } from "../parts/editing";
import { Hairline } from "../parts/Hairline";
import { SmallStage } from "./smallStage";

const SIZE = { width: 224, height: 126 };
/** How many frames of the shot are tried, and how many of them are shown in a second. */
const FRAMES = 8;
const EACH_SECOND = 6;
/** Milliseconds that one looks at a command before it is tried. */
const PAUSE = 250;

/** What is tried: the item that is seen, the edit, and the field that is seen as heat on it, if one is. */
export type Tried = { item: string; edit: () => Promise<Patch>; heat?: string };

const small = new SmallStage(SIZE);

/** A frame as a small picture in which the item is large. first: it is the first of several that are seen the same way. */
function pictured(editing: Editing, manifest: Manifest, { item, heat }: Tried, first: boolean): HTMLCanvasElement {
  const { shot } = editing.documents.getState();
  const level = heat ? Number(valueNow(editing, `/fields/${heat}/level`)) : 0;
  const band = heat ? bandNow(editing, heat) : 0;
  const read = heat ? { reading: "heat" as const, subject: item, level, band } : {};
  small.show(manifest, { ...read, camera: shot.camera ?? null, free: true, chosen: [item] });
  if (first) small.stage.frameOn(item, manifest);
  const canvas = Object.assign(document.createElement("canvas"), SIZE);
  small.draw(canvas);
  return canvas;
}

/** A small moving picture of what an edit would make of an item: a few frames of the whole shot, as they come. */
export function Trial({ tried, says }: { tried: Tried; says: string }) {
  const editing = useEditing();
  const canvas = useRef<HTMLCanvasElement>(null);
  const first = useRef(tried);
  const [trouble, setTrouble] = useState("");
  const [there, setThere] = useState(0);
  useEffect(() => {
    const tried = first.current;
    const ended = new AbortController();
    const pictures: HTMLCanvasElement[] = [];
    let shown = 0;
    const still = matchMedia("(prefers-reduced-motion: reduce)").matches;
    const paint = () => {
      const picture = pictures[still ? pictures.length >> 1 : shown++ % Math.max(1, pictures.length)];
      if (picture) canvas.current?.getContext("2d")?.drawImage(picture, 0, 0);
    };
    const moving = window.setInterval(paint, 1000 / EACH_SECOND);
    const begun = window.setTimeout(async () => {
      try {
        const patch = await tried.edit();
        for (const frame of framesOver(editing)) {
          if (ended.signal.aborted) return;
          const manifest = await tryFrame(editing, patch, frame, tried, ended.signal);
          if (ended.signal.aborted) return;
          pictures.push(pictured(editing, manifest, tried, pictures.length === 0));
          setThere(pictures.length);
        }
      } catch (fault) {
        if (!ended.signal.aborted) setTrouble(fault instanceof Error ? fault.message : String(fault));
      }
    }, PAUSE);
    return () => {
      ended.abort();
      window.clearInterval(moving);
      window.clearTimeout(begun);
    };
  }, [editing]);
  return (
    <Shown data-trial={there}>
      <canvas ref={canvas} {...SIZE} role="img" aria-label={`What it would make: ${says}`} />
      {trouble ? <p>{trouble}</p> : there < FRAMES && <Hairline label="Trying it" />}
    </Shown>
  );
}

let wishes = Date.now();

function tryFrame(editing: Editing, patch: Patch, frame: number, { item, heat }: Tried, signal: AbortSignal) {
  const { id, revision, unsaved } = editing.documents.getState();
  const wish = {
    revision,
    patch: [...unsaved(), ...patch],
    frame,
    heat: heat ? { field: heat, item } : null,
    looked_at: [],
    dragged: true,
    view: "trial",
    wish: ++wishes,
    ahead: true,
  };
  return fetchFrame(id, wish, signal);
}

/** Frames evenly over the shot. */
function framesOver(editing: Editing): number[] {
  const { first, last } = editing.documents.getState().shot.frames;
  return Array.from({ length: FRAMES }, (_, place) => Math.round(first + ((last - first) * (place + 0.5)) / FRAMES));
}

const Shown = styled.div`
  display: grid; gap: 4px; align-content: start;
  & canvas { display: block; background: var(--surround); border-radius: 2px; }
  & p { width: ${SIZE.width}px; font-size: 12px; color: var(--ink-soft); }
`;

import { useEffect, useRef } from "react";
import styled from "styled-components";
import { useStore } from "zustand";
import { isKeyed } from "../document/parameter";
import { type Field, fieldsOf, inOrder, type Shot } from "../document/types";
import { useEditing, useSession, useShot } from "../parts/editing";
import { Letter } from "../parts/Letter";
import { SOURCE_WORDS } from "../recipe/sources/SourceClause";
import { type Strip, useStrip } from "./coverage";
import { RangeEnd } from "./RangeEnd";
import { Transport } from "./Transport";

/** Time: transport, ruler, and a row for every field with what it covers when. */
export function Tracks() {
  const fields = useShot((shot) => shot.fields);
  const rows = inOrder(fields);
  return (
    <Area aria-label="Tracks">
      <Transport />
      <Grid>
        <Label>Field</Label>
        <Ruler />
        {rows.map(([id, field]) => (
          <FieldRow key={id} id={id} field={field} />
        ))}
      </Grid>
      {rows.length === 0 && (
        <Empty>
          No fields yet. Choose a shape and add a step: its field appears here with what it covers over time.
        </Empty>
      )}
    </Area>
  );
}

function Ruler() {
  const editing = useEditing();
  const { session, player } = editing;
  const frames = useShot((shot) => shot.frames);
  const frame = useSession((state) => state.frame);
  const { range } = useSession((state) => state);
  const line = useRef<HTMLDivElement>(null);
  const span = Math.max(1, frames.last - frames.first);
  const share = (at: number) => ((at - frames.first) / span) * 100;
  const every = niceStep(span);
  const ticks = Array.from({ length: Math.floor(span / every) + 1 }, (_, place) => frames.first + place * every);

  const frameAt = (x: number) => {
    const box = line.current?.getBoundingClientRect();
    const at = Math.round(frames.first + ((x - (box?.left ?? 0)) / (box?.width ?? 1)) * span);
    return Math.min(frames.last, Math.max(frames.first, at));
  };

  function scrub(down: React.PointerEvent) {
    const target = down.currentTarget;
    target.setPointerCapture(down.pointerId);
    const to = (x: number) => session.setState({ frame: frameAt(x), playing: false });
    to(down.clientX);
    const move = (event: Event) => to((event as PointerEvent).clientX);
    const end = () => {
      target.removeEventListener("pointermove", move);
      target.removeEventListener("pointerup", end);
    };
    target.addEventListener("pointermove", move);
    target.addEventListener("pointerup", end);
  }

  function step(event: React.KeyboardEvent) {
    const by = { ArrowLeft: -1, ArrowRight: 1, PageDown: -10, PageUp: 10 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    session.setState({ frame: Math.min(frames.last, Math.max(frames.first, Math.round(frame) + by)), playing: false });
  }

  const ready = readyRuns(frames.first, frames.last, (at) => player.ready(at));
  return (
    <Scale
      ref={line}
      role="slider"
      tabIndex={0}
      aria-label="Frame in view"
      aria-valuemin={frames.first}
      aria-valuemax={frames.last}
      aria-valuenow={Math.round(frame)}
      onPointerDown={scrub}
      onKeyDown={step}
    >
      {ticks.map((tick) => (
        <Tick key={tick} style={{ left: `${share(tick)}%` }}>
          {tick}
        </Tick>
      ))}
      {range && (
        <Played
          style={{ left: `${share(range.first)}%`, width: `${share(range.last) - share(range.first)}%` }}
          title={`Played: ${range.first} to ${range.last}`}
        />
      )}
      {range && <RangeEnd end="first" share={share} frameAt={frameAt} />}
      {range && <RangeEnd end="last" share={share} frameAt={frameAt} />}
      {ready.map(([from, to]) => (
        <Ready
          key={from}
          data-ready
          style={{ left: `${share(from - 0.5)}%`, width: `${share(to + 0.5) - share(from - 0.5)}%` }}
        />
      ))}
      <Playhead style={{ left: `${share(frame)}%` }} />
    </Scale>
  );
}

function FieldRow({ id, field }: { id: string; field: Field }) {
  const editing = useEditing();
  const { session, documents } = editing;
  const shot = useStore(documents, (state) => state.shot);
  const chosenField = useSession((state) => state.field);
  const chosen = useSession((state) => state.chosen);
  const listener = listenerOf(shot, id, chosen);
  const { strip, fresh } = useStrip(id, listener);
  const dragging = useStore(documents, (state) => state.drag !== null);
  const before = useRef<Strip | null>(null);
  useEffect(() => {
    if (!dragging && fresh) before.current = strip;
  }, [dragging, fresh, strip]);
  const { first, last } = shot.frames;
  const share = (at: number) => ((at - first) / Math.max(1, last - first)) * 100;
  const drives =
    Object.values(shot.items).some(
      (item) => item.kind === "shape" && Object.values(item.recipe.steps).some((step) => step.field === id && step.on),
    ) || Object.values(shot.fields).some((other) => fieldsOf(other).includes(id));
  const words = inOrder(field.sources).map(([, source]) => {
    if ("controller" in source && source.controller) {
      return `${SOURCE_WORDS[source.kind]} ${shot.items[source.controller]?.name ?? ""}`;
    }
    if (source.kind === "another") return `${shot.fields[source.field]?.letter ?? ""}, later`;
    if (source.kind === "spread") return `spread from ${shot.fields[source.seeds]?.letter ?? ""}`;
    if (source.kind === "near") return `near ${shot.groups[source.group]?.name ?? ""}`;
    return SOURCE_WORDS[source.kind];
  });
  return (
    <>
      <Name
        type="button"
        aria-pressed={chosenField === id}
        data-idle={drives ? undefined : true}
        onClick={() => session.setState({ field: id })}
        title="Show this field in Heat and Mesh"
      >
        <Letter data-chosen={chosenField === id || undefined}>{field.letter}</Letter>
        <span>
          <b>{field.name}</b>
          <small>{drives ? words.join(", ") || "0 everywhere" : "drives nothing yet"}</small>
        </span>
      </Name>
      <Cover data-strip={id}>
        <StripPicture strip={strip} before={dragging ? before.current : null} letter={field.letter} />
        {keyFrames(shot, field).map((at) => (
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

/** Inside solid at the foot, the band dotted above it, outside hollow. While a value is dragged: before above, after below. */
function StripPicture({ strip, before, letter }: { strip: Strip | null; before: Strip | null; letter: string }) {
  if (!strip) return <Blank>measuring …</Blank>;
  const width = Math.max(1, strip.length - 1);
  const told = strip.map(([inside]) => inside ?? 0);
  const label = `Coverage of ${letter}: from ${percent(told[0])} inside at the start to ${percent(told.at(-1))} at the end`;
  return (
    <svg viewBox={`0 0 ${width} 100`} preserveAspectRatio="none" role="img" aria-label={label}>
      <defs>
        <pattern id={`band-${letter}`} width={width / 120} height={14} patternUnits="userSpaceOnUse">
          <rect width="100%" height={14} fill="var(--sea)" fillOpacity={0.35} />
          <rect width="50%" height={7} fill="var(--sea)" fillOpacity={0.75} />
        </pattern>
      </defs>
      <rect width={width} height={100} fill="var(--outside)" />
      {before ? (
        <>
          <Areas strip={before} foot={49} room={49} letter={letter} />
          <line
            x1={0}
            x2={width}
            y1={50}
            y2={50}
            stroke="var(--card)"
            strokeWidth={4}
            vectorEffect="non-scaling-stroke"
          />
          <Areas strip={strip} foot={100} room={49} letter={letter} />
        </>
      ) : (
        <Areas strip={strip} foot={100} room={100} letter={letter} />
      )}
    </svg>
  );
}

function Areas({ strip, foot, room, letter }: { strip: Strip; foot: number; room: number; letter: string }) {
  const y = (share: number) => foot - share * room;
  const inside = strip.map(([value = 0], at) => `${at} ${y(value)}`);
  const band = strip.map(([value = 0, more = 0], at) => `${at} ${y(value + more)}`);
  const end = strip.length - 1;
  return (
    <>
      <path d={`M${band.join("L")}L${[...inside].reverse().join("L")}Z`} fill={`url(#band-${letter})`} />
      <path d={`M0 ${foot}L${inside.join("L")}L${end} ${foot}Z`} fill="var(--sea)" />
    </>
  );
}

/** The shape on which a field's strip is measured: the chosen one if it listens, else the first that does. */
function listenerOf(shot: Shot, field: string, chosen: string | null): string | null {
  const shapes = inOrder(shot.items).filter(([, item]) => item.kind === "shape");
  const reaches = (from: string): boolean =>
    from === field || fieldsOf(shot.fields[from] as Field).some((other) => reaches(other));
  const listens = shapes.filter(
    ([, item]) =>
      item.kind === "shape" && Object.values(item.recipe.steps).some((step) => step.field && reaches(step.field)),
  );
  const pool = listens.length > 0 ? listens : shapes;
  return (pool.find(([id]) => id === chosen) ?? pool[0])?.[0] ?? null;
}

/** The frames of all keys that move a field: its own, its sources', and those of the controllers it measures from. */
function keyFrames(shot: Shot, field: Field): number[] {
  const frames = new Set<number>();
  const collect = (thing: unknown): void => {
    if (isKeyed(thing)) for (const key of Object.values(thing.keys)) frames.add(key.frame);
    else if (typeof thing === "object" && thing !== null) for (const value of Object.values(thing)) collect(value);
  };
  const gather = (one: Field | undefined): void => {
    if (!one) return;
    collect(one);
    for (const source of Object.values(one.sources))
      if ("controller" in source && source.controller) collect(shot.items[source.controller]);
    for (const other of fieldsOf(one)) gather(shot.fields[other]);
  };
  gather(field);
  return Array.from(frames).sort((one, other) => one - other);
}

function readyRuns(first: number, last: number, ready: (frame: number) => boolean): [number, number][] {
  const runs: [number, number][] = [];
  for (let frame = first; frame <= last; frame++) {
    if (!ready(frame)) continue;
    const run = runs.at(-1);
    if (run && run[1] === frame - 1) run[1] = frame;
    else runs.push([frame, frame]);
  }
  return runs;
}

function niceStep(span: number): number {
  const rough = span / 8;
  return [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000].find((step) => step >= rough) ?? 10000;
}

function percent(share: number | undefined): string {
  return `${Math.round((share ?? 0) * 100)} %`;
}

const Area = styled.section`
  overflow: auto; padding: 0 16px 8px 12px; background: var(--card); border-top: 1px solid var(--line);
`;
const Grid = styled.div`
  display: grid; grid-template-columns: 196px 1fr; align-items: center; row-gap: 4px;
`;
const Label = styled.span`color: var(--ink-soft);`;
const Scale = styled.div`
  position: relative; height: 32px; cursor: ew-resize; touch-action: none; margin: 0 8px; border-bottom: 1px solid var(--line);
`;
const Tick = styled.span`
  position: absolute; top: 3px; transform: translateX(-50%); font-size: 11.5px; color: var(--ink-soft); pointer-events: none;
  &::after { content: ""; position: absolute; left: 50%; top: 17px; height: 6px; border-left: 1px solid var(--ink-soft); }
`;
const Ready = styled.span`
  position: absolute; bottom: 0; height: 3px; background: var(--sea); pointer-events: none;
`;
const Played = styled.span`
  position: absolute; top: 0; height: 3px; background: var(--ink); pointer-events: none;
`;
const Playhead = styled.span`
  position: absolute; top: 0; height: 1000px; border-left: 2px solid var(--signal); margin-left: -1px; pointer-events: none; z-index: 1;
`;
const Name = styled.button`
  display: flex; gap: 8px; align-items: center; text-align: left; padding: 2px 6px 2px 0; min-width: 0; border: 0; background: none; cursor: pointer;
  & span:last-child { display: grid; min-width: 0; line-height: 1.2; }
  & small { font-size: 11.5px; color: var(--ink-soft); overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  &[data-idle] { background: repeating-linear-gradient(135deg, transparent 0 6px, var(--hatch) 6px 12px); }
`;
const Cover = styled.div`
  position: relative; height: 26px; margin: 0 8px;
  & > svg { position: absolute; inset: 3px 0; width: 100%; height: 20px; border-radius: 2px; }
`;
const Blank = styled.span`
  position: absolute; inset: 3px 0; background: var(--outside); color: var(--ink-soft); font-size: 11.5px; padding-left: 6px;
`;
const Key = styled.button`
  position: absolute; top: -1px; width: 10px; height: 28px; margin-left: -5px; padding: 0; border: 0; background: none; cursor: pointer; z-index: 2;
  &::before { content: ""; position: absolute; left: 4px; top: 0; bottom: 0; width: 2px; background: var(--ink); }
  &::after { content: ""; position: absolute; left: 1px; top: 0; width: 8px; height: 5px; background: var(--ink); border-radius: 1px; }
`;
const Empty = styled.p`padding: 12px 0; color: var(--ink-soft);`;

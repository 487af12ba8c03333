import { useEffect, useMemo, useRef, useState } from "react";
import styled from "styled-components";
import { fetchedBytes, Refused } from "../api/client";
import { useEvents } from "../api/events";
import type { Patch } from "../document/types";
import { useEditing, useSession, useShot } from "../parts/editing";
import { Hairline } from "../parts/Hairline";
import { ALL, type Closer, inView, type Part, partSeen, placed, shared } from "./closer";
import { frameBeside } from "./compared";
import { WipeLine } from "./WipeLine";

/** Samples of a pixel and the share of the view's size, one picture after the other: the first comes soon, the last is as it
 * is written. */
const FULL = { samples: 32, share: 1 };
const PICTURES = [{ samples: 4, share: 0.5 }, FULL];

/** Milliseconds that a frame must stand before it is rendered. */
const STANDS = 350;

/** Pixels of the whole that are at most asked for each way, where a part of it is looked at closely. */
const MOST = 4096;

/** What is put on a shot for its finishing to be seen, or for nothing to be done to its picture. */
const AS_IT_IS: Patch = [];
const UNFINISHED: Patch = [{ op: "replace", path: "/finishing", value: {} }];

const OUT_OF_VIEW =
  "The part that is rendered is not in view. See the whole picture, or drag over the view to choose another part.";

/** What is rendered: a frame of a shot at a revision, with what is dragged. */
type Wanted = { shot: string; revision: number; patch: Patch; frame: number };

/** A picture of what was wanted that has come, and the part of the whole that it shows. */
type Rendered = { of: Wanted; part: Part; address: string; samples: number };

/** The frame in view as it will be when it is written, over the quick picture as soon as it stands still; beside it that of what
 * the shot is compared with. */
export function Finished() {
  const { documents, player } = useEditing();
  const manifest = useSession((state) => state.manifest);
  const playing = useSession((state) => state.playing);
  const through = useSession((state) => state.through);
  const unfinished = useSession((state) => state.unfinished);
  const closer = useSession((state) => state.closer);
  const part = useSession((state) => state.part);
  const compared = useSession((state) => state.compared);
  const beside = useSession((state) => state.besideManifest);
  const line = useSession((state) => state.line);
  const shot = useShot((one) => one);
  const camera = shot.camera ?? null;
  const work = useEvents((state) => state.work).find((one) => one.view.startsWith("finished"));
  const dragging = useDocumentsDrag();
  const area = useRef<HTMLDivElement>(null);
  /** Up to this share of the width the quick picture is left, to compare both. */
  const [wipe, setWipe] = useState(0);
  const seen = manifest !== null && !playing && through === "camera" && camera !== null;

  const inSight = useMemo(() => shared(partSeen(closer), part ?? ALL), [closer, part]);
  const steps = unfinished ? UNFINISHED : AS_IT_IS;
  const wanted = useMemo(() => {
    if (!seen || !manifest) return null;
    const { revision, patch } = player.wanted();
    return { shot: documents.getState().id, revision, patch: [...patch, ...steps], frame: manifest.frame };
  }, [seen, manifest, steps, documents, player]);
  const wantedBeside = useMemo(() => {
    if (!seen || !compared?.camera || !manifest || !beside) return null;
    return {
      shot: compared.shot,
      revision: compared.revision,
      patch: steps,
      frame: frameBeside(manifest.frame, shot, compared),
    };
  }, [seen, compared, beside, manifest, steps, shot]);
  const own = useRendered(wanted, inSight, closer.zoom, dragging, "finished", area);
  const other = useRendered(own.done ? wantedBeside : null, inSight, closer.zoom, dragging, "finished-beside", area);

  const said = seen && !inSight ? OUT_OF_VIEW : own.said;
  const done = own.done && (!wantedBeside || other.done || other.said !== "");
  const stands = seen && !dragging;
  const words = note({ camera, through, said, playing: playing || dragging, done, begun: own.shown !== null });
  const from = compared ? line : wipe;
  return (
    <Over ref={area} data-finished={own.shown ? own.shown.samples : 0} data-beside={other.shown?.samples}>
      {other.shown && compared && (
        <Side style={{ clipPath: `inset(0 ${100 * (1 - line)}% 0 0)` }}>
          <Picture rendered={other.shown} closer={closer} name={`${compared.name}, finished`} />
        </Side>
      )}
      {own.shown && (
        <Side style={{ clipPath: `inset(0 0 0 ${100 * from}%)` }}>
          <Picture rendered={own.shown} closer={closer} name={`Frame ${manifest?.frame}, finished`} />
        </Side>
      )}
      {own.shown && !compared && <WipeLine label="Quick picture up to this line" share={wipe} onChange={setWipe} />}
      {words && (
        <Note role="status">
          {!said && stands && <Hairline label={words} />}
          <span>
            {words}
            {!said && stands && work && work.share > 0 && `, ${Math.round(work.share * 100)} %`}
            {!said && stands && work?.seconds_left ? `, ${Math.ceil(work.seconds_left)} s left` : ""}
          </span>
        </Note>
      )}
    </Over>
  );
}

/** What comes of what is wanted, of a part of the whole: a first picture soon, the full one after it. */
function useRendered(
  wanted: Wanted | null,
  part: Part | null,
  zoom: number,
  waiting: boolean,
  view: string,
  area: React.RefObject<HTMLDivElement | null>,
): { shown: Rendered | null; done: boolean; said: string } {
  const wish = useRef(Date.now());
  const [rendered, setRendered] = useState<Rendered | null>(null);
  const [said, setSaid] = useState("");

  useEffect(() => {
    setSaid("");
    if (!wanted || !part) return setRendered(null);
    const stop = new AbortController();

    /** Whether there is such a picture now; one that would have to be rendered first there is not, if only kept ones count. */
    async function pictured(asked: (typeof PICTURES)[number], only_kept: boolean): Promise<boolean> {
      const box = area.current?.getBoundingClientRect();
      if (!box || !wanted || !part) return false;
      wish.current += 1;
      const share = asked.share * Math.max(1, Math.min(zoom, MOST / Math.max(box.width, box.height)));
      const size = {
        width: Math.max(16, Math.round(box.width * share)),
        height: Math.max(16, Math.round(box.height * share)),
      };
      const { shot, ...told } = wanted;
      const whole = part.join() === ALL.join();
      const of = { view, wish: wish.current, ...size, samples: asked.samples, only_kept, part: whole ? null : part };
      const bytes = await fetchedBytes(`/api/shots/${shot}/finished`, { ...told, ...of }, stop.signal);
      if (stop.signal.aborted || bytes.byteLength === 0) return false;
      const address = URL.createObjectURL(new Blob([bytes], { type: "image/png" }));
      setRendered({ of: wanted, part, address, samples: asked.samples });
      return true;
    }

    async function ask() {
      // Where only the finishing changed, what was rendered is finished anew at once, also while a value is dragged.
      if (await pictured(FULL, true)) return;
      if (stop.signal.aborted) return;
      // What was seen from farther off is seen until it is there from close by.
      setRendered((last) => (last?.of === wanted ? { ...last, samples: 0 } : null));
      if (waiting) return;
      await new Promise((resolve) => window.setTimeout(resolve, STANDS));
      for (const one of PICTURES) if (!stop.signal.aborted) await pictured(one, false);
    }

    ask().catch((fault: unknown) => {
      if (stop.signal.aborted) return;
      setSaid(fault instanceof Refused ? fault.message : "It could not be rendered. The shot is unharmed.");
    });
    return () => stop.abort();
  }, [wanted, part, zoom, waiting, view, area]);

  const address = rendered?.address;
  useEffect(() => () => void (address && URL.revokeObjectURL(address)), [address]);
  const shown = wanted !== null && rendered?.of.frame === wanted.frame ? rendered : null;
  return { shown, done: shown?.samples === FULL.samples, said };
}

/** A part of a picture, where it is in the view. */
function Picture({ rendered, closer, name }: { rendered: Rendered; closer: Closer; name: string }) {
  return <img src={rendered.address} alt={name} style={placed(inView(rendered.part, closer))} />;
}

type Now = {
  camera: string | null;
  through: "camera" | "free";
  said: string;
  playing: boolean;
  done: boolean;
  begun: boolean;
};

function note({ camera, through, said, playing, done, begun }: Now): string {
  if (camera === null) return "A finished picture is seen through a camera. Add one and look through it.";
  if (through === "free") return "A finished picture is seen through the shot’s camera. Look through it.";
  if (said) return said;
  if (playing) return "";
  if (done) return "";
  return begun ? "A first rendering; the full one is on its way" : "Rendering the finished picture";
}

/** Whether a value is being dragged. */
function useDocumentsDrag(): boolean {
  const { documents } = useEditing();
  const [dragging, setDragging] = useState(documents.getState().drag !== null);
  useEffect(() => documents.subscribe((state) => setDragging(state.drag !== null)), [documents]);
  return dragging;
}

const Over = styled.div`position: absolute; inset: 0; pointer-events: none; overflow: hidden;`;
const Side = styled.div`
  position: absolute; inset: 0;
  & img { position: absolute; display: block; }
`;
const Note = styled.div`
  position: absolute; left: 12px; bottom: 14px; max-width: 60%; padding: 6px 12px; background: var(--card); border: 1px solid var(--line); border-radius: 3px;
  & > [role="progressbar"] { position: absolute; left: 0; right: 0; top: -1px; }
`;

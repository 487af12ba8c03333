import { useEffect, useRef, useState } from "react";
import styled from "styled-components";
import { fetchedBytes, Refused } from "../api/client";
import { useEvents } from "../api/events";
import { useEditing, useSession, useShot } from "../parts/editing";
import { Hairline } from "../parts/Hairline";
import { WipeLine } from "./WipeLine";

/** Samples of a pixel and the share of the view's size, one picture after the other: the first comes soon, the last is as it
 * is written. */
const PICTURES = [
  { samples: 4, share: 0.5 },
  { samples: 32, share: 1 },
];
const MOST = 32;

/** Milliseconds that a frame must stand before it is rendered. */
const STANDS = 350;

/** What was rendered last of what is now in the view. */
type Rendered = { of: unknown; address: string; samples: number };

/** The frame in view as it will be when it is written, over the quick picture as soon as it stands still. */
export function Finished() {
  const { documents, player } = useEditing();
  const manifest = useSession((state) => state.manifest);
  const playing = useSession((state) => state.playing);
  const through = useSession((state) => state.through);
  const camera = useShot((shot) => shot.camera ?? null);
  const work = useEvents((state) => state.work).find((one) => one.view === "finished");
  const compared = useSession((state) => state.compared);
  const dragging = useDocumentsDrag();
  const area = useRef<HTMLDivElement>(null);
  const wish = useRef(Date.now());
  const [rendered, setRendered] = useState<Rendered | null>(null);
  const [said, setSaid] = useState("");
  /** Up to this share of the width the quick picture is left, to compare both. */
  const [wipe, setWipe] = useState(0);
  const stands = manifest !== null && !playing && !dragging && through === "camera" && camera !== null && !compared;

  useEffect(() => {
    setSaid("");
    if (!stands || !manifest) return;
    const stop = new AbortController();
    const { id } = documents.getState();
    const ask = async () => {
      const box = area.current?.getBoundingClientRect();
      if (!box) return;
      const { revision, patch } = player.wanted();
      for (const { samples, share } of PICTURES) {
        wish.current += 1;
        const size = {
          width: Math.max(16, Math.round(box.width * share)),
          height: Math.max(16, Math.round(box.height * share)),
        };
        const body = { revision, patch, frame: manifest.frame, view: "finished", wish: wish.current, ...size, samples };
        const bytes = await fetchedBytes(`/api/shots/${id}/finished`, body, stop.signal);
        if (stop.signal.aborted) return;
        const address = URL.createObjectURL(new Blob([bytes], { type: "image/png" }));
        setRendered({ of: manifest, address, samples });
      }
    };
    const timer = window.setTimeout(() => {
      ask().catch((fault: unknown) => {
        if (stop.signal.aborted) return;
        setSaid(fault instanceof Refused ? fault.message : "It could not be rendered. The shot is unharmed.");
      });
    }, STANDS);
    return () => {
      window.clearTimeout(timer);
      stop.abort();
    };
  }, [stands, manifest, documents, player]);

  useEffect(() => () => void (rendered && URL.revokeObjectURL(rendered.address)), [rendered]);

  const shown = stands && rendered?.of === manifest ? rendered : null;
  const done = shown?.samples === MOST;
  const words = note({ camera, through, said, playing: playing || dragging, done, begun: shown !== null });
  return (
    <Over ref={area} data-finished={shown ? shown.samples : 0}>
      {shown && (
        <>
          <img
            src={shown.address}
            alt={`Frame ${manifest?.frame}, finished`}
            style={{ clipPath: `inset(0 0 0 ${100 * wipe}%)` }}
          />
          <WipeLine label="Quick picture up to this line" share={wipe} onChange={setWipe} />
        </>
      )}
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

const Over = styled.div`
  position: absolute; inset: 0; pointer-events: none;
  & img { position: absolute; inset: 0; width: 100%; height: 100%; display: block; }
`;
const Note = styled.div`
  position: absolute; left: 12px; bottom: 14px; max-width: 60%; padding: 6px 12px; background: var(--card); border: 1px solid var(--line); border-radius: 3px;
  & > [role="progressbar"] { position: absolute; left: 0; right: 0; top: -1px; }
`;

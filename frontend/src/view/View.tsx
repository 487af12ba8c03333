import { useCallback, useEffect, useRef, useState } from "react";
import styled from "styled-components";
import { Guide } from "../guide/Guide";
import { useAllChosen } from "../parts/chosen";
import { bandNow, useEditing, useSession, useShot, valueNow } from "../parts/editing";
import { useAids } from "./aids";
import { Before } from "./Before";
import { CloserLine } from "./CloserLine";
import { CompareLine } from "./CompareLine";
import { Finished } from "./Finished";
import { FocusLine } from "./FocusLine";
import { moveByKey } from "./freeCommands";
import { keepPlace, keptPlace } from "./freePlaces";
import { Guides } from "./Guides";
import { Handles } from "./Handles";
import { Legend } from "./Legend";
import { pictureOnLeaving } from "./leaving";
import { MarkLine } from "./MarkLine";
import { PartOfView } from "./PartOfView";
import { Probe } from "./Probe";
import { isMeasured } from "./session";
import { Stage } from "./stage";
import { closerByKey, useCloser } from "./useCloser";
import { usePresses } from "./usePresses";
import { ViewChips } from "./ViewChips";
import { WorkLine } from "./WorkLine";

/** The picture, its readings, and the handles of what is chosen. It is made anew where the browser took its graphics memory
 * away and gives it back empty. */
export function View() {
  const [memory, setMemory] = useState(0);
  const again = useCallback(() => setMemory((count) => count + 1), []);
  return <Drawn key={memory} again={again} />;
}

function Drawn({ again }: { again: () => void }) {
  const editing = useEditing();
  const { stage, documents } = editing;
  const holder = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [drawn, setDrawn] = useState(0);
  const reading = useSession((state) => state.reading);
  const past = useSession((state) => state.past);
  const through = useSession((state) => state.through);
  const compared = useSession((state) => state.compared);
  const besideManifest = useSession((state) => state.besideManifest);
  const line = useSession((state) => state.line);
  const manifest = useSession((state) => state.manifest);
  const field = useSession((state) => state.field);
  const chosen = useSession((state) => state.chosen);
  const all = useAllChosen();
  const aids = useAids((state) => state.on);
  const playing = useSession((state) => state.playing);
  const closer = useSession((state) => state.closer);
  const sharpness = useSession((state) => state.sharpness);
  const thinned = useSession((state) => state.thinned);
  const fields = useShot((shot) => shot.fields);
  const camera = useShot((shot) => shot.camera ?? null);
  const picture = useShot((shot) => shot.picture);

  useEffect(() => {
    if (!canvas.current || !holder.current) return;
    const { id, revision: opened } = documents.getState();
    let keeping = 0;
    const redraw = () => {
      made.draw();
      setDrawn((count) => count + 1);
    };
    const made = new Stage(canvas.current, () => {
      redraw();
      window.clearTimeout(keeping);
      keeping = window.setTimeout(() => keepPlace(id, made.free.standing), 300);
    });
    stage.current = made;
    const kept = keptPlace(id);
    if (kept) made.free.stand(kept);
    const observer = new ResizeObserver(([entry]) => {
      if (!entry) return;
      made.resize(entry.contentRect.width, entry.contentRect.height);
      redraw();
    });
    observer.observe(holder.current);
    const drawnOn = canvas.current;
    drawnOn.addEventListener("webglcontextrestored", again);
    return () => {
      drawnOn.removeEventListener("webglcontextrestored", again);
      window.clearTimeout(keeping);
      pictureOnLeaving(editing, made, opened);
      observer.disconnect();
      stage.current = null;
      made.dispose();
    };
  }, [editing, stage, documents, again]);
  usePresses(canvas);
  useCloser(canvas);

  useEffect(() => {
    const made = stage.current;
    if (!made || !manifest) return;
    const told = field ? fields[field] : undefined;
    const level = told ? Number(valueNow(editing, `/fields/${field}/level`)) : 0.5;
    const band = field && told ? bandNow(editing, field) : 0;
    const read = {
      reading: reading === "finished" ? "picture" : reading,
      subject: chosen,
      level,
      band,
      copies: thinned,
    };
    made.show(manifest, {
      ...read,
      camera,
      free: through === "free",
      chosen: all,
      outlined: !playing,
      aspect: picture.width / picture.height,
      aids,
    });
    const { camera: other, aspect: wide } = compared ?? {};
    const beside = compared && besideManifest;
    made.compare(beside && { manifest: beside, camera: other ?? null, aspect: wide ?? 1, line }, read);
    made.closeUp(closer);
    made.sharpen(sharpness);
    if (through === "free" && camera) made.freeAsCamera(true);
    made.draw();
    setDrawn((count) => count + 1);
  }, [
    editing,
    stage,
    manifest,
    reading,
    chosen,
    all,
    playing,
    field,
    fields,
    camera,
    picture,
    through,
    sharpness,
    thinned,
    aids,
    compared,
    besideManifest,
    line,
    closer,
  ]);

  return (
    <Area
      aria-label="View"
      ref={holder}
      tabIndex={through === "free" || closer.zoom > 1 ? 0 : undefined}
      onKeyDown={(event) =>
        through === "free" ? moveByKey(stage.current, event) : closer.zoom > 1 && closerByKey(editing, event)
      }
      data-frame={manifest?.frame}
      data-picture={`${picture.width}x${picture.height}`}
    >
      <canvas ref={canvas} aria-label="Picture of the shot" role="img" />
      {!manifest && <Still style={{ backgroundImage: `url(/api/shots/${documents.getState().id}/picture)` }} />}
      {reading === "finished" && <Finished />}
      {stage.current && <Guides stage={stage.current} aspect={picture.width / picture.height} />}
      {reading === "finished" && through === "camera" && <PartOfView />}
      <Handles drawn={drawn} />
      <Probe canvas={canvas} />
      <ViewChips />
      {thinned < 1 && (
        <Thinned role="status">
          {Math.round(100 * thinned)} % of the copies are drawn, to keep up. All are when it stands.
        </Thinned>
      )}
      {aids.has("floor") && manifest && stage.current && <Floor>Floor: squares of {stage.current.floorStep} m</Floor>}
      {isMeasured(reading) && <Legend />}
      <Guide />
      <WorkLine />
      {past !== null && !compared && <Past role="status">As it was after edit {past}</Past>}
      <MarkLine />
      <FocusLine />
      <CompareLine />
      <CloserLine />
      <Before />
    </Area>
  );
}

const Area = styled.section`
  position: relative; min-width: 0; min-height: 0; overflow: hidden; background: var(--surround);
  & > canvas { position: absolute; inset: 0; width: 100%; height: 100%; display: block; touch-action: none; }
`;
const Floor = styled.div`
  position: absolute; right: 12px; bottom: 14px; padding: 3px 8px; font-size: 12px; background: var(--card); border: 1px solid var(--line); border-radius: 3px;
`;
const Past = styled.div`
  position: absolute; left: 50%; bottom: 14px; transform: translateX(-50%); padding: 4px 12px; font-weight: 600;
  background: var(--ink); color: var(--card); border-radius: 3px;
`;
const Thinned = styled.div`
  position: absolute; left: 12px; bottom: 14px; padding: 4px 10px; background: var(--card); border: 1px solid var(--line); border-radius: 3px;
`;
/** The shot's small picture, until the first frame is there. */
const Still = styled.div`
  position: absolute; inset: 0; background: var(--surround) center / contain no-repeat; pointer-events: none;
`;

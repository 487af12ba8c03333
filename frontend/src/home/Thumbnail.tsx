import { useEffect, useRef } from "react";
import styled from "styled-components";
import { answered, api } from "../api/client";
import { fetchFrame } from "../api/frames";
import type { components } from "../api/schema";
import { keepPicture, SMALL } from "../api/smallPictures";
import { SmallStage } from "../view/smallStage";

type Summary = components["schemas"]["ShotSummary"];

/** One stage draws all thumbnails, one after another. */
const stage = new SmallStage(SMALL);
let turn: Promise<void> = Promise.resolve();

async function drawFrame(
  shot: Summary,
  frame: number,
  camera: string | null,
  canvas: HTMLCanvasElement,
): Promise<void> {
  const wish = { revision: shot.revision, patch: [], frame, heat: null, looked_at: [], view: "", wish: 0, ahead: true };
  const manifest = await fetchFrame(shot.id, wish);
  stage.show(manifest, { camera });
  stage.draw(canvas);
}

/** Draw the small picture that the server keeps of a shot. */
async function drawKept(shot: Summary, canvas: HTMLCanvasElement): Promise<boolean> {
  const image = new Image();
  image.src = `/api/shots/${shot.id}/picture?revision=${shot.revision}`;
  try {
    await image.decode();
  } catch {
    return false;
  }
  canvas.getContext("2d")?.drawImage(image, 0, 0, canvas.width, canvas.height);
  return true;
}

/** The shot on the frame that it opens on; it moves while it is pointed at. */
export function Thumbnail({ shot }: { shot: Summary }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const moving = useRef(false);
  const camera = useRef<string | null>(null);

  useEffect(() => {
    let wanted = true;
    turn = turn.then(async () => {
      if (!wanted || !canvas.current || !shot.readable) return;
      if (shot.picture === shot.revision && (await drawKept(shot, canvas.current))) return;
      const state = await answered(api.GET("/api/shots/{shot_id}", { params: { path: { shot_id: shot.id } } }));
      camera.current = state.document.camera ?? null;
      await drawFrame(shot, shot.opening_frame, camera.current, canvas.current);
      await keepPicture(shot.id, shot.revision, canvas.current);
    });
    turn = turn.catch(() => undefined);
    return () => {
      wanted = false;
      moving.current = false;
    };
  }, [shot]);

  async function move() {
    if (moving.current || matchMedia("(prefers-reduced-motion: reduce)").matches) return;
    moving.current = true;
    if (camera.current === null) {
      const state = await answered(api.GET("/api/shots/{shot_id}", { params: { path: { shot_id: shot.id } } })).catch(
        () => null,
      );
      camera.current = state?.document.camera ?? null;
    }
    const step = Math.max(1, Math.round(shot.frames / 30));
    for (let frame = 0; moving.current && canvas.current; frame = (frame + step) % shot.frames) {
      const began = performance.now();
      await drawFrame(shot, frame, camera.current, canvas.current).catch(() => {
        moving.current = false;
      });
      const rest = (1000 * step) / shot.fps - (performance.now() - began);
      await new Promise((wake) => setTimeout(wake, Math.max(0, rest)));
    }
    if (canvas.current)
      await drawFrame(shot, shot.opening_frame, camera.current, canvas.current).catch(() => undefined);
  }

  return (
    <Picture
      ref={canvas}
      {...SMALL}
      aria-hidden="true"
      onPointerEnter={() => void move()}
      onPointerLeave={() => {
        moving.current = false;
      }}
    />
  );
}

const Picture = styled.canvas`
  width: 100%; aspect-ratio: 16 / 9; display: block; background: var(--surround);
`;

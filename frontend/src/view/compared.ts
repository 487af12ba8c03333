import { answered, answeredShot, api } from "../api/client";
import type { Shot } from "../document/types";
import { asking } from "../parts/asking";
import type { Editing } from "../parts/editing";
import { tell } from "../parts/messages";

/** What the shot is compared with: itself as it was after an edit, or another shot. */
export type Compared = {
  shot: string;
  revision: number;
  /** What it is called at its side of the line. */
  name: string;
  camera: string | null;
  aspect: number;
  fps: number;
  frames: { first: number; last: number };
};

function compared(shot: string, revision: number, name: string, document: Shot): Compared {
  const { camera = null, picture, frames, rate } = document;
  const fps = rate.numerator / rate.denominator;
  return { shot, revision, name, camera, aspect: picture.width / picture.height, fps, frames };
}

function begin(editing: Editing, beside: Compared): void {
  editing.session.setState({ compared: beside, besideManifest: null });
}

/** The frame of what is compared at the second at which the shot is; the nearest that it has. */
export function frameBeside(frame: number, shot: Shot, beside: Compared): number {
  const seconds = (frame * shot.rate.denominator) / shot.rate.numerator;
  const there = Number((seconds * beside.fps).toFixed(6));
  return Math.min(beside.frames.last, Math.max(beside.frames.first, there));
}

/** Begin to compare with the shot as it was after an edit. */
export function compareWithEdit(editing: Editing, revision: number, label: string): void {
  const { id, shot } = editing.documents.getState();
  begin(editing, compared(id, revision, `Edit ${revision}: ${label}`, shot));
  editing.session.setState({ past: null });
}

/** Begin to compare with another shot as it stands. */
export async function compareWithShot(editing: Editing, shot: string): Promise<void> {
  try {
    const asked = answeredShot(api.GET("/api/shots/{shot_id}", { params: { path: { shot_id: shot } } }));
    const state = await asking("Opening the other shot", asked);
    begin(editing, compared(shot, state.revision, state.document.name, state.document));
  } catch (fault) {
    tell(fault instanceof Error ? fault.message : String(fault));
  }
}

export function endComparing(editing: Editing): void {
  editing.session.setState({ compared: null, besideManifest: null, past: null });
}

/** The other shots that there are, by project. */
export async function otherShots(own: string): Promise<{ id: string; name: string; project: string }[]> {
  const { projects } = await answered(api.GET("/api/projects"));
  return projects
    .filter((project) => project.kept === "here")
    .flatMap((project) => project.shots.map((shot) => ({ ...shot, project: project.name })))
    .filter((shot) => shot.kept === "here" && shot.id !== own);
}

import { keepPicture, SMALL } from "../api/smallPictures";
import type { Editing } from "../parts/editing";
import { plainly } from "./smallStage";
import type { Stage } from "./stage";

/** When a shot that was changed is left, its small picture is made of the frame that it opens on, where that is at hand. */
export function pictureOnLeaving({ documents, player }: Editing, stage: Stage, opened: number): void {
  const { id, revision, shot, unsaved } = documents.getState();
  const manifest = player.savedFrame(revision, shot.opening_frame);
  if (revision === opened || unsaved().length > 0 || !manifest) return;
  stage.show(manifest, plainly(SMALL, { camera: shot.camera ?? null }));
  stage.renderer.setPixelRatio(1);
  stage.resize(SMALL.width, SMALL.height);
  stage.draw(true);
  const canvas = Object.assign(document.createElement("canvas"), SMALL);
  canvas.getContext("2d")?.drawImage(stage.renderer.domElement, 0, 0);
  void keepPicture(id, revision, canvas);
}

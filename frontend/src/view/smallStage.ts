import type { Manifest } from "../api/frames";
import { AS_A_PICTURE, type ContentOptions } from "./content";
import { Stage, type StageOptions } from "./stage";

export type Size = { width: number; height: number };

/** A stage that draws small pictures of a size, each onto a canvas of its own; one is enough for all of a kind. */
export class SmallStage {
  private made: Stage | null = null;

  constructor(private readonly size: Size) {}

  get stage(): Stage {
    if (!this.made) {
      this.made = new Stage(Object.assign(document.createElement("canvas"), this.size), () => undefined);
      this.made.renderer.setPixelRatio(1);
      this.made.resize(this.size.width, this.size.height);
    }
    return this.made;
  }

  /** Put a frame on it, plainly: nothing is chosen and no aid is there. */
  show(manifest: Manifest, seen: Partial<ContentOptions & Pick<StageOptions, "camera" | "free" | "chosen">>): void {
    this.stage.show(manifest, plainly(this.size, seen));
  }

  draw(canvas: HTMLCanvasElement): void {
    this.stage.draw(true);
    canvas.getContext("2d")?.drawImage(this.stage.renderer.domElement, 0, 0, canvas.width, canvas.height);
  }
}

/** How a stage shows a frame as a picture of a size, where nothing else is told. */
export function plainly({ width, height }: Size, seen: Partial<StageOptions>): StageOptions {
  const nothing = { camera: null, free: false, chosen: [], outlined: false, aids: new Set<never>() };
  return { ...AS_A_PICTURE, ...nothing, aspect: width / height, ...seen };
}

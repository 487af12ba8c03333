import { blocks } from "./blocks";
import type { DrawItem } from "./frames";

const PIXEL_LIMIT = 128 * 2 ** 20;

/** Pictures by the hash of their block, read once. Those used longest ago go first where they become too many. */
class PictureStore {
  private readonly read = new Map<string, ImageBitmap>();
  private held = 0;

  get(hash: string): ImageBitmap | undefined {
    return this.read.get(hash);
  }

  /** Have the pictures of what is drawn at hand, their bottom first, as u,v count. */
  async bring(items: DrawItem[]): Promise<void> {
    const wanted = new Set(items.flatMap((item) => item.arrays.picture?.hash ?? []));
    for (const item of items) {
      const { picture } = item.arrays;
      if (!item.picture || !picture || this.read.has(picture.hash)) continue;
      const block = blocks.get(picture.hash);
      if (!block) continue;
      const content = new Blob([new Uint8Array(block, 0, picture.count)], { type: item.picture.kind });
      const bitmap = await createImageBitmap(content, {
        imageOrientation: "flipY",
        premultiplyAlpha: "none",
        colorSpaceConversion: "none",
      });
      this.read.set(picture.hash, bitmap);
      this.held += bitmap.width * bitmap.height;
    }
    for (const [hash, bitmap] of this.read) {
      if (this.held <= PIXEL_LIMIT) break;
      if (wanted.has(hash)) continue;
      this.read.delete(hash);
      this.held -= bitmap.width * bitmap.height;
    }
  }
}

export const pictures = new PictureStore();

import { headers } from "./client";

/** The size of the small pictures that the server keeps of shots, in pixels. */
export const SMALL = { width: 320, height: 180 };

/** Have the server keep the small picture of a shot as it stands at a revision. */
export async function keepPicture(shot: string, revision: number, canvas: HTMLCanvasElement): Promise<void> {
  const picture = await new Promise<Blob | null>((done) => canvas.toBlob(done, "image/webp", 0.85));
  if (!picture) return;
  const address = `/api/shots/${shot}/picture?revision=${revision}`;
  await fetch(address, { method: "PUT", headers, body: picture, keepalive: true }).catch(() => undefined);
}

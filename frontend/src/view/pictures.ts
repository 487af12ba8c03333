import * as THREE from "three";
import type { Wrap } from "../api/frames";

const WRAPPING: Record<Wrap, THREE.Wrapping> = {
  repeat: THREE.RepeatWrapping,
  mirror: THREE.MirroredRepeatWrapping,
  clamp: THREE.ClampToEdgeWrapping,
};

/** A picture whose bottom row comes first, as the graphics card reads it. */
export function pictureTexture(image: ImageBitmap, [u, v]: [Wrap, Wrap]): THREE.Texture {
  const texture = new THREE.Texture(image);
  texture.flipY = false;
  texture.wrapS = WRAPPING[u];
  texture.wrapT = WRAPPING[v];
  texture.colorSpace = THREE.SRGBColorSpace;
  texture.anisotropy = 8;
  texture.needsUpdate = true;
  return texture;
}

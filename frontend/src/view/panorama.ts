import * as THREE from "three";
import { EXRLoader } from "three/examples/jsm/loaders/EXRLoader.js";
import { HDRLoader } from "three/examples/jsm/loaders/HDRLoader.js";
import { fetchedFile } from "../api/client";

/** The imported pictures of all round that came, by the hashes of their files. */
const known = new Map<string, THREE.Texture>();
/** Who waits for one of them. */
const waiting = new Map<string, Set<() => void>>();

/** A picture of all round; null until it has come, which is told. */
export function panorama(asset: string, came: () => void): THREE.Texture | null {
  const there = known.get(asset);
  if (there) return there;
  const others = waiting.get(asset);
  if (others) {
    others.add(came);
    return null;
  }
  const all = new Set([came]);
  waiting.set(asset, all);
  void fetchedFile(`/api/assets/${asset}/content`)
    .then(read)
    .then((texture) => {
      known.set(asset, texture);
      for (const one of all) one();
    })
    .catch(() => waiting.delete(asset));
  return null;
}

async function read(content: ArrayBuffer): Promise<THREE.Texture> {
  const [first = 0, second = 0] = new Uint8Array(content, 0, 2);
  const loader = first === 0x76 ? new EXRLoader() : first === 0x23 && second === 0x3f ? new HDRLoader() : null;
  return loader ? floats(loader, content) : painted(content);
}

/** Linear light, rows from straight down. */
function floats(loader: EXRLoader | HDRLoader, content: ArrayBuffer): THREE.Texture {
  loader.setDataType(THREE.HalfFloatType);
  const { data, width, height, format } = loader.parse(content);
  const made = new THREE.DataTexture(
    data as Uint16Array<ArrayBuffer>,
    width,
    height,
    format ?? THREE.RGBAFormat,
    THREE.HalfFloatType,
  );
  made.flipY = loader instanceof HDRLoader;
  return filtered(made);
}

async function painted(content: ArrayBuffer): Promise<THREE.Texture> {
  const picture = await createImageBitmap(new Blob([content]), { imageOrientation: "flipY" });
  const made = new THREE.Texture(picture);
  made.flipY = false;
  made.colorSpace = THREE.SRGBColorSpace;
  return filtered(made);
}

function filtered(made: THREE.Texture): THREE.Texture {
  made.minFilter = THREE.LinearFilter;
  made.magFilter = THREE.LinearFilter;
  made.wrapS = THREE.RepeatWrapping;
  made.generateMipmaps = false;
  made.needsUpdate = true;
  return made;
}

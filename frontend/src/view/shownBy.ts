import * as THREE from "three";
import { FullScreenQuad } from "three/examples/jsm/postprocessing/Pass.js";
import type { Manifest } from "../api/frames";
import { PLAIN_VERTEX } from "./materials";
import aces13 from "./tables/aces_1_3.bin?url";
import aces20 from "./tables/aces_2_0.bin?url";

type View = Manifest["finish"]["view"];

/** The tables of the views that the graphics library does not know: baked from what finished pictures are shown by. */
const TABLES: Partial<Record<View, string>> = { aces_1_3: aces13, aces_2_0: aces20 };

/** Places along each side of a table, and the times white that its last one stands for. */
const SIDE = 33;
const MOST = 64;

/** How linear light becomes what the display shows: as finished pictures and films are shown. */
export class ShownBy {
  private readonly tables = new Map<View, THREE.Data3DTexture>();
  private readonly asked = new Set<View>();
  private readonly target = new THREE.WebGLRenderTarget(2, 2, { type: THREE.HalfFloatType, samples: 4 });
  private readonly laid = new FullScreenQuad(tableMaterial());

  /** loaded: is called when a table has come. */
  constructor(private readonly loaded: () => void) {}

  /** Draw something: straight where the graphics library knows the view, else by way of a table. */
  draw(renderer: THREE.WebGLRenderer, view: View, drawn: () => void): void {
    const table = this.table(view);
    if (!table) {
      renderer.toneMapping = view === "plain" ? THREE.LinearToneMapping : THREE.NeutralToneMapping;
      renderer.setRenderTarget(null);
      drawn();
      return;
    }
    const size = renderer.getDrawingBufferSize(new THREE.Vector2());
    this.target.setSize(size.x, size.y);
    const { toneMapping } = renderer;
    renderer.toneMapping = THREE.NoToneMapping;
    renderer.setRenderTarget(this.target);
    drawn();
    renderer.toneMapping = toneMapping;
    renderer.setRenderTarget(null);
    const { uniforms } = this.laid.material as THREE.ShaderMaterial;
    uniforms.picture!.value = this.target.texture;
    uniforms.table!.value = table;
    uniforms.exposure!.value = renderer.toneMappingExposure;
    this.laid.render(renderer);
  }

  dispose(): void {
    for (const table of this.tables.values()) table.dispose();
    this.target.dispose();
    this.laid.dispose();
  }

  private table(view: View): THREE.Data3DTexture | undefined {
    const address = TABLES[view];
    if (address && !this.asked.has(view)) {
      this.asked.add(view);
      void fetch(address)
        .then((response) => response.arrayBuffer())
        .then((content) => {
          this.tables.set(view, texture(new Uint8Array(content)));
          this.loaded();
        });
    }
    return this.tables.get(view);
  }
}

function texture(bytes: Uint8Array<ArrayBuffer>): THREE.Data3DTexture {
  const made = new THREE.Data3DTexture(bytes, SIDE, SIDE, SIDE);
  made.format = THREE.RGBAFormat;
  made.minFilter = THREE.LinearFilter;
  made.magFilter = THREE.LinearFilter;
  made.unpackAlignment = 1;
  made.needsUpdate = true;
  return made;
}

function tableMaterial(): THREE.ShaderMaterial {
  return new THREE.ShaderMaterial({
    depthTest: false,
    depthWrite: false,
    uniforms: { picture: { value: null }, table: { value: null }, exposure: { value: 1 } },
    vertexShader: PLAIN_VERTEX,
    fragmentShader: `
      precision highp sampler3D;
      uniform sampler2D picture;
      uniform sampler3D table;
      uniform float exposure;
      varying vec2 spot;
      void main() {
        vec3 light = max(exposure * texture2D(picture, spot).rgb, 0.0);
        vec3 place = clamp(log2(light * 256.0 + 1.0) / log2(${MOST}.0 * 256.0 + 1.0), 0.0, 1.0);
        gl_FragColor = vec4(texture(table, (place * ${SIDE - 1}.0 + 0.5) / ${SIDE}.0).rgb, 1.0);
      }`,
  });
}

import * as THREE from "three";
import { FullScreenQuad } from "three/examples/jsm/postprocessing/Pass.js";
import { drawDressed } from "./dressed";
import { darkMaterial, PLAIN_VERTEX } from "./materials";

/** Pixels of the page: what is no wider, twice over, counts as within. */
const CLOSED = 20;
/** Places looked at to either side of one. */
const TAPS = 10;

/** The dashed line about what is chosen, drawn over the picture, also where something stands before it. */
export class ChosenOutline {
  private readonly mask = new THREE.WebGLRenderTarget(2, 2);
  private readonly closed = [new THREE.WebGLRenderTarget(2, 2), new THREE.WebGLRenderTarget(2, 2)] as const;
  private readonly reach = new FullScreenQuad(reachMaterial());
  private readonly line = new FullScreenQuad(lineMaterial());
  private readonly covering = darkMaterial();

  draw(
    renderer: THREE.WebGLRenderer,
    scene: THREE.Scene,
    camera: THREE.Camera,
    things: THREE.Group,
    items: string[],
  ): void {
    const size = renderer.getDrawingBufferSize(new THREE.Vector2());
    this.mask.setSize(size.x, size.y);
    const all = things.children.filter(({ userData }) => items.includes(userData.item) && !userData.veil);
    // Lines about each of many copies would hide what they are laid on.
    const plain = all.filter(({ userData }) => !userData.copies);
    const chosen = plain.length > 0 ? plain : all;
    if (chosen.length === 0) return;
    renderer.setClearColor("#000000", 0);
    drawDressed(renderer, this.mask, scene, camera, things, (thing) =>
      chosen.includes(thing) ? (thing.userData.dark ?? this.covering) : null,
    );
    this.close(renderer);
    const { uniforms } = this.line.material as THREE.ShaderMaterial;
    uniforms.mask!.value = this.mask.texture;
    uniforms.closed!.value = this.closed[0].texture;
    uniforms.step!.value.set(1 / size.x, 1 / size.y);
    uniforms.pixels!.value = renderer.getPixelRatio();
    const { autoClear } = renderer;
    renderer.autoClear = false;
    renderer.setRenderTarget(null);
    this.line.render(renderer);
    renderer.autoClear = autoClear;
  }

  /** Fills what is narrow within the mask: a closing, grown by so many pixels each way and shrunk again (Serra 1982), so that
   * what is in pieces or wires has one line about it. */
  private close(renderer: THREE.WebGLRenderer): void {
    const [one, other] = this.closed;
    const [w, h] = [Math.ceil(this.mask.width / 2), Math.ceil(this.mask.height / 2)];
    for (const target of this.closed) target.setSize(w, h);
    const apart = (CLOSED * renderer.getPixelRatio()) / (2 * TAPS);
    const { uniforms } = this.reach.material as THREE.ShaderMaterial;
    const pass = (from: THREE.WebGLRenderTarget, to: THREE.WebGLRenderTarget, x: number, y: number, grows: boolean) => {
      uniforms.mask!.value = from.texture;
      uniforms.step!.value.set(x * apart, y * apart);
      uniforms.grows!.value = grows ? 1 : -1;
      renderer.setRenderTarget(to);
      this.reach.render(renderer);
    };
    pass(this.mask, other, 1 / w, 0, true);
    pass(other, one, 0, 1 / h, true);
    pass(one, other, 1 / w, 0, false);
    pass(other, one, 0, 1 / h, false);
  }

  dispose(): void {
    this.mask.dispose();
    for (const target of this.closed) target.dispose();
    this.reach.dispose();
    this.line.dispose();
    this.covering.dispose();
  }
}

/** The most or the least of a mask along a line of places to either side. */
function reachMaterial(): THREE.ShaderMaterial {
  return new THREE.ShaderMaterial({
    depthTest: false,
    depthWrite: false,
    uniforms: { mask: { value: null }, step: { value: new THREE.Vector2() }, grows: { value: 1 } },
    vertexShader: PLAIN_VERTEX,
    fragmentShader: `
      uniform sampler2D mask;
      uniform vec2 step;
      uniform float grows;
      varying vec2 spot;
      void main() {
        float found = texture2D(mask, spot).a;
        for (int place = 1; place <= ${TAPS}; place++) {
          float one = texture2D(mask, spot + float(place) * step).a;
          float other = texture2D(mask, spot - float(place) * step).a;
          found = grows > 0.0 ? max(found, max(one, other)) : min(found, min(one, other));
        }
        gl_FragColor = vec4(found);
      }`,
  });
}

/** Two pixels of the page along the outside of the mask: dashes in the colour of what is chosen, with light between. */
function lineMaterial(): THREE.ShaderMaterial {
  return new THREE.ShaderMaterial({
    depthTest: false,
    depthWrite: false,
    transparent: true,
    uniforms: {
      mask: { value: null },
      closed: { value: null },
      step: { value: new THREE.Vector2() },
      pixels: { value: 1 },
    },
    vertexShader: PLAIN_VERTEX,
    fragmentShader: `
      uniform sampler2D mask;
      uniform sampler2D closed;
      uniform vec2 step;
      uniform float pixels;
      varying vec2 spot;
      float within(vec2 there) {
        return max(texture2D(mask, there).a, texture2D(closed, there).a);
      }
      void main() {
        if (within(spot) > 0.5) discard;
        float near = 0.0;
        for (int place = 0; place < 8; place++) {
          float angle = 0.7853982 * float(place);
          near = max(near, within(spot + 1.6 * pixels * step * vec2(cos(angle), sin(angle))));
        }
        if (near < 0.5) discard;
        bool dash = mod((gl_FragCoord.x + gl_FragCoord.y) / pixels, 10.0) < 6.0;
        gl_FragColor = dash ? vec4(0.043, 0.42, 0.44, 1.0) : vec4(0.98, 0.98, 0.96, 0.55);
      }`,
  });
}

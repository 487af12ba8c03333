import * as THREE from "three";
import { FullScreenQuad } from "three/examples/jsm/postprocessing/Pass.js";
import { darkMaterial, PLAIN_VERTEX } from "./materials";

/** The dashed line about what is chosen, drawn over the picture, also where something stands before it. */
export class ChosenOutline {
  private readonly mask = new THREE.WebGLRenderTarget(2, 2);
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
    if (!this.cover(renderer, scene, camera, things, items)) return;
    const { uniforms } = this.line.material as THREE.ShaderMaterial;
    uniforms.mask!.value = this.mask.texture;
    uniforms.step!.value.set(1 / size.x, 1 / size.y);
    uniforms.pixels!.value = renderer.getPixelRatio();
    const { autoClear } = renderer;
    renderer.autoClear = false;
    renderer.setRenderTarget(null);
    this.line.render(renderer);
    renderer.autoClear = autoClear;
  }

  dispose(): void {
    this.mask.dispose();
    this.line.dispose();
    this.covering.dispose();
  }

  /** Fills the mask where the items are; whether there are any. */
  private cover(
    r: THREE.WebGLRenderer,
    scene: THREE.Scene,
    camera: THREE.Camera,
    things: THREE.Group,
    items: string[],
  ) {
    const all = things.children.filter((thing) => items.includes(thing.userData.item) && !thing.userData.veil);
    // Lines about each of many copies would hide what they are laid on.
    const plain = all.filter((thing) => !thing.userData.copies);
    const chosen = plain.length > 0 ? plain : all;
    if (chosen.length === 0) return false;
    const others = scene.children.filter((child) => child !== things && child.visible);
    const hidden = things.children.filter((thing) => !chosen.includes(thing) && thing.visible);
    const { environment, fog } = scene;
    const shadows = r.shadowMap.autoUpdate;
    const worn = chosen.map((thing) => {
      const mesh = thing as THREE.Mesh;
      const { material } = mesh;
      mesh.material = (mesh.userData.dark as THREE.Material | undefined) ?? this.covering;
      return material;
    });
    for (const child of [...others, ...hidden]) child.visible = false;
    Object.assign(scene, { environment: null, fog: null });
    r.shadowMap.autoUpdate = false;
    r.setRenderTarget(this.mask);
    r.setClearColor("#000000", 0);
    r.clear();
    r.render(scene, camera);
    chosen.forEach((thing, place) => {
      const mesh = thing as THREE.Mesh;
      mesh.material = worn[place] ?? mesh.material;
    });
    for (const child of [...others, ...hidden]) child.visible = true;
    Object.assign(scene, { environment, fog });
    r.shadowMap.autoUpdate = shadows;
    return true;
  }
}

/** Two pixels of the page along the outside of the mask: dashes in the colour of what is chosen, with light between. */
function lineMaterial(): THREE.ShaderMaterial {
  return new THREE.ShaderMaterial({
    depthTest: false,
    depthWrite: false,
    transparent: true,
    uniforms: { mask: { value: null }, step: { value: new THREE.Vector2() }, pixels: { value: 1 } },
    vertexShader: PLAIN_VERTEX,
    fragmentShader: `
      uniform sampler2D mask;
      uniform vec2 step;
      uniform float pixels;
      varying vec2 spot;
      void main() {
        float near = 0.0;
        for (int place = 0; place < 8; place++) {
          float angle = 0.7853982 * float(place);
          near = max(near, texture2D(mask, spot + 1.6 * pixels * step * vec2(cos(angle), sin(angle))).a);
        }
        if (near < 0.5 || texture2D(mask, spot).a > 0.5) discard;
        // Gaps within it, as between wires, are not outlined: the way out is open in some direction.
        float open = 0.0;
        for (int place = 0; place < 8; place++) {
          float angle = 0.7853982 * float(place);
          vec2 way = pixels * step * vec2(cos(angle), sin(angle));
          float met = 0.0;
          for (int far = 1; far <= 5; far++) met = max(met, texture2D(mask, spot + 3.2 * float(far) * way).a);
          open = max(open, 1.0 - met);
        }
        if (open < 0.5) discard;
        bool dash = mod((gl_FragCoord.x + gl_FragCoord.y) / pixels, 10.0) < 6.0;
        gl_FragColor = dash ? vec4(0.043, 0.42, 0.44, 1.0) : vec4(0.98, 0.98, 0.96, 0.55);
      }`,
  });
}

import * as THREE from "three";
import { FullScreenQuad } from "three/examples/jsm/postprocessing/Pass.js";
import { drawDressed } from "./dressed";
import { darkMaterial, PLAIN_VERTEX } from "./materials";

/** What shines spreads light about it: what things give off is drawn small, blurred twice, and laid over the picture. */
export class Glow {
  private readonly near = [target(), target()] as const;
  private readonly wide = [target(), target()] as const;
  private readonly blurred = new FullScreenQuad(blurMaterial());
  private readonly laid = new FullScreenQuad(laidMaterial());
  private readonly dark = darkMaterial();

  /** Lays the glow of the things, so strong, over what was drawn. Each mesh that shines has a material `glow` in its `userData`. */
  draw(
    renderer: THREE.WebGLRenderer,
    scene: THREE.Scene,
    camera: THREE.Camera,
    things: THREE.Group,
    strength: number,
  ): void {
    const size = renderer.getDrawingBufferSize(new THREE.Vector2());
    const [w, h] = [Math.max(2, Math.round(size.x / 4)), Math.max(2, Math.round(size.y / 4))];
    for (const one of this.near) one.setSize(w, h);
    for (const one of this.wide) one.setSize(Math.max(2, w >> 2), Math.max(2, h >> 2));
    renderer.setClearColor("#000000", 1);
    drawDressed(renderer, this.near[0], scene, camera, things, ({ userData }) =>
      userData.veil ? null : (userData.glow ?? userData.dark ?? this.dark),
    );
    const [a, b] = this.near;
    const [c, d] = this.wide;
    this.blur(renderer, a, b, 1 / w, 0);
    this.blur(renderer, b, a, 0, 1 / h);
    this.blur(renderer, a, c, 4 / w, 0);
    this.blur(renderer, c, d, 0, 4 / h);
    this.blur(renderer, d, c, 4 / w, 0);
    const { uniforms } = this.laid.material as THREE.ShaderMaterial;
    uniforms.near!.value = a.texture;
    uniforms.wide!.value = c.texture;
    uniforms.strength!.value = strength;
    const { autoClear } = renderer;
    renderer.autoClear = false;
    renderer.setRenderTarget(null);
    this.laid.render(renderer);
    renderer.autoClear = autoClear;
  }

  dispose(): void {
    for (const one of [...this.near, ...this.wide]) one.dispose();
    this.blurred.dispose();
    this.laid.dispose();
    this.dark.dispose();
  }

  private blur(
    r: THREE.WebGLRenderer,
    from: THREE.WebGLRenderTarget,
    to: THREE.WebGLRenderTarget,
    x: number,
    y: number,
  ) {
    const { uniforms } = this.blurred.material as THREE.ShaderMaterial;
    uniforms.picture!.value = from.texture;
    uniforms.step!.value = new THREE.Vector2(x, y);
    r.setRenderTarget(to);
    this.blurred.render(r);
  }
}

function target(): THREE.WebGLRenderTarget {
  return new THREE.WebGLRenderTarget(2, 2, { type: THREE.HalfFloatType });
}

/** A Gaussian along one direction, two of its steps wide. */
function blurMaterial(): THREE.ShaderMaterial {
  return new THREE.ShaderMaterial({
    depthTest: false,
    depthWrite: false,
    uniforms: { picture: { value: null }, step: { value: new THREE.Vector2() } },
    vertexShader: PLAIN_VERTEX,
    fragmentShader: `
      uniform sampler2D picture;
      uniform vec2 step;
      varying vec2 spot;
      void main() {
        vec3 total = vec3(0.0);
        float weights = 0.0;
        for (int place = -6; place <= 6; place++) {
          float weight = exp(-0.5 * float(place * place) / 6.0);
          total += weight * texture2D(picture, spot + float(place) * step).rgb;
          weights += weight;
        }
        gl_FragColor = vec4(total / weights, 1.0);
      }`,
  });
}

function laidMaterial(): THREE.ShaderMaterial {
  return new THREE.ShaderMaterial({
    depthTest: false,
    depthWrite: false,
    transparent: true,
    blending: THREE.CustomBlending,
    blendSrc: THREE.OneFactor,
    blendDst: THREE.OneMinusSrcColorFactor,
    uniforms: { near: { value: null }, wide: { value: null }, strength: { value: 1 } },
    vertexShader: PLAIN_VERTEX,
    fragmentShader: `
      uniform sampler2D near;
      uniform sampler2D wide;
      uniform float strength;
      varying vec2 spot;
      void main() {
        vec3 light = strength * (0.35 * texture2D(near, spot).rgb + 0.6 * texture2D(wide, spot).rgb);
        gl_FragColor = vec4(pow(1.0 - exp(-light), vec3(1.0 / 2.2)) * 0.85, 1.0);
      }`,
  });
}

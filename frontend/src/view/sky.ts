import * as THREE from "three";

type Sky = { ground: Rgb; horizon: Rgb; zenith: Rgb; haze: string; cloud: number };
type Rgb = [number, number, number];

/** The colours of each environment, linear; haze is what far things fade into. */
const SKIES: Record<string, Sky> = {
  day: {
    ground: [0.3, 0.33, 0.34],
    horizon: [0.62, 0.67, 0.69],
    zenith: [0.27, 0.41, 0.55],
    haze: "#cfd6d8",
    cloud: 0.12,
  },
  dusk: {
    ground: [0.05, 0.06, 0.08],
    horizon: [0.5, 0.24, 0.16],
    zenith: [0.035, 0.055, 0.12],
    haze: "#8a6a62",
    cloud: 0.3,
  },
  storm: {
    ground: [0.08, 0.09, 0.1],
    horizon: [0.3, 0.33, 0.34],
    zenith: [0.06, 0.075, 0.095],
    haze: "#7d8587",
    cloud: 0.75,
  },
  night: {
    ground: [0.01, 0.012, 0.017],
    horizon: [0.05, 0.066, 0.09],
    zenith: [0.008, 0.013, 0.028],
    haze: "#3d4a57",
    cloud: 0.2,
  },
};

function skyOf(kind: string): Sky {
  return SKIES[kind] ?? (SKIES.day as Sky);
}

function plainSky(colour: THREE.Color): Omit<Sky, "haze"> {
  const rgb: Rgb = [colour.r, colour.g, colour.b];
  return { ground: rgb, horizon: rgb, zenith: rgb, cloud: 0 };
}

export function hazeOf(kind: string): string {
  return skyOf(kind).haze;
}

function skyMaterial(): THREE.ShaderMaterial {
  const colour = () => ({ value: new THREE.Vector3() });
  return new THREE.ShaderMaterial({
    side: THREE.BackSide,
    depthWrite: false,
    uniforms: {
      ground: colour(),
      horizon: colour(),
      zenith: colour(),
      cloud: { value: 0 },
      picture: { value: null },
      pictured: { value: false },
    },
    vertexShader: `
      varying vec3 direction;
      void main() {
        direction = normalize(position);
        gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
      }`,
    fragmentShader: `
      varying vec3 direction;
      uniform vec3 ground;
      uniform vec3 horizon;
      uniform vec3 zenith;
      uniform float cloud;
      uniform sampler2D picture;
      uniform bool pictured;
      float chance(vec2 cell) {
        return fract(sin(dot(cell, vec2(127.1, 311.7))) * 43758.5453);
      }
      float smoothed(vec2 at) {
        vec2 cell = floor(at);
        vec2 part = at - cell;
        part = part * part * (3.0 - 2.0 * part);
        return mix(
          mix(chance(cell), chance(cell + vec2(1.0, 0.0)), part.x),
          mix(chance(cell + vec2(0.0, 1.0)), chance(cell + vec2(1.0, 1.0)), part.x),
          part.y
        );
      }
      /** Layers of cloud on a level ceiling, seen from below: they crowd together toward the horizon. */
      float clouds(vec3 toward) {
        vec2 at = toward.xz / (toward.y + 0.12) * vec2(0.55, 1.1);
        float sum = 0.0;
        float share = 0.5;
        for (int octave = 0; octave < 5; octave++) {
          sum += share * smoothed(at);
          at = mat2(1.6, 1.2, -1.2, 1.6) * at + 7.3;
          share *= 0.5;
        }
        return smoothstep(0.35, 0.75, sum);
      }
      void main() {
        vec3 toward = normalize(direction);
        float height = toward.y;
        vec3 sky = mix(horizon, zenith, pow(clamp(height, 0.0, 1.0), 0.6));
        float cover = cloud * smoothstep(0.0, 0.1, height) * clouds(vec3(toward.x, max(height, 0.0), toward.z));
        sky = mix(sky, mix(zenith, horizon, 0.25) * 0.8, cover);
        gl_FragColor = vec4(mix(sky, ground, smoothstep(0.0, -0.08, height)), 1.0);
        if (pictured) {
          vec2 at = vec2(0.5 + atan(toward.x, -toward.z) / 6.283185307, 0.5 + asin(clamp(height, -1.0, 1.0)) / 3.141592654);
          gl_FragColor = vec4(textureLod(picture, at, 0.0).rgb, 1.0);
        }
        #include <tonemapping_fragment>
        #include <colorspace_fragment>
      }`,
  });
}

/** What a sky looks like: an environment by its name, one colour all over, or a picture of all round. */
export type SkyLook = string | THREE.Color | THREE.Texture;

/** Gives a sky its look. */
export function paintSky(sky: THREE.Mesh, look: SkyLook): void {
  const { uniforms } = sky.material as THREE.ShaderMaterial;
  uniforms.pictured!.value = look instanceof THREE.Texture;
  uniforms.picture!.value = look instanceof THREE.Texture ? look : null;
  if (look instanceof THREE.Texture) return;
  const told = typeof look === "string" ? skyOf(look) : plainSky(look);
  for (const name of ["ground", "horizon", "zenith"] as const) uniforms[name]!.value.set(...told[name]);
  uniforms.cloud!.value = told.cloud;
}

/** The sky, far behind everything. */
export function farSky(): THREE.Mesh {
  const sky = new THREE.Mesh(new THREE.SphereGeometry(900, 48, 24), skyMaterial());
  sky.renderOrder = -10;
  sky.onBeforeRender = (_, __, camera) => sky.position.setFromMatrixPosition(camera.matrixWorld);
  return sky;
}

/** The light from all round that goes with the sky: prefiltered for every roughness. */
export function environmentOf(renderer: THREE.WebGLRenderer, look: SkyLook): THREE.Texture {
  const scene = new THREE.Scene();
  const sky = new THREE.Mesh(new THREE.SphereGeometry(10, 48, 24), skyMaterial());
  paintSky(sky, look);
  scene.add(sky);
  const filter = new THREE.PMREMGenerator(renderer);
  const { texture } = filter.fromScene(scene, 0.02);
  filter.dispose();
  return texture;
}

import * as THREE from "three";

type Sky = { ground: Rgb; horizon: Rgb; zenith: Rgb; haze: string };
type Rgb = [number, number, number];

/** The colours of each environment, linear; haze is what far things fade into. */
const SKIES: Record<string, Sky> = {
  day: { ground: [0.3, 0.33, 0.34], horizon: [0.62, 0.67, 0.69], zenith: [0.27, 0.41, 0.55], haze: "#cfd6d8" },
  dusk: { ground: [0.05, 0.06, 0.08], horizon: [0.5, 0.24, 0.16], zenith: [0.035, 0.055, 0.12], haze: "#8a6a62" },
  storm: { ground: [0.08, 0.09, 0.1], horizon: [0.3, 0.33, 0.34], zenith: [0.06, 0.075, 0.095], haze: "#7d8587" },
};

function skyOf(kind: string): Sky {
  return SKIES[kind] ?? (SKIES.day as Sky);
}

export function hazeOf(kind: string): string {
  return skyOf(kind).haze;
}

function skyMaterial(): THREE.ShaderMaterial {
  const colour = () => ({ value: new THREE.Vector3() });
  return new THREE.ShaderMaterial({
    side: THREE.BackSide,
    depthWrite: false,
    uniforms: { ground: colour(), horizon: colour(), zenith: colour() },
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
      void main() {
        float height = normalize(direction).y;
        vec3 sky = mix(horizon, zenith, pow(clamp(height, 0.0, 1.0), 0.6));
        gl_FragColor = vec4(mix(sky, ground, smoothstep(0.0, -0.08, height)), 1.0);
        #include <colorspace_fragment>
      }`,
  });
}

/** Gives a sky the colours of an environment. */
export function paintSky(sky: THREE.Mesh, kind: string): void {
  const { uniforms } = sky.material as THREE.ShaderMaterial;
  const told = skyOf(kind);
  for (const name of ["ground", "horizon", "zenith"] as const) uniforms[name]!.value.set(...told[name]);
}

/** The sky, far behind everything. */
export function farSky(): THREE.Mesh {
  const sky = new THREE.Mesh(new THREE.SphereGeometry(900, 48, 24), skyMaterial());
  sky.renderOrder = -10;
  sky.onBeforeRender = (_, __, camera) => sky.position.setFromMatrixPosition(camera.matrixWorld);
  return sky;
}

/** The light from all round that goes with the sky: its gradient, prefiltered for every roughness. */
export function environmentOf(renderer: THREE.WebGLRenderer, kind: string): THREE.Texture {
  const scene = new THREE.Scene();
  const sky = new THREE.Mesh(new THREE.SphereGeometry(10, 48, 24), skyMaterial());
  paintSky(sky, kind);
  scene.add(sky);
  const filter = new THREE.PMREMGenerator(renderer);
  const { texture } = filter.fromScene(scene, 0.02);
  filter.dispose();
  return texture;
}

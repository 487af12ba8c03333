import * as THREE from "three";

export const HORIZON = "#cfd6d8";

const GRADIENT = `
  vec3 day(float height) {
    vec3 ground = vec3(0.30, 0.33, 0.34);
    vec3 horizon = vec3(0.62, 0.67, 0.69);
    vec3 zenith = vec3(0.27, 0.41, 0.55);
    vec3 sky = mix(horizon, zenith, pow(clamp(height, 0.0, 1.0), 0.6));
    return mix(sky, ground, smoothstep(0.0, -0.08, height));
  }
`;

function skyMaterial(): THREE.ShaderMaterial {
  return new THREE.ShaderMaterial({
    side: THREE.BackSide,
    depthWrite: false,
    vertexShader: `
      varying vec3 direction;
      void main() {
        direction = normalize(position);
        gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
      }`,
    fragmentShader: `
      varying vec3 direction;
      ${GRADIENT}
      void main() {
        gl_FragColor = vec4(day(normalize(direction).y), 1.0);
        #include <colorspace_fragment>
      }`,
  });
}

/** The sky of the day environment, far behind everything. */
export function daySky(): THREE.Mesh {
  const sky = new THREE.Mesh(new THREE.SphereGeometry(900, 48, 24), skyMaterial());
  sky.renderOrder = -10;
  sky.onBeforeRender = (_, __, camera) => sky.position.setFromMatrixPosition(camera.matrixWorld);
  return sky;
}

/** The light from all round that goes with the sky: its gradient, prefiltered for every roughness. */
export function environmentOf(renderer: THREE.WebGLRenderer): THREE.Texture {
  const scene = new THREE.Scene();
  scene.add(new THREE.Mesh(new THREE.SphereGeometry(10, 48, 24), skyMaterial()));
  const filter = new THREE.PMREMGenerator(renderer);
  const { texture } = filter.fromScene(scene, 0.02);
  filter.dispose();
  return texture;
}

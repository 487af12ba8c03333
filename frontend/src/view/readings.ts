import * as THREE from "three";
import { cividis } from "./cividis";

let ramp: THREE.DataTexture | null = null;

/** Cividis as a texture of 256 colours. */
function rampTexture(): THREE.DataTexture {
  if (ramp) return ramp;
  const colours = new Uint8Array(256 * 4);
  for (let place = 0; place < 256; place++) {
    const colour = Number.parseInt(cividis(place / 255).slice(1), 16);
    colours.set([colour >> 16, (colour >> 8) & 255, colour & 255, 255], place * 4);
  }
  ramp = new THREE.DataTexture(colours, 256, 1);
  ramp.minFilter = THREE.LinearFilter;
  ramp.magFilter = THREE.LinearFilter;
  ramp.needsUpdate = true;
  return ramp;
}

/** The field's value as colour; its band a white line. The colours are those of the legend, only shaded a little. */
export function heatMaterial(level: number, band: number): THREE.ShaderMaterial {
  return new THREE.ShaderMaterial({
    side: THREE.DoubleSide,
    uniforms: { ramp: { value: rampTexture() }, level: { value: level }, band: { value: band } },
    vertexShader: `
      attribute float heat;
      varying float value;
      varying vec3 facing;
      void main() {
        value = heat;
        #include <beginnormal_vertex>
        #include <begin_vertex>
        vec3 turned = objectNormal;
        facing = normalize(normalMatrix * turned);
        gl_Position = projectionMatrix * modelViewMatrix * vec4(transformed, 1.0);
      }`,
    fragmentShader: `
      uniform sampler2D ramp;
      uniform float level;
      uniform float band;
      varying float value;
      varying vec3 facing;
      void main() {
        vec3 colour = texture2D(ramp, vec2(clamp(value, 0.0, 1.0) * (255.0 / 256.0) + 0.5 / 256.0, 0.5)).rgb;
        float across = fwidth(value);
        float away = abs(value - level) - 0.5 * band;
        float line = 1.0 - smoothstep(0.5, 1.5, abs(away) / max(across, 1e-6));
        float light = 0.82 + 0.18 * abs(normalize(facing).z);
        gl_FragColor = vec4(mix(colour, vec3(1.0), line) * light, 1.0);
      }`,
  });
}

/** Faces of their own corners, each with how far the field changes over it and how long its edges are. */
export function splitFaces(geometry: THREE.BufferGeometry): THREE.BufferGeometry {
  const split = geometry.toNonIndexed();
  geometry.dispose();
  const count = split.getAttribute("position").count;
  const corners = new Float32Array(count * 3);
  const change = new Float32Array(count);
  const heat = split.getAttribute("heat");
  for (let face = 0; face < count; face += 3) {
    corners.set([1, 0, 0, 0, 1, 0, 0, 0, 1], face * 3);
    if (!heat) continue;
    const values = [heat.getX(face), heat.getX(face + 1), heat.getX(face + 2)];
    change.fill(Math.max(...values) - Math.min(...values), face, face + 3);
  }
  split.setAttribute("corner", new THREE.BufferAttribute(corners, 3));
  split.setAttribute("change", new THREE.BufferAttribute(change, 1));
  return split;
}

/**
 * The faces with their edges, coloured by how much of the field's band one face spans: pale where the mesh carries the
 * band, orange stripes where a face is wider than the band.
 */
export function meshReadingMaterial(band: number): THREE.ShaderMaterial {
  return new THREE.ShaderMaterial({
    side: THREE.DoubleSide,
    uniforms: { band: { value: band } },
    vertexShader: `
      attribute vec3 corner;
      attribute float change;
      varying vec3 place;
      varying float spans;
      varying vec3 facing;
      uniform float band;
      void main() {
        place = corner;
        spans = band > 0.0 ? change / band : 0.0;
        facing = normalize(normalMatrix * normal);
        gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
      }`,
    fragmentShader: `
      varying vec3 place;
      varying float spans;
      varying vec3 facing;
      void main() {
        vec3 width = fwidth(place);
        vec3 near = smoothstep(vec3(0.0), width * 1.1, place);
        float edge = 1.0 - min(min(near.x, near.y), near.z);
        vec3 fine = vec3(0.80, 0.82, 0.81);
        vec3 some = vec3(0.95, 0.80, 0.55);
        vec3 coarse = vec3(0.78, 0.26, 0.04);
        vec3 colour = spans < 0.25 ? fine : spans < 1.0 ? some : coarse;
        if (spans >= 1.0 && mod(gl_FragCoord.x + gl_FragCoord.y, 8.0) < 3.0) colour = vec3(0.97, 0.93, 0.85);
        float light = 0.75 + 0.25 * abs(normalize(facing).z);
        gl_FragColor = vec4(mix(colour * light, vec3(0.09, 0.15, 0.19), edge * 0.75), 1.0);
      }`,
  });
}

import * as THREE from "three";
import type { ResolvedLook } from "../api/frames";

/** The vertices of a picture that fills the screen. */
export const PLAIN_VERTEX = `
  varying vec2 spot;
  void main() {
    spot = uv;
    gl_Position = vec4(position.xy, 1.0, 1.0);
  }`;

/** What the points of a thing bring along, beside their places. */
export type Brought = {
  tinted: boolean;
  /** Only the opacity of the points counts, not their colour: for faces seen from behind with a look of their own. */
  opacityOnly: boolean;
  fading: boolean;
  /** Of a fading thing only what is quite opaque, so that other translucent things in front of it show it. */
  opaqueOnly: boolean;
  cut: boolean;
  emission: boolean;
  /** Which of the numbers of a look the points have their own of. */
  surfaced: string[];
  picture: Laid | null;
};

/** A picture laid on by u,v: what its opacity does, and whether points say how far it shows. */
export type Laid = { map: THREE.Texture; alpha: "none" | "cut" | "blend"; pictured: boolean };

export const BRINGS_NOTHING: Brought = {
  tinted: false,
  opacityOnly: false,
  fading: false,
  opaqueOnly: false,
  cut: false,
  emission: false,
  surfaced: [],
  picture: null,
};

/** From this opacity on a thing hides what is behind it. */
const OPAQUE = 0.995;

/** What light meets inside. The drawing takes it to be as thick everywhere as in the mean. */
function glass(look: ResolvedLook, thickness: number): THREE.MeshPhysicalMaterialParameters {
  return {
    ior: look.index,
    thickness,
    // Of black no logarithm can be taken.
    attenuationColor: new THREE.Color(look.attenuation_colour).addScalar(1e-4),
    attenuationDistance: look.attenuation_distance,
  };
}

/** The material of a look; what the points bring takes the place of what the look says. */
export function standardMaterial(
  look: ResolvedLook,
  brought: Brought,
  side: THREE.Side,
  thickness = 0,
): THREE.Material {
  const translucent = brought.fading || look.opacity < 1 || brought.picture?.alpha === "blend";
  const cut = brought.cut || brought.picture?.alpha === "cut";
  const settings: THREE.MeshPhysicalMaterialParameters = {
    side,
    // Thin things too cast their shadows from the faces that the light meets.
    shadowSide: side === THREE.FrontSide ? THREE.FrontSide : null,
    color: brought.tinted ? "#ffffff" : look.base_colour,
    vertexColors: brought.tinted || brought.opacityOnly,
    roughness: look.roughness,
    metalness: look.metallic,
    emissive: look.emission_colour,
    emissiveIntensity: look.emission,
    opacity: look.opacity,
    transparent: translucent,
    depthWrite: !brought.fading,
    map: brought.picture?.map ?? null,
    alphaTest: brought.opaqueOnly ? OPAQUE : cut ? 0.5 : 0,
    alphaToCoverage: cut,
  };
  const through = brought.surfaced.includes("transmission");
  const material =
    through || look.transmission > 0
      ? new THREE.MeshPhysicalMaterial({
          ...settings,
          ...glass(look, thickness),
          transmission: through ? 1 : look.transmission,
        })
      : new THREE.MeshStandardMaterial(settings);
  const pictured = brought.picture?.pictured ?? false;
  if (brought.emission || brought.opacityOnly || brought.surfaced.length > 0 || pictured) readPoints(material, brought);
  return material;
}

/** A thing without its look, where a reading is on another one. */
export function plainMaterial(side: THREE.Side): THREE.Material {
  return new THREE.MeshStandardMaterial({ side, color: "#9a9d9e", roughness: 0.9, metalness: 0 });
}

/** Translucent things are drawn into depth first, so that no face behind another of the same thing shows through. */
export function depthMaterial(side: THREE.Side): THREE.Material {
  // Among the translucent ones, so that all that is opaque is there before it.
  return new THREE.MeshBasicMaterial({ colorWrite: false, transparent: true, side });
}

/** What hides what glows behind it. */
export function darkMaterial(): THREE.Material {
  return new THREE.MeshBasicMaterial({ color: "#000000", side: THREE.DoubleSide, fog: false });
}

/** Only what a thing gives off; black where it gives off nothing, so that it hides what glows behind it. */
export function glowMaterial(look: ResolvedLook, emission: boolean, cut: boolean): THREE.Material {
  const colour = new THREE.Color(look.emission_colour).multiplyScalar(look.emission);
  return new THREE.ShaderMaterial({
    side: THREE.DoubleSide,
    uniforms: { colour: { value: colour } },
    vertexShader: `
      ${emission ? "attribute vec3 emission;" : ""}
      ${cut ? "attribute vec4 color;" : ""}
      varying vec3 givenOff;
      varying float there;
      uniform vec3 colour;
      void main() {
        givenOff = ${emission ? "emission" : "colour"};
        there = ${cut ? "color.a" : "1.0"};
        #include <begin_vertex>
        gl_Position = projectionMatrix * modelViewMatrix * vec4(transformed, 1.0);
      }`,
    fragmentShader: `
      varying vec3 givenOff;
      varying float there;
      void main() {
        if (there < 0.5) discard;
        gl_FragColor = vec4(givenOff, 1.0);
      }`,
  });
}

/** Lets a material read emission, roughness, metallic, transmission and how far a picture shows from the points. */
function readPoints(material: THREE.MeshStandardMaterial, brought: Brought): void {
  const { emission, opacityOnly, surfaced } = brought;
  const pictured = brought.picture?.pictured ?? false;
  const has = (name: string) => surfaced.includes(name);
  material.customProgramCacheKey = () => `points ${emission} ${opacityOnly} ${surfaced.join(" ")} ${pictured}`;
  material.onBeforeCompile = (shader) => {
    const declared = `${emission ? "varying vec3 givenOff;" : ""} ${pictured ? "varying float shown;" : ""} varying vec4 ofPoint;`;
    const brings = `${emission ? "attribute vec3 emission;" : ""} ${surfaced.length ? "attribute vec4 surface;" : ""} ${pictured ? "attribute float pictured;" : ""}`;
    shader.vertexShader = shader.vertexShader
      .replace("#include <common>", `#include <common>\n${brings} ${declared}`)
      .replace(
        "#include <begin_vertex>",
        `#include <begin_vertex>\n${emission ? "givenOff = emission;" : ""} ${pictured ? "shown = pictured;" : ""} ofPoint = ${surfaced.length ? "surface" : "vec4(0.0)"};`,
      );
    let text = shader.fragmentShader.replace("#include <common>", `#include <common>\n${declared}`);
    const after = (chunk: string, code: string) => {
      text = text.replace(`#include <${chunk}>`, `#include <${chunk}>\n${code}`);
    };
    if (opacityOnly) text = text.replace("#include <color_fragment>", "diffuseColor.a *= vColor.a;");
    if (pictured) {
      const laid = "vec4 laid = texture2D(map, vMapUv); diffuseColor *= vec4(mix(vec3(1.0), laid.rgb, shown), laid.a);";
      text = text.replace("#include <map_fragment>", laid);
    }
    if (emission) after("emissivemap_fragment", "totalEmissiveRadiance = givenOff;");
    if (has("roughness")) after("roughnessmap_fragment", "roughnessFactor = ofPoint.x;");
    if (has("metallic")) after("metalnessmap_fragment", "metalnessFactor = ofPoint.y;");
    if (has("transmission")) {
      const chunk = THREE.ShaderChunk.transmission_fragment.replace(
        "material.transmission = transmission;",
        "material.transmission = ofPoint.z;",
      );
      text = text.replace("#include <transmission_fragment>", chunk);
    }
    shader.fragmentShader = text;
  };
}

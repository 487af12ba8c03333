import schema from "../../../docs/shot.schema.json";
import type { Geometry, Source, Step } from "./types";

type Declared = { default?: unknown; enum?: string[] };

const definitions = schema.$defs as unknown as Record<string, { properties?: Record<string, Declared> }>;

/** What the document's schema gives every property of a model that has a default. */
function defaultsOf(model: string): Record<string, unknown> {
  const properties = Object.entries(definitions[model]?.properties ?? {});
  return Object.fromEntries(
    properties.filter(([, declared]) => "default" in declared).map(([name, declared]) => [name, declared.default]),
  );
}

/** The model that declares each kind of source and step. */
export const MODELS: Record<Source["kind"] | Step["kind"], string> = {
  around: "Around",
  across: "Across",
  within: "Within",
  near: "Near",
  surface: "Surface",
  noise: "Noise",
  spread: "Spread",
  time: "Time",
  chance: "Chance",
  another: "AnotherField",
  cut_away: "CutAway",
  follow_through: "FollowThrough",
  fracture: "Fracture",
  jumble: "Jumble",
  release: "Release",
  scatter: "Scatter",
  shed: "Shed",
  shift: "Shift",
  refine: "Refine",
  shade: "Shade",
  wire: "Wire",
};

/** A geometry with its defaults, but for what is given. */
export function newGeometry<Kind extends Geometry["kind"]>(
  kind: Kind,
  given: Partial<Extract<Geometry, { kind: Kind }>>,
): Geometry {
  const model = kind.charAt(0).toUpperCase() + kind.slice(1);
  return structuredClone({ ...defaultsOf(model), ...given, kind }) as Geometry;
}

/** The zones that a kind of step can listen to. */
export function zonesOf(kind: Step["kind"]): Step["zone"][] {
  const zone = definitions[MODELS[kind]]?.properties?.zone as { enum?: string[]; const?: string } | undefined;
  return (zone?.enum ?? (zone?.const ? [zone.const] : [])) as Step["zone"][];
}

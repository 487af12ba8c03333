import offered from "../../../docs/offers.json";
import schema from "../../../docs/shot.schema.json";
import type { Wanted } from "./changing";
import type { Word } from "./types";

/** What the declarations say of the kinds of things in a shot: their names, what they are like, and what can be added. */

type Union = { discriminator: { mapping: Record<string, string> } };
type Model = {
  properties?: Record<string, { enum?: string[]; const?: string }>;
  "x-kind"?: {
    called: string;
    undriven?: string;
    sends_front?: boolean;
    after_view?: boolean;
    handles?: number[];
    units?: Record<string, string>;
  };
};

const models = schema.$defs as unknown as Record<string, Model>;
const [steps, sources] = [schema.$defs.Recipe.properties.steps, schema.$defs.Field.properties.sources].map(
  ({ patternProperties }): Union => Object.values(patternProperties)[0] as Union,
);
const UNIONS = {
  step: steps,
  source: sources,
  geometry: schema.$defs.Shape.properties.geometry as Union,
  item: Object.values(schema.properties.items.patternProperties)[0] as Union,
  finish: Object.values(schema.properties.finishing.patternProperties)[0] as Union,
  easing: schema.$defs.NumberKey.properties.easing as Union,
};
type Family = keyof typeof UNIONS;

/** The name of the model that declares a kind. */
export function modelOf(family: Family, kind: string): string {
  return UNIONS[family]?.discriminator.mapping[kind]?.split("/").at(-1) ?? "";
}

function declared(family: Family, kind: string): Model {
  return models[modelOf(family, kind)] ?? {};
}

/** What a kind is called. */
export function called(family: Family, kind: string): string {
  return declared(family, kind)["x-kind"]?.called ?? kind;
}

/** What a step does where no field drives it, for one that is hardly meant so; else nothing. */
export function undrivenWords(step: string): string {
  return declared("step", step)["x-kind"]?.undriven ?? "";
}

/** Whether a step lets a front through the shape, which a field can ask after. */
export function sendsFront(step: string): boolean {
  return declared("step", step)["x-kind"]?.sends_front ?? false;
}

/** Whether a finishing step works on what a display shows, after the view transform. */
export function worksAfterView(finish: string): boolean {
  return declared("finish", finish)["x-kind"]?.after_view ?? false;
}

/** The values that a setting of a kind can have. */
export function choicesOf(family: Family, kind: string, setting: string): string[] {
  const property = declared(family, kind).properties?.[setting];
  return property?.enum ?? (property?.const ? [property.const] : []);
}

/** The unit of what a source reads, by its reading. */
export function unitOf(source: string, reading: string): string {
  return declared("source", source)["x-kind"]?.units?.[reading] ?? "";
}

/** The handles of an easing that has a shape of its own. */
export function handlesOf(easing: string): [number, number, number, number] | null {
  const [a, b, c, d] = declared("easing", easing)["x-kind"]?.handles ?? [];
  return a === undefined || b === undefined || c === undefined || d === undefined ? null : [a, b, c, d];
}

export type Offer = { words: string; says: string; wish: string; change: Wanted; takes: string };

/** What can be added to a shot, to a recipe, to the finishing of the picture and to a field, and the words that join its clauses. */
export const OFFERS = offered as unknown as Record<"items" | "steps" | "finishing" | "looks" | "clauses", Offer[]> & {
  joining: { word: Word; says: string; wish: string }[];
};

/** The change that an offer is, for what is chosen. */
export function taken(offer: Offer, chosen: string | null): Wanted {
  return offer.takes ? { ...offer.change, [offer.takes]: chosen } : offer.change;
}

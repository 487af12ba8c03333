import schema from "../../../docs/shot.schema.json";

/** What the document's schema says of a number: unit, bounds, the change for a pixel of drag, and its meaning. */
export type Quantity = { unit: string; low: number; high: number; drag: number; whole: boolean; says: string };

type Declared = { "x-quantity"?: Omit<Quantity, "says">; description?: string };
const definitions = schema.$defs as unknown as Record<string, { properties?: Record<string, Declared> }>;

/** The quantity that a model declares for one of its properties. */
export function quantity(model: string, property: string): Quantity {
  const declared = definitions[model]?.properties?.[property];
  const told = declared?.["x-quantity"];
  if (!told) throw new Error(`${model}.${property} is not a quantity`);
  return { ...told, says: declared?.description ?? property };
}

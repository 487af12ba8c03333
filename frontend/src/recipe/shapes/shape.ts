import type { Geometry } from "../../document/types";

/** What the sentence of a shape is given: its geometry, and the pointer of that. */
export type ShapeProps<Kind extends Geometry["kind"]> = {
  pointer: string;
  geometry: Extract<Geometry, { kind: Kind }>;
};

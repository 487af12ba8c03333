import type { Source } from "../../document/types";

export type Put = (label: string, name: string, value: unknown) => void;
export type Named = readonly (readonly [string, string])[];

/** What the sentence of a source is given. */
export type ClauseProps<Kind extends Source["kind"]> = {
  pointer: string;
  source: Extract<Source, { kind: Kind }>;
  put: Put;
  controllers: Named;
  /** The fields that this one may measure from without going round in a circle. */
  fields: Named;
};

export const FALLS = [
  ["straight", "evenly"],
  ["smooth", "softly"],
] as const;

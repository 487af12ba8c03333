import type { Source } from "../../document/types";

export type Put = (label: string, name: string, value: unknown) => void;
export type Named = readonly (readonly [string, string])[];

/** What a clause may measure from. */
export type Measurable = {
  controllers: Named;
  /** The fields that this one may measure from without going round in a circle. */
  fields: Named;
  groups: Named;
  shapes: Named;
  /** The shape whose recipe the field is read in. */
  subject: string;
};

/** What the sentence of a source is given. */
export type ClauseProps<Kind extends Source["kind"]> = Measurable & {
  pointer: string;
  source: Extract<Source, { kind: Kind }>;
  put: Put;
  /** Several changes as one edit. */
  putAll: (label: string, changes: Record<string, unknown>) => void;
};

export const AXES = [
  ["x", "X"],
  ["y", "Y"],
  ["z", "Z"],
] as const;

import type { Finish } from "../document/types";

/** What the sentence of a finishing step is given. */
export type FinishProps<Kind extends Finish["kind"]> = {
  pointer: string;
  step: Extract<Finish, { kind: Kind }>;
  put: (label: string, name: string, value: unknown) => void;
};

/** Metres in a unit of a file, and what it is called. */
export const UNITS = [
  ["1", "metres"],
  ["0.01", "centimetres"],
  ["0.001", "millimetres"],
  ["0.0254", "inches"],
] as const;

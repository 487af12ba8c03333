import type { Step } from "../document/types";

/** What each step is called. */
export const STEP_NAMES: Record<Step["kind"], string> = {
  cut_away: "Cut away",
  follow_through: "Follow through",
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

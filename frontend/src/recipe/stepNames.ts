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

/** What an undriven step does, for those that are hardly meant without a field. */
export const UNDRIVEN: Partial<Record<Step["kind"], string>> = {
  jumble:
    "No field drives this, so every piece is jumbled from the first frame on. Choose a field in place of “everywhere”.",
  shed: "No field drives this, so nothing is shed. Choose the field whose band sheds.",
  shift: "No field drives this, so every piece is moved alike. Choose a field in place of “everywhere”.",
  cut_away: "No field drives this, so the whole shape is cut away. Choose a field in place of “everything”.",
  follow_through:
    "No field drives this, so every point is equally loose. Choose a field in place of “everywhere” to hold a part of it.",
  refine:
    "No field drives this, so every face is split. Choose a field in place of “everywhere” to split where it matters.",
  shade:
    "No field drives this, so the whole shape is the upper end of the ramp. Choose a field in place of “everywhere”.",
};

import { create } from "zustand";
import type { Manifest } from "../api/frames";
import { type Closer, type Part, WHOLE } from "./closer";
import type { Compared } from "./compared";
import type { Marking } from "./marking";

export type ReadingMode = "picture" | "heat" | "mesh" | "finished";

/** Whether a reading shows a field or the faces of what is chosen. */
export const isMeasured = (reading: ReadingMode) => reading === "heat" || reading === "mesh";
export type HandleMode = "move" | "turn" | "stretch";

/** What a value was before, newest first. called: in words. */
export type Earlier = { pointer: string; called: string; settings: unknown[]; at: number };

export type Panel = "history" | "findings" | "settings" | "export" | "import" | "do" | "keys" | "costs";

/** What one person looks at, not part of the document. */
export type Session = {
  frame: number;
  playing: boolean;
  direction: 1 | -1;
  loop: "loop" | "there and back" | "once";
  /** The frames that are played, where they are not all of the shot. */
  range: { first: number; last: number } | null;
  /** The chosen item: its recipe is open, its handles are in the view. */
  chosen: string | null;
  /** The items that are chosen with it, for as long as it is. */
  others: { beside: string; items: string[] } | null;
  /** The step of each item's recipe that was opened last; empty where all are folded. */
  opened: Record<string, string>;
  /** Which sheet of the editor is open. */
  panel: Panel | null;
  /** The point of a path that is being worked on. */
  point: string | null;
  /** Marks that are being set in the view. */
  marking: Marking | null;
  /** The camera or finishing step, by its JSON Pointer, that what is pressed next in the view is to be sharp for. */
  focusing: string | null;
  /** Metres to whose multiples dragged places keep; 0: anywhere. */
  snap: number;
  /** The field that heat and mesh show. */
  field: string | null;
  reading: ReadingMode;
  through: "camera" | "free";
  /** Whether finished pictures are seen before anything is done to them. */
  unfinished: boolean;
  /** How closely the picture is looked at through the shot's camera. */
  closer: Closer;
  /** The part of the finished picture that alone is rendered. */
  part: Part | null;
  handle: HandleMode;
  wholeCurve: boolean;
  /** The newest frame that came; what the view shows. */
  manifest: Manifest | null;
  /** Frames per second as measured while playing, null when not playing. */
  speed: number | null;
  /** The share of the full resolution that is drawn: less while playing where the graphics cannot keep up. */
  sharpness: number;
  /** The share of the copies that is drawn: less while playing where even fewer pixels do not help. */
  thinned: number;
  /** Why the picture is not the newest, in words. */
  trouble: string | null;
  working: boolean;
  /** Whether the person stopped the work that the picture waits for. */
  stopped: boolean;
  /** The revision that is looked at instead of the newest. */
  past: number | null;
  /** Whether the shot is shown as it was before the last change. */
  before: boolean;
  /** The last settings of one value, of which `at` is shown while `before` holds; -1: none of them. */
  earlier: Earlier | null;
  /** What the shot is compared with, on the left of the line at this share of the view's width. */
  compared: Compared | null;
  line: number;
  /** The newest frame that came of what it is compared with. */
  besideManifest: Manifest | null;
  /** The frame that came last of those that nobody waited for. */
  ahead: number | null;
};

export function createSession(start: Pick<Session, "frame" | "playing" | "chosen" | "field">) {
  return create<Session>()(() => ({
    others: null,
    opened: {},
    panel: null,
    point: null,
    marking: null,
    focusing: null,
    unfinished: false,
    closer: WHOLE,
    part: null,
    snap: 0,
    reading: "picture",
    through: "camera",
    handle: "move",
    wholeCurve: false,
    manifest: null,
    speed: null,
    sharpness: 1,
    thinned: 1,
    trouble: null,
    working: false,
    stopped: false,
    past: null,
    before: false,
    earlier: null,
    compared: null,
    line: 0.5,
    besideManifest: null,
    ahead: null,
    direction: 1,
    loop: "loop",
    range: null,
    ...start,
  }));
}

export type SessionStore = ReturnType<typeof createSession>;

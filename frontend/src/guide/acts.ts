import type { Editing } from "../parts/editing";

/** What is looked at to know whether an act was done: the editor now, and as it was when the act was asked for. */
export type Seen = {
  playing: boolean;
  frame: number;
  reading: string;
  before: boolean;
  revision: number;
  redo: string;
  /** The edit that was made last on this page: what it is called, and the places in the document that it changed. */
  label: string;
  places: string[];
};

/** Something that the person is asked to do. did: in words what they did; null as long as they did not. */
export type Act = { asks: string; did: (now: Seen, then: Seen) => string | null };

export function seen({ session, documents }: Editing): Seen {
  const { playing, frame, reading, before } = session.getState();
  const { revision, redo, made } = documents.getState();
  const places = made?.patch.map(({ path }) => path) ?? [];
  return {
    playing,
    frame: Math.round(frame),
    reading,
    before,
    revision,
    redo: redo ?? "",
    label: made?.label ?? "",
    places,
  };
}

function edited(now: Seen, then: Seen, collection: "fields" | "items", setting: string): boolean {
  const changed = ([, first, , third]: string[]) => first === collection && third === setting;
  return now.revision > then.revision && now.places.some((place) => changed(place.split("/")));
}

/** The first steps, on the first demo. */
export const ACTS: Act[] = [
  {
    asks: "Press Space, or the arrow below: a fog bank passes and takes the lighthouse away.",
    did: (now) => (now.playing ? "It plays. Any frame can be asked for; nothing is simulated up to it." : null),
  },
  {
    asks: "Press Space again to stop where you like.",
    did: (now) => (now.playing ? null : `You stopped at frame ${now.frame}.`),
  },
  {
    asks: "In the open step on the left, drag the underlined level sideways.",
    did: (now, then) =>
      edited(now, then, "fields", "level")
        ? `You made it “${now.label}”. It is kept; nothing has a save button.`
        : null,
  },
  {
    asks: "Press Fog bank in the list of items, then drag its middle in the picture.",
    did: (now, then) =>
      edited(now, then, "items", "place") ? `“${now.label}”: it is keyed there, at frame ${now.frame}.` : null,
  },
  {
    asks: "Hold B: the same frame as it was before your last change.",
    did: (now) => (now.before ? "That was before. Let go to see it with your change." : null),
  },
  {
    asks: "Press Heat, over the picture: the field that drives the flakes, as colour.",
    did: (now) =>
      now.reading === "heat" ? "Between the white lines lies its band. Point at the tower to read a value." : null,
  },
  {
    asks: "Press Undo, in the bar.",
    did: (now, then) =>
      now.revision > then.revision && now.redo ? `You took back “${now.redo}”. Redo does it again.` : null,
  },
];

export const LAST_WORDS =
  "That is the loop: change, look, take back. Now go home, press New shot, and bring in a shape of your own.";

import { create } from "zustand";

/** What helps to judge a picture and never goes out with it. */
export type Aid = "frame" | "thirds" | "safe" | "floor" | "person";

export const AIDS: readonly (readonly [Aid, string, string])[] = [
  ["frame", "Frame of the picture", "What lies outside is not in what is written"],
  ["thirds", "Thirds", "Lines at thirds of the picture"],
  ["safe", "Safe areas", "90 % of the picture for words, 93 % for what happens"],
  ["floor", "Floor grid", "Squares on the ground; their size is said below"],
  ["person", "Person for scale", "Someone 1.75 m tall, beside what is chosen"],
];

const STORED = "windsock-aids";

/** Which are on, as this browser has it. */
export const useAids = create<{ on: ReadonlySet<Aid> }>()(() => ({ on: stored() }));

function stored(): ReadonlySet<Aid> {
  const told = (localStorage.getItem(STORED) ?? "").split(" ");
  return new Set(AIDS.flatMap(([aid]) => (told.includes(aid) ? [aid] : [])));
}

export function turn(aid: Aid): void {
  const on = new Set(useAids.getState().on);
  if (!on.delete(aid)) on.add(aid);
  localStorage.setItem(STORED, [...on].join(" "));
  useAids.setState({ on });
}

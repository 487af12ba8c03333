import { create } from "zustand";
import { ACTS } from "./acts";

const STORED = "windsock-first-steps";

type Progress = {
  /** How many acts were done. */
  done: number;
  left: boolean;
};

/** How far the person came with the first steps, as this browser has it. */
export const useProgress = create<Progress>()(() => stored());

function stored(): Progress {
  const [done, left] = (localStorage.getItem(STORED) ?? "0").split(" ");
  const count = Number(done);
  return { done: Number.isInteger(count) ? Math.min(ACTS.length, Math.max(0, count)) : 0, left: left === "left" };
}

function put(progress: Progress): void {
  localStorage.setItem(STORED, `${progress.done}${progress.left ? " left" : ""}`);
  useProgress.setState(progress);
}

export function goOn(): void {
  put({ done: Math.min(ACTS.length, useProgress.getState().done + 1), left: false });
}

export function leave(): void {
  put({ ...useProgress.getState(), left: true });
}

/** Take the first steps up where they were left, from the beginning where all were done. */
export function takeUp(): void {
  const { done } = useProgress.getState();
  put({ done: done >= ACTS.length ? 0 : done, left: false });
}

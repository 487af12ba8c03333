import type { FreePlace } from "./freeView";

const STORED = "windsock-free-views";
const MOST = 60;

function all(): [string, FreePlace][] {
  try {
    const told: unknown = JSON.parse(localStorage.getItem(STORED) ?? "[]");
    return Array.isArray(told) ? told.filter(isKept).slice(-MOST) : [];
  } catch {
    return [];
  }
}

function isKept(one: unknown): one is [string, FreePlace] {
  const [shot, place] = Array.isArray(one) ? one : [];
  return typeof shot === "string" && isVector(place?.place) && isVector(place?.target);
}

function isVector(one: unknown): boolean {
  return Array.isArray(one) && one.length === 3 && one.every((number) => Number.isFinite(number));
}

/** Where the free view of a shot was left in this browser. */
export function keptPlace(shot: string): FreePlace | null {
  return all().find(([id]) => id === shot)?.[1] ?? null;
}

export function keepPlace(shot: string, place: FreePlace): void {
  localStorage.setItem(STORED, JSON.stringify([...all().filter(([id]) => id !== shot), [shot, place]].slice(-MOST)));
}

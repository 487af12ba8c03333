import { getValueByPointer } from "fast-json-patch";
import { shown } from "./arithmetic";
import { handlesOf } from "./kinds";
import type { Easing, NumberParameter, Shot, VectorParameter } from "./types";

export type Keyed = { keys: Record<string, { frame: number; value: number | number[]; easing: Easing }> };
export type Parameter = NumberParameter | VectorParameter;

export function isKeyed(value: unknown): value is Keyed {
  return value instanceof Object && Object.hasOwn(value, "keys");
}

/** The value at a pointer of the shot, or undefined. */
export function at(shot: Shot, pointer: string): unknown {
  try {
    return getValueByPointer(shot, pointer);
  } catch {
    return undefined;
  }
}

/** The keys of a parameter by frame. */
export function sortedKeys(keyed: Keyed): [string, Keyed["keys"][string]][] {
  return Object.entries(keyed.keys).sort(([, one], [, other]) => one.frame - other.frame);
}

/** The key that stands on a frame. */
export function keyOn(keyed: Keyed, frame: number): string | undefined {
  return Object.entries(keyed.keys).find(([, key]) => Math.abs(key.frame - frame) < 1e-6)?.[0];
}

/** A setting in a few words. axis: which component of a vector is meant, all where none is. */
export function settingInWords(value: unknown, axis: number | null = null, whole = false): string {
  if (isKeyed(value)) return `${Object.keys(value.keys).length} keys`;
  if (Array.isArray(value) && axis === null) return value.map((one) => settingInWords(one, null, whole)).join(", ");
  const one: unknown = Array.isArray(value) ? value[axis ?? 0] : value;
  if (typeof one === "number") return shown(one, whole);
  return typeof one === "string" ? one : typeof one === "boolean" ? (one ? "on" : "off") : "another";
}

/** An easing of a kind; one that is shaped by hand begins as the one before it. */
export function easingOf(kind: Easing["kind"], before: Easing | undefined): Easing {
  if (kind !== "bezier") return { kind };
  return { kind, handles: (before && handles(before)) ?? handlesOf(kind) ?? [0, 0, 1, 1] };
}

/** The easing's cubic Bezier handles, for drawing; a held value has none. */
export function handles(easing: Easing): [number, number, number, number] | null {
  return easing.kind === "bezier" ? easing.handles : handlesOf(easing.kind);
}

import { getValueByPointer } from "fast-json-patch";
import type { Easing, NumberParameter, Patch, Shot, VectorParameter } from "./types";
import { newId } from "./types";

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

const SMOOTH: Easing = { kind: "ease" };

/** Gives a parameter a value. Keyed ones get a key on the frame, or the whole curve is moved. `now`: its value there. */
export function setValue(
  shot: Shot,
  pointer: string,
  value: number | number[],
  frame: number,
  now: number | number[],
  wholeCurve = false,
): Patch {
  const parameter = at(shot, pointer);
  if (!isKeyed(parameter)) return [{ op: "replace", path: pointer, value }];
  if (wholeCurve) {
    return Object.entries(parameter.keys).map(([id, key]) => ({
      op: "replace",
      path: `${pointer}/keys/${id}/value`,
      value: moved(key.value, value, now),
    }));
  }
  return setKey(shot, pointer, value, frame);
}

/** Puts a key with a value on a frame; a constant becomes keyed. */
export function setKey(shot: Shot, pointer: string, value: number | number[], frame: number): Patch {
  const parameter = at(shot, pointer);
  const key = { frame, value, easing: SMOOTH };
  if (!isKeyed(parameter)) return [{ op: "replace", path: pointer, value: { keys: { k1: key } } }];
  const there = keyOn(parameter, frame);
  if (there) return [{ op: "replace", path: `${pointer}/keys/${there}/value`, value }];
  return [{ op: "add", path: `${pointer}/keys/${newId(parameter.keys, "k")}`, value: key }];
}

/** Takes a key away; without its last key the parameter is constant again. */
export function removeKey(shot: Shot, pointer: string, id: string): Patch {
  const parameter = at(shot, pointer);
  if (!isKeyed(parameter)) return [];
  const key = parameter.keys[id];
  if (Object.keys(parameter.keys).length === 1 && key) return [{ op: "replace", path: pointer, value: key.value }];
  return [{ op: "remove", path: `${pointer}/keys/${id}` }];
}

function moved(value: number | number[], wanted: number | number[], now: number | number[]): number | number[] {
  if (typeof value === "number") return value + Number(wanted) - Number(now);
  const [to, from] = [wanted as number[], now as number[]];
  return value.map((component, axis) => component + (to[axis] ?? 0) - (from[axis] ?? 0));
}

/** The easing's cubic Bezier handles, for drawing; a held value has none. */
export function handles(easing: Easing): [number, number, number, number] | null {
  if (easing.kind === "bezier") return easing.handles;
  if (easing.kind === "ease") return [0.42, 0, 0.58, 1];
  return easing.kind === "linear" ? [0, 0, 1, 1] : null;
}

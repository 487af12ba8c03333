import type { Patch, Shot } from "./types";
import { fieldsOf, inOrder } from "./types";

/** The fields that one may measure from: all but itself and those that measure from it. */
export function reachableFields(fields: Shot["fields"], id: string): string[] {
  const leadsBack = (from: string, seen: Set<string>): boolean => {
    if (from === id) return true;
    const field = fields[from];
    if (!field || seen.has(from)) return false;
    seen.add(from);
    return fieldsOf(field).some((other) => leadsBack(other, seen));
  };
  return inOrder(fields)
    .map(([key]) => key)
    .filter((key) => !leadsBack(key, new Set()));
}

/** Exchanges the ranks of a thing and its neighbour, one place up or down. */
export function moveInOrder(
  collection: Record<string, { rank: number }>,
  pointer: string,
  id: string,
  by: 1 | -1,
): Patch {
  const order = inOrder(collection);
  const place = order.findIndex(([key]) => key === id);
  const [one, other] = [order[place], order[place + by]];
  if (!one || !other) return [];
  const ranks = [one[1].rank, other[1].rank === one[1].rank ? one[1].rank + by : other[1].rank] as const;
  return [
    { op: "replace", path: `${pointer}/${one[0]}/rank`, value: ranks[1] },
    { op: "replace", path: `${pointer}/${other[0]}/rank`, value: ranks[0] },
  ];
}

/** Lays a thing of a collection before or after another one. */
export function placedBeside(
  collection: Record<string, { rank: number }>,
  pointer: string,
  id: string,
  beside: string,
  after: boolean,
): Patch {
  const others = inOrder(collection).filter(([key]) => key !== id);
  const place = others.findIndex(([key]) => key === beside) + (after ? 1 : 0);
  const [before, next] = [others[place - 1]?.[1].rank, others[place]?.[1].rank];
  const was = inOrder(collection).findIndex(([key]) => key === id);
  if (was === place) return [];
  if (before !== undefined && next !== undefined && before === next) {
    const order = [...others.slice(0, place), [id] as const, ...others.slice(place)];
    return order.map(([key], rank) => ({ op: "replace", path: `${pointer}/${key}/rank`, value: rank }));
  }
  const rank = before === undefined ? (next ?? 0) - 1 : next === undefined ? before + 1 : (before + next) / 2;
  return [{ op: "replace", path: `${pointer}/${id}/rank`, value: rank }];
}

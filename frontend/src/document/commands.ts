import { isKeyed } from "./parameter";
import type { NumberParameter, Patch, Shot } from "./types";
import { fieldsOf, inOrder, lastRank, newId } from "./types";

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

/** Changes the rate; keys, range and opening frame keep their seconds. */
export function changeRate(shot: Shot, numerator: number, denominator: number): Patch {
  const factor = (numerator / denominator) * (shot.rate.denominator / shot.rate.numerator);
  return [
    { op: "replace", path: "/rate", value: { numerator, denominator } },
    { op: "replace", path: "/items", value: retimed(shot.items, factor) },
    { op: "replace", path: "/fields", value: retimed(shot.fields, factor) },
    {
      op: "replace",
      path: "/frames",
      value: { first: Math.round(shot.frames.first * factor), last: Math.round((shot.frames.last + 1) * factor) - 1 },
    },
    { op: "replace", path: "/opening_frame", value: Math.round(shot.opening_frame * factor) },
  ];
}

function retimed(thing: unknown, factor: number): unknown {
  if (Array.isArray(thing)) return thing;
  if (isKeyed(thing)) {
    const keys = Object.entries(thing.keys).map(([id, key]) => [id, { ...key, frame: key.frame * factor }]);
    return { keys: Object.fromEntries(keys) };
  }
  if (typeof thing !== "object" || thing === null) return thing;
  return Object.fromEntries(
    Object.entries(thing).map(([name, value]) => [
      name,
      name === "retime" ? scaled(retimed(value, factor), factor) : retimed(value, factor),
    ]),
  );
}

/** A retime whose frames are so many times as many: its values are frames too. */
function scaled(thing: unknown, factor: number): unknown {
  const retime = thing as { frame: NumberParameter } | null;
  if (!retime) return retime;
  if (!isKeyed(retime.frame)) return { frame: Number(retime.frame) * factor };
  const keys = Object.entries(retime.frame.keys).map(([id, key]) => [
    id,
    { ...key, value: Number(key.value) * factor },
  ]);
  return { frame: { keys: Object.fromEntries(keys) } };
}

/** A new group with one shape in it, or none. */
export function newGroup(shot: Shot, member: string | null): { id: string; patch: Patch } {
  const id = newId(shot.groups, "group");
  const number = Object.keys(shot.groups).length + 1;
  const members = member ? { [member]: { rank: 0 } } : {};
  const value = { name: `Group ${number}`, rank: lastRank(shot.groups), members };
  return { id, patch: [{ op: "add", path: `/groups/${id}`, value }] };
}

/** Takes an item into a group, or out of it. */
export function changeMember(shot: Shot, group: string, item: string): Patch {
  const path = `/groups/${group}/members/${item}`;
  const members = shot.groups[group]?.members ?? {};
  return item in members ? [{ op: "remove", path }] : [{ op: "add", path, value: { rank: lastRank(members) } }];
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

import { type Item, inOrder, type Relations, type Shot } from "../document/types";

/** A row of the outline: an item with those that it carries, the scenery, or a group. */
export type Row = {
  key: string;
  item?: [string, Item];
  words?: string;
  group?: { id: string; name: string; members: string[] };
  rows: Row[];
};

export const SCENERY = "/scenery";

/** The row of the picture as a whole: at hand where no item is. */
export const PICTURE = "/picture";

/** The rows of the outline. Items are under what carries them; scenery comes together, then the groups. */
export function rowsOf(shot: Shot, relations: Relations): Row[] {
  const items = inOrder(shot.items);
  const isScenery = (id: string) => relations.items[id]?.scenery ?? false;
  const row = (id: string, item: Item): Row => ({
    key: id,
    item: [id, item],
    rows: items.flatMap(([key, one]) => (one.parent === id ? [row(key, one)] : [])),
  });
  const top = items.filter(([, item]) => !item.parent);
  const scenery = top.filter(([id]) => isScenery(id));
  const rows: Row[] = [{ key: PICTURE, words: "The picture", rows: [] }];
  rows.push(...top.flatMap(([id, item]) => (isScenery(id) ? [] : [row(id, item)])));
  if (scenery.length > 0)
    rows.push({ key: SCENERY, words: `Scenery, ${scenery.length}`, rows: scenery.map(([id, item]) => row(id, item)) });
  for (const [id, group] of inOrder(shot.groups)) {
    const members = inOrder(group.members).map(([member]) => member);
    rows.push({ key: `/groups/${id}`, group: { id, name: group.name, members }, rows: [] });
  }
  return rows;
}

/** The items whose names have some words in them, in order, each as a row of its own. */
export function rowsCalled(words: string, shot: Shot): Row[] {
  const wanted = words.trim().toLowerCase();
  return inOrder(shot.items)
    .filter(([, item]) => item.name.toLowerCase().includes(wanted))
    .map(([id, item]) => ({ key: id, item: [id, item], rows: [] }));
}

/** The keys of the rows that an item is under. */
export function above(rows: Row[], key: string): string[] {
  for (const row of rows) {
    if (row.key === key) return [];
    const found = above(row.rows, key);
    if (found.length > 0 || row.rows.some((one) => one.key === key)) return [row.key, ...found];
  }
  return [];
}

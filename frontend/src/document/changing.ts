import { applyPatch } from "fast-json-patch";
import { answered, api } from "../api/client";
import type { components } from "../api/schema";
import { asking } from "../parts/asking";
import type { Editing } from "../parts/editing";
import { tell } from "../parts/messages";
import { commitInView } from "../view/framing";
import type { Patch } from "./types";

type Change = components["schemas"]["ChangeWish"]["change"];
type Planned = components["schemas"]["PlannedOut"];

/** Something that can be done to a shot: its kind, and what differs from the defaults that the server has. */
export type Wanted = {
  [Kind in Change["kind"]]: { kind: Kind } & Loose<Extract<Change, { kind: Kind }>>;
}[Change["kind"]];

/** The same with only what is given of it, and of the geometry in it. */
type Loose<Whole> = {
  [Name in keyof Whole]?: Name extends "geometry" ? Part<Whole[Name]> : Whole[Name];
};
type Part<Whole> = Whole extends { kind: infer Kind } ? { kind: Kind } & Partial<Whole> : Whole;

/** Changes are planned one after the other, each on the shot as the one before left it. */
let before: Promise<unknown> = Promise.resolve();

/** Asks the server which edit a change is. Raises Refused where that cannot be done. */
async function plannedBy(editing: Editing, wanted: Wanted): Promise<Planned> {
  const { id, revision, unsaved } = editing.documents.getState();
  const { frame } = editing.session.getState();
  const params = { path: { shot_id: id } };
  const body = { revision, patch: unsaved(), frame, change: wanted as Change };
  return answered(api.POST("/api/shots/{shot_id}/changes", { params, body }));
}

/** The same; null where that cannot be done, which is said. */
async function planned(editing: Editing, wanted: Wanted): Promise<Planned | null> {
  try {
    return await asking("Working out the change", plannedBy(editing, wanted));
  } catch (fault) {
    tell(fault instanceof Error ? fault.message : String(fault));
    return null;
  }
}

function editOf(made: Planned): Patch {
  return made.patch.map(({ op, path, value }) => (op === "remove" ? { op, path } : { op, path, value }));
}

/** The edit that a change would be, not made. */
export async function editFor(editing: Editing, wanted: Wanted): Promise<Patch> {
  return editOf(await plannedBy(editing, wanted));
}

function inTurn(act: () => Promise<void>): Promise<void> {
  const turn = before.then(act, act);
  before = turn;
  return turn;
}

type Done = { label?: string; after?: (made: Planned) => void };

/** Does something to the shot; where more goes with it than was asked for, the person is asked first. label: what the edit is
    called where the page has better words than the server. */
export function change(editing: Editing, wanted: Wanted, done: Done = {}): Promise<void> {
  return inTurn(() => changed(editing, wanted, done));
}

async function changed(editing: Editing, wanted: Wanted, { label, after }: Done): Promise<void> {
  const made = await planned(editing, wanted);
  if (!made) return;
  const act = () => {
    editing.documents.getState().commit(label ?? made.says, editOf(made));
    if (made.field) editing.session.setState({ field: made.field });
    after?.(made);
  };
  if (made.warning) tell(made.warning, { label: made.agree, run: act });
  else act();
}

/** What gives the edit of a change with another value in it, for a drag; null where that cannot be done. */
export async function fillable(
  editing: Editing,
  wanted: Wanted,
): Promise<((value: number | number[]) => Patch) | null> {
  let made: Planned | null = null;
  await inTurn(async () => {
    made = await planned(editing, wanted);
  });
  return made && ((value) => filled(made as Planned, value));
}

function filled({ patch, slots }: Planned, value: number | number[]): Patch {
  const edit: Patch = structuredClone(patch);
  for (const { operation, within, plus, times } of slots) {
    const fitted = typeof value === "number" ? value + (plus[0] ?? 0) : fittedTo(value, plus, times);
    const one = edit[operation];
    if (one)
      one.value = applyPatch([one.value], [{ op: "replace", path: `/0${within}`, value: fitted }]).newDocument[0];
  }
  return edit;
}

function fittedTo(value: number[], plus: number[], times: number[][]): number[] {
  const turned =
    times.length > 0 ? times.map((row) => row.reduce((sum, one, axis) => sum + one * (value[axis] ?? 0), 0)) : value;
  return turned.map((one, axis) => Number((one + (plus[axis] ?? 0)).toFixed(5)));
}

/** Adds something to the shot, in the picture, and chooses it. */
export function add(editing: Editing, wanted: Wanted, label?: string): Promise<void> {
  return inTurn(async () => {
    const made = await planned(editing, wanted);
    if (!made) return;
    await commitInView(editing, label ?? made.says, editOf(made), made.item);
    editing.session.setState({ chosen: made.item });
  });
}

import { createContext, useContext } from "react";
import { useStore } from "zustand";
import { useShallow } from "zustand/react/shallow";
import { change, fillable } from "../document/changing";
import { at, isKeyed, keyOn } from "../document/parameter";
import type { DocumentStore } from "../document/store";
import type { Patch, Relations, Shot } from "../document/types";
import type { Player } from "../view/player";
import type { Session, SessionStore } from "../view/session";
import type { Stage } from "../view/stage";

/** What every part of the editor works on. */
export type Editing = {
  documents: DocumentStore;
  session: SessionStore;
  player: Player;
  stage: { current: Stage | null };
};

export const EditingContext = createContext<Editing | null>(null);

export function useEditing(): Editing {
  const editing = useContext(EditingContext);
  if (!editing) throw new Error("this part needs an editor around it");
  return editing;
}

export function useShot<Part>(select: (shot: Shot) => Part): Part {
  return useStore(useEditing().documents, (state) => select(state.shot));
}

/** What depends on what in the shot. A thing that was added a moment ago may not be in it yet. */
export function useRelations<Part>(select: (relations: Relations) => Part): Part {
  return useStore(useEditing().documents, (state) => select(state.relations));
}

export function useSession<Part>(select: (session: Session) => Part): Part {
  return useStore(useEditing().session, select);
}

/** Makes an edit with a label. */
export function useCommit(): (label: string, patch: Patch) => void {
  return useStore(useEditing().documents, (state) => state.commit);
}

/** What a parameter is at the frame in view: a constant, the key that stands here, or as the last frame told. */
export function valueNow(editing: Editing, pointer: string): number | number[] {
  const { shot } = editing.documents.getState();
  const { frame, manifest } = editing.session.getState();
  const parameter = at(shot, pointer);
  if (!isKeyed(parameter)) return parameter as number | number[];
  const here = parameter.keys[keyOn(parameter, frame) ?? ""];
  return here?.value ?? manifest?.values[pointer] ?? Object.values(parameter.keys)[0]?.value ?? 0;
}

export function useValueNow(pointer: string): number | number[] {
  const editing = useEditing();
  useShot((shot) => at(shot, pointer));
  return useSession(useShallow(() => valueNow(editing, pointer)));
}

/** The width of a field's band in values: as it is set, or what metres on the surface come to in the newest frame. */
export function bandNow(editing: Editing, field: string): number {
  if (editing.documents.getState().shot.fields[field]?.band_in !== "metres")
    return Number(valueNow(editing, `/fields/${field}/band`));
  const readings = editing.session.getState().manifest?.steps.map((step) => step.reading) ?? [];
  return readings.find((reading) => reading?.field === field)?.band ?? 0;
}

export function useBand(field: string): number {
  const editing = useEditing();
  useValueNow(`/fields/${field}/band`);
  return useSession(() => bandNow(editing, field));
}

/** Gives a parameter a value at the frame in view: a keyed one as the server decides. */
export function putValue(editing: Editing, pointer: string, value: number | number[], label: string): void {
  const { shot, commit } = editing.documents.getState();
  const whole_curve = editing.session.getState().wholeCurve;
  if (isKeyed(at(shot, pointer))) {
    void change(editing, { kind: "set_value", at: pointer, value: asNumbers(value), whole_curve }, { label });
  } else commit(label, [{ op: "replace", path: pointer, value }]);
}

type Filled = (value: number | number[]) => Patch;

/** A drag of one value. What it means for a keyed one is asked once, when it begins. */
export function beginDrag(editing: Editing, pointer: string) {
  const { shot } = editing.documents.getState();
  const whole_curve = editing.session.getState().wholeCurve;
  const plan: Promise<Filled | null> = isKeyed(at(shot, pointer))
    ? fillable(editing, { kind: "set_value", at: pointer, whole_curve })
    : Promise.resolve((value) => [{ op: "replace", path: pointer, value }]);
  return { start: valueNow(editing, pointer), ...dragBy(editing, plan) };
}

/** A drag by which several items are moved, turned or stretched alike, beginning from no change. */
export function beginSharedDrag(editing: Editing, items: string[], setting: "place" | "turn" | "scale") {
  const whole_curve = editing.session.getState().wholeCurve;
  const plan = fillable(editing, { kind: "move_items", items, setting, whole_curve });
  return { start: setting === "scale" ? [1, 1, 1] : [0, 0, 0], ...dragBy(editing, plan) };
}

/** Shows what is dragged as soon as it is known which edit a value makes, and keeps or drops it in the end. */
function dragBy(editing: Editing, plan: Promise<Filled | null>) {
  const { dragTo, commit } = editing.documents.getState();
  let [wanted, dropped]: [number | number[] | null, boolean] = [null, false];
  const show = (filled: Filled | null) => {
    if (filled && wanted !== null && !dropped) dragTo(filled(wanted));
  };
  let ready: Filled | null = null;
  void plan.then((filled) => {
    ready = filled;
    show(ready);
  });
  return {
    to(value: number | number[]): void {
      wanted = value;
      show(ready);
    },
    keep(label: string): void {
      void plan.then((filled) => {
        dropped = true;
        if (filled && wanted !== null) commit(label, filled(wanted));
        else dragTo(null);
      });
    },
    drop(): void {
      dropped = true;
      dragTo(null);
    },
  };
}

function asNumbers(value: number | number[]): number | [number, number, number] {
  if (typeof value === "number") return value;
  const [x = 0, y = 0, z = 0] = value;
  return [x, y, z];
}

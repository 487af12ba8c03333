import { createContext, useContext } from "react";
import { useStore } from "zustand";
import { at, isKeyed, keyOn, setValue } from "../document/parameter";
import type { DocumentStore } from "../document/store";
import type { Patch, Shot } from "../document/types";
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
  const here = keyOn(parameter, frame);
  if (here) return parameter.keys[here]!.value;
  return manifest?.values[pointer] ?? Object.values(parameter.keys)[0]!.value;
}

export function useValueNow(pointer: string): number | number[] {
  const editing = useEditing();
  useShot((shot) => at(shot, pointer));
  useSession((session) => session.frame);
  useSession((session) => session.manifest);
  return valueNow(editing, pointer);
}

/** The width of a field's band in values: as it is set, or what metres on the surface come to in the newest frame. */
export function bandNow(editing: Editing, field: string): number {
  if (editing.documents.getState().shot.fields[field]?.band_in !== "metres")
    return Number(valueNow(editing, `/fields/${field}/band`));
  const readings = editing.session.getState().manifest?.steps.map((step) => step.reading) ?? [];
  return readings.find((reading) => reading?.field === field)?.band ?? 0;
}

export function useBand(field: string): number {
  useValueNow(`/fields/${field}/band`);
  return bandNow(useEditing(), field);
}

/** A drag of one value: patches are made against the shot as it was when the drag began. */
export function beginDrag(editing: Editing, pointer: string) {
  const { shot, dragTo, commit } = editing.documents.getState();
  const start = valueNow(editing, pointer);
  let patch: Patch = [];
  return {
    start,
    to(value: number | number[]): void {
      const { frame, wholeCurve } = editing.session.getState();
      patch = setValue(shot, pointer, value, frame, start, wholeCurve);
      dragTo(patch);
    },
    keep(label: string): void {
      if (patch.length > 0) commit(label, patch);
      else dragTo(null);
    },
    drop(): void {
      dragTo(null);
    },
  };
}

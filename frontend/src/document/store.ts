import { applyPatch } from "fast-json-patch";
import { create } from "zustand";
import { answeredShot, api, newKey, Refused } from "../api/client";
import type { components } from "../api/schema";
import { asking } from "../parts/asking";
import { tell } from "../parts/messages";
import type { Operation, Patch, Relations, Shot, ShotState } from "./types";

type SentPatch = components["schemas"]["Operation"][];

/** A patch as the server takes it. */
function sent(patch: Patch): SentPatch {
  return patch.map((operation) => ({ value: null, ...operation }));
}

type Pending = { key: string; label: string; patch: Patch };

export type Clash = { label: string; clashes: { path: string; yours: unknown; theirs: unknown }[] };

export type Saving = "saved" | "saving" | "waiting";

type Document = {
  id: string;
  project: { id: string; name: string };
  /** The shot as the server has it. */
  saved: Shot;
  revision: number;
  /** What depends on what in it, as of that revision. */
  relations: Relations;
  /** Edits made here that the server has not yet confirmed, oldest first. */
  queue: Pending[];
  /** What is being dragged: seen, not yet an edit. */
  drag: Patch | null;
  /** The edit that was made last on this page. */
  made: { label: string; patch: Patch } | null;
  /** The shot as it is seen: saved, with queue and drag on top. */
  shot: Shot;
  /** Counts up whenever `shot` changes; frames are kept by it. */
  stamp: number;
  undo: string | null;
  redo: string | null;
  saving: Saving;
  clash: Clash | null;
  dragTo: (patch: Patch | null) => void;
  commit: (label: string, patch: Patch) => void;
  takeBack: (which: "undo" | "redo", anyway?: boolean) => Promise<void>;
  /** Takes in what was edited elsewhere, as soon as nothing of this page is on its way. */
  hear: (revision: number) => Promise<void>;
  /** Makes the shot what it was at a revision, as a new edit. */
  returnTo: (revision: number) => Promise<void>;
  settle: (keep: "mine" | "theirs") => Promise<void>;
  /** The patch that goes on top of `revision` to make `shot`. */
  unsaved: () => SentPatch;
};

export type DocumentStore = ReturnType<typeof createDocument>;

/** The shot that is edited, and the one queue through which every edit reaches the server in order. */
export function createDocument(state: ShotState) {
  let pumping = false;
  /** The newest revision that was heard of. */
  let heard = 0;
  const store = create<Document>()((set, get) => {
    function seen(change: Partial<Document>): void {
      const next = { ...get(), ...change };
      const shot = onTop(next.saved, [...next.queue.flatMap((edit) => edit.patch), ...(next.drag ?? [])]);
      set({ ...change, shot, stamp: get().stamp + 1 });
    }

    function accept(reply: ShotState, queue: Pending[]): void {
      const { revision, document: saved, relations, undo, redo } = reply;
      const same = queue.length < get().queue.length;
      if (same) set({ saved, revision, relations, undo, redo, queue });
      else seen({ saved, revision, relations, undo, redo, queue });
    }

    async function pump(): Promise<void> {
      if (pumping) return;
      pumping = true;
      for (let [edit] = get().queue; edit && !get().clash; [edit] = get().queue) {
        set({ saving: get().saving === "waiting" ? "waiting" : "saving" });
        try {
          const reply = await answeredShot(
            api.PATCH("/api/shots/{shot_id}", {
              params: { path: { shot_id: get().id } },
              headers: { "If-Match": `"${get().revision}"` },
              body: { ...edit, patch: sent(edit.patch) },
            }),
          );
          accept(reply, get().queue.slice(1));
        } catch (fault) {
          if (!(fault instanceof Refused)) throw fault;
          if (fault.status === 412) set({ clash: { label: edit.label, clashes: fault.problem?.clashes ?? [] } });
          else if (fault.passing) {
            set({ saving: "waiting" });
            await new Promise((wake) => setTimeout(wake, 700));
          } else {
            tell(`${edit.label}: ${fault.message}`);
            seen({ queue: get().queue.slice(1), drag: null });
          }
        }
      }
      if (get().queue.length === 0) set({ saving: "saved" });
      pumping = false;
      if (heard > get().revision) void catchUp();
    }

    async function catchUp(): Promise<void> {
      if (pumping || get().queue.length > 0 || heard <= get().revision) return;
      pumping = true;
      try {
        await reload();
      } catch (fault) {
        if (!(fault instanceof Refused)) throw fault;
      } finally {
        pumping = false;
      }
      if (get().queue.length > 0) void pump();
    }

    async function reload(): Promise<void> {
      const reply = await answeredShot(api.GET("/api/shots/{shot_id}", { params: { path: { shot_id: get().id } } }));
      accept(reply, get().queue);
    }

    return {
      id: state.id,
      project: { id: state.project, name: state.project_name },
      saved: state.document,
      revision: state.revision,
      relations: state.relations,
      queue: [],
      drag: null,
      made: null,
      shot: state.document,
      stamp: 0,
      undo: state.undo,
      redo: state.redo,
      saving: "saved",
      clash: null,
      dragTo: (patch) => {
        if (patch || get().drag) seen({ drag: patch });
      },
      commit: (label, patch) => {
        if (patch.length === 0) return;
        set({ made: { label, patch } });
        seen({ queue: [...get().queue, { key: newKey(), label: label.slice(0, 100), patch }], drag: null });
        void pump();
      },
      takeBack: async (which, anyway = false) => {
        if (get().queue.length > 0) return;
        const body = { key: newKey(), anyway };
        const params = { path: { shot_id: get().id } };
        try {
          const asked =
            which === "undo"
              ? api.POST("/api/shots/{shot_id}/undo", { params, body })
              : api.POST("/api/shots/{shot_id}/redo", { params, body });
          const reply = await asking(which === "undo" ? "Taking it back" : "Doing it again", answeredShot(asked));
          accept(reply, get().queue);
        } catch (fault) {
          if (!(fault instanceof Refused)) throw fault;
          if (fault.status === 409 && !anyway) {
            tell(fault.message, { label: "Undo anyway", run: () => void get().takeBack(which, true) });
          } else tell(fault.message);
        }
      },
      hear: async (revision) => {
        heard = Math.max(heard, revision);
        await catchUp();
      },
      returnTo: async (revision) => {
        if (get().queue.length > 0) return tell("The last change is not saved yet. Return again in a moment.");
        const params = { path: { shot_id: get().id } };
        try {
          const body = { key: newKey(), revision };
          const asked = answeredShot(api.POST("/api/shots/{shot_id}/return", { params, body }));
          accept(await asking(`Returning to edit ${revision}`, asked), get().queue);
        } catch (fault) {
          if (!(fault instanceof Refused)) throw fault;
          tell(fault.message);
        }
      },
      settle: async (keep) => {
        try {
          await reload();
        } catch (fault) {
          if (fault instanceof Refused) tell(fault.message);
          return;
        }
        if (keep === "theirs") seen({ queue: get().queue.slice(1) });
        set({ clash: null });
        void pump();
      },
      unsaved: () => sent([...get().queue.flatMap((edit) => edit.patch), ...(get().drag ?? [])]),
    };
  });
  return store;
}

function onTop(shot: Shot, patch: Patch): Shot {
  if (patch.length === 0) return shot;
  try {
    const copied: Operation[] = structuredClone(patch);
    return applyPatch(shot, copied as Parameters<typeof applyPatch>[1], false, false).newDocument as Shot;
  } catch {
    return shot;
  }
}

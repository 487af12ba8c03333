import { useEffect, useState } from "react";
import { useStore } from "zustand";
import { answered, api } from "../api/client";
import { useEditing } from "../parts/editing";

/** For each frame the shares inside and in the band. */
export type Strip = number[][];

/** Strips by what they were asked with, so that a view that comes back finds them. */
const kept = new Map<string, Strip>();

/** The coverage strip of a field on a shape, asked for when the shot has been still for a moment. */
export function useStrip(field: string, item: string | null): { strip: Strip | null; fresh: boolean } {
  const { documents } = useEditing();
  const stamp = useStore(documents, (state) => state.stamp);
  const shot = useStore(documents, (state) => state.id);
  const key = `${shot} ${stamp} ${field} ${item}`;
  const [shown, setShown] = useState<{ key: string; strip: Strip } | null>(null);

  useEffect(() => {
    const there = kept.get(key);
    if (there) return setShown({ key, strip: there });
    if (!item) return;
    let wanted = true;
    const dragging = documents.getState().drag !== null;
    const timer = window.setTimeout(
      async () => {
        const { revision, unsaved, id } = documents.getState();
        const body = {
          revision,
          patch: unsaved(),
          frame: 0,
          field,
          item,
          step_by: 1,
          view: `strip-${field}`.toLowerCase().slice(0, 40),
          wish: Date.now(),
        };
        const answer = await answered(
          api.POST("/api/shots/{shot_id}/coverage", { params: { path: { shot_id: id } }, body }),
        ).catch(() => null);
        if (!answer) return;
        kept.set(key, answer.strip);
        if (kept.size > 200) kept.delete(kept.keys().next().value ?? "");
        if (wanted) setShown({ key, strip: answer.strip });
      },
      dragging ? 250 : 120,
    );
    return () => {
      wanted = false;
      window.clearTimeout(timer);
    };
  }, [key, documents, field, item]);

  return { strip: shown?.strip ?? null, fresh: shown?.key === key };
}

import { useEffect, useState } from "react";
import { useStore } from "zustand";
import { answered, api } from "../api/client";
import type { components } from "../api/schema";
import { useEditing } from "../parts/editing";

export type Finding = components["schemas"]["FindingOut"];

const PAUSE = 900;

/** What is amiss in the shot as it is saved, looked for when it has been still for a moment; null while not known yet. */
export function useFindings(): Finding[] | null {
  const { documents } = useEditing();
  const id = useStore(documents, (state) => state.id);
  const revision = useStore(documents, (state) => state.revision);
  const [found, setFound] = useState<Finding[] | null>(null);
  useEffect(() => {
    let wanted = true;
    const timer = window.setTimeout(async () => {
      const body = { revision, patch: [], frame: 0, view: "findings", wish: Date.now() };
      const answer = await answered(
        api.POST("/api/shots/{shot_id}/findings", { params: { path: { shot_id: id } }, body }),
      ).catch(() => null);
      if (wanted && answer) setFound(answer.findings);
    }, PAUSE);
    return () => {
      wanted = false;
      window.clearTimeout(timer);
    };
  }, [id, revision]);
  return found;
}

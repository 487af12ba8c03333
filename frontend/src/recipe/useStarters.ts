import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../api/client";
import type { components } from "../api/schema";
import type { Patch } from "../document/types";
import { useEditing } from "../parts/editing";
import { tell } from "../parts/messages";
import { commitInView } from "../view/framing";

export type Starter = components["schemas"]["StarterOut"];

/** The starters there are, and what lays one on a shape as it stands at the frame in view. */
export function useStarters(): { starters: Starter[]; lay: (starter: Starter, shape: string) => Promise<void> } {
  const editing = useEditing();
  const { documents, session } = editing;
  const { data } = useQuery({ queryKey: ["starters"], queryFn: () => answered(api.GET("/api/starters")) });

  async function lay(starter: Starter, shape: string) {
    const { id, revision, shot } = documents.getState();
    const params = { path: { shot_id: id, starter: starter.id } };
    const body = { revision, patch: [], frame: Math.round(session.getState().frame), item: shape };
    try {
      const made = await answered(api.POST("/api/shots/{shot_id}/starters/{starter}", { params, body }));
      await commitInView(editing, `lay ${starter.name}`, made.patch as Patch, shape);
      session.setState({ field: made.field });
      tell(`${starter.name} is laid on ${shot.items[shape]?.name}. Change first: ${starter.first}.`);
    } catch (fault) {
      tell(fault instanceof Error ? fault.message : String(fault));
    }
  }

  return { starters: data?.starters ?? [], lay };
}

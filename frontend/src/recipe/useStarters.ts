import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../api/client";
import type { components } from "../api/schema";
import type { Patch } from "../document/types";
import { asking } from "../parts/asking";
import { useEditing } from "../parts/editing";
import { tell } from "../parts/messages";
import { commitInView } from "../view/framing";

export type Starter = components["schemas"]["StarterOut"];

/** The starters there are, and what lays one on a shape as it stands at the frame in view. */
export function useStarters(): {
  starters: Starter[];
  lay: (starter: Starter, shape: string) => Promise<void>;
  edit: (starter: Starter, shape: string) => Promise<Patch>;
} {
  const editing = useEditing();
  const { documents, session } = editing;
  const { data } = useQuery({ queryKey: ["starters"], queryFn: () => answered(api.GET("/api/starters")) });

  function laid(starter: Starter, shape: string) {
    const { id, revision } = documents.getState();
    const params = { path: { shot_id: id, starter: starter.id } };
    const body = { revision, patch: [], frame: Math.round(session.getState().frame), item: shape };
    return answered(api.POST("/api/shots/{shot_id}/starters/{starter}", { params, body }));
  }

  async function lay(starter: Starter, shape: string) {
    const { shot } = documents.getState();
    try {
      const made = await asking("Fitting the starter to the shape", laid(starter, shape));
      await commitInView(editing, `lay ${starter.name}`, made.patch as Patch, shape);
      session.setState({ field: made.field });
      tell(`${starter.name} is laid on ${shot.items[shape]?.name}. Change first: ${starter.first}.`);
    } catch (fault) {
      tell(fault instanceof Error ? fault.message : String(fault));
    }
  }

  return {
    starters: data?.starters ?? [],
    lay,
    edit: async (starter, shape) => (await laid(starter, shape)).patch as Patch,
  };
}

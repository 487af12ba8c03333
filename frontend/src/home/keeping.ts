import { answered, api } from "../api/client";
import { tell } from "../parts/messages";

export type Kept = "here" | "archived" | "deleted";

/** Does something; what goes wrong is told, and answered with nothing. */
export async function attempt<Data>(run: () => Promise<Data>): Promise<Data | null> {
  try {
    return await run();
  } catch (fault) {
    tell(fault instanceof Error ? fault.message : String(fault));
    return null;
  }
}

/** Puts a project or shot here, into the archive, or among what is deleted. */
export async function keep(what: "projects" | "shots", id: string, kept: Kept): Promise<void> {
  await attempt(() =>
    what === "shots"
      ? answered(api.PUT("/api/shots/{shot_id}/kept", { params: { path: { shot_id: id } }, body: { kept } }))
      : answered(api.PUT("/api/projects/{project_id}/kept", { params: { path: { project_id: id } }, body: { kept } })),
  );
  if (kept === "deleted") tell("Deleted. For thirty days it can be brought back, at the foot of this page.");
}

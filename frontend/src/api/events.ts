import { create } from "zustand";
import { answered, api } from "./client";
import type { components } from "./schema";

/** Work under way for this browser. seconds_left is null while that cannot be said. */
export type Work = components["schemas"]["WorkUnderWay"];
/** A shot that was edited lately: what made its newest revision, and whether it came from this browser. */
export type Edited = components["schemas"]["EditMade"];
export type Job = components["schemas"]["JobState"];

type Heard = {
  work: Work[];
  jobs: Job[];
  edits: Edited[];
  /** What does not run on the server just now, in words. */
  away: string[];
  /** Whether the server answers. */
  connected: boolean;
};

export const useEvents = create<Heard>()(() => ({ work: [], jobs: [], edits: [], away: [], connected: true }));

const CHANNEL = "windsock-events";
const LOCK = "windsock-event-stream";
/** Milliseconds between two questions: while something goes on, at rest, and when no tab is looked at. */
const BUSY = 350;
const REST = 900;
const HIDDEN = 4000;

/** One tab of this browser asks for all of them what happens, and passes on what it hears. */
export function listen(): () => void {
  const channel = new BroadcastChannel(CHANNEL);
  channel.onmessage = (event: MessageEvent<Partial<Heard>>) => useEvents.setState(event.data);
  const ended = new AbortController();
  const heard = (told: Partial<Heard>) => {
    useEvents.setState(told);
    channel.postMessage(told);
  };
  void navigator.locks.request(LOCK, { signal: ended.signal }, () => ask(heard, ended.signal)).catch(() => undefined);
  return () => {
    ended.abort();
    channel.close();
  };
}

async function ask(heard: (told: Partial<Heard>) => void, ended: AbortSignal): Promise<void> {
  let known = "";
  let missed = 0;
  while (!ended.aborted) {
    try {
      const { version, ...told } = await answered(
        api.GET("/api/events", { params: { query: { known } }, signal: ended }),
      );
      known = version;
      missed = 0;
      const changed = Object.fromEntries(
        Object.entries(told).filter(([, value]) => value !== null && value !== undefined),
      );
      if (Object.keys(changed).length > 0 || !useEvents.getState().connected) heard({ ...changed, connected: true });
    } catch {
      if (ended.aborted) return;
      known = "";
      missed += 1;
      if (missed > 1) heard({ connected: false, work: [] });
    }
    const { work, jobs } = useEvents.getState();
    const busy =
      work.length > 0 || jobs.some((job) => job.state === "waiting" || job.state === "running") || missed > 0;
    const pause = document.visibilityState === "hidden" && !busy ? HIDDEN : busy ? BUSY : REST;
    await new Promise((wake) => setTimeout(wake, pause));
  }
}

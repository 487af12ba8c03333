import { create } from "zustand";
import { browserId } from "./client";
import type { components } from "./schema";

/** Work under way for this browser. seconds_left is null while that cannot be said. */
export type Work = { view: string; says: string; share: number; seconds_left: number | null };
export type Job = components["schemas"]["JobState"];

export const useEvents = create<{ work: Work[]; jobs: Job[] }>()(() => ({ work: [], jobs: [] }));

const CHANNEL = "windsock-events";
const LOCK = "windsock-event-stream";

/** One event stream for all tabs of this browser: the tab that holds the lock listens and passes on what it hears. */
export function listen(): () => void {
  const channel = new BroadcastChannel(CHANNEL);
  channel.onmessage = (event: MessageEvent<Partial<{ work: Work[]; jobs: Job[] }>>) => useEvents.setState(event.data);
  const ended = new AbortController();
  const heard = (told: Partial<{ work: Work[]; jobs: Job[] }>) => {
    useEvents.setState(told);
    channel.postMessage(told);
  };
  void navigator.locks
    .request(LOCK, { signal: ended.signal }, () => {
      const source = new EventSource(`/api/events?browser=${browserId()}`);
      source.addEventListener("work", (event) => heard({ work: JSON.parse(event.data) as Work[] }));
      source.addEventListener("jobs", (event) => heard({ jobs: JSON.parse(event.data) as Job[] }));
      return new Promise<void>((release) => {
        ended.signal.addEventListener("abort", () => {
          source.close();
          release();
        });
      });
    })
    .catch(() => undefined);
  return () => {
    ended.abort();
    channel.close();
  };
}

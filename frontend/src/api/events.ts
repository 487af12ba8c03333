import { create } from "zustand";
import { browserId } from "./client";
import type { components } from "./schema";

/** Work under way for this browser. seconds_left is null while that cannot be said. */
export type Work = { view: string; says: string; share: number; seconds_left: number | null };
/** A shot that was edited lately: what made its newest revision, and the browser it came from. */
export type Edited = { shot: string; revision: number; label: string; browser: string };
export type Job = components["schemas"]["JobState"];

type Heard = { work: Work[]; jobs: Job[]; edits: Edited[] };

export const useEvents = create<Heard>()(() => ({ work: [], jobs: [], edits: [] }));

const CHANNEL = "windsock-events";
const LOCK = "windsock-event-stream";

/** One event stream for all tabs of this browser: the tab that holds the lock listens and passes on what it hears. */
export function listen(): () => void {
  const channel = new BroadcastChannel(CHANNEL);
  channel.onmessage = (event: MessageEvent<Partial<Heard>>) => useEvents.setState(event.data);
  const ended = new AbortController();
  const heard = (told: Partial<Heard>) => {
    useEvents.setState(told);
    channel.postMessage(told);
  };
  void navigator.locks
    .request(LOCK, { signal: ended.signal }, () => {
      const source = new EventSource(`/api/events?browser=${browserId()}`);
      source.addEventListener("work", (event) => heard({ work: JSON.parse(event.data) as Work[] }));
      source.addEventListener("jobs", (event) => heard({ jobs: JSON.parse(event.data) as Job[] }));
      source.addEventListener("edits", (event) => heard({ edits: JSON.parse(event.data) as Edited[] }));
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

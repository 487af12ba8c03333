import { blocks } from "../api/blocks";
import { Refused } from "../api/client";
import { fetchFrame, isReadIn, isWhole, type Manifest } from "../api/frames";
import type { DocumentStore } from "../document/store";

/** Requests for frames nobody waits for yet that are under way at once. */
const LANES = 2;
const KEPT_CONTENTS = 4;
const STILL = 350;

/** What is looked at: a version of a shot, with unsaved changes on top, and a field as heat. */
export type Content = {
  key: string;
  shot: string;
  revision: number;
  patch: ReturnType<ReturnType<DocumentStore["getState"]>["unsaved"]>;
  heat: { field: string; item: string } | null;
  /** A value is being dragged: what comes sooner is shown. */
  dragged: boolean;
};

/** What is wanted now. lookedAt: the shapes of which it is to be told what drives their steps. order: the frames in the order in
 * which they will be wanted. */
export type Wants = {
  content: () => Content;
  frame: () => number;
  playing: () => boolean;
  lookedAt: () => string[];
  order: () => Iterable<number>;
};

/** What has come of it. `ahead`: a frame that nobody waited for. `never`: it cannot come while all is as it is. */
export type Told = {
  manifest?: Manifest;
  trouble?: string | null;
  stopped?: boolean;
  working?: boolean;
  ahead?: number;
  never?: boolean;
};

/** Fetches the frames that one side of the view shows. The newest wish wins; frames that were seen are shown again from memory. */
export class Fetching {
  private readonly contents = new Map<string, Map<number, Manifest>>();
  content: Content;
  private shown: Manifest | null = null;
  private current: AbortController | null = null;
  private ahead = new AbortController();
  private readonly asked = new Map<number, number>();
  private wishes = Date.now();
  private retry = 0;
  private refused = "";
  /** Work ahead waits until the person has been still for a moment. */
  private rested = 0;
  private resting = 0;

  constructor(
    private readonly view: string,
    private readonly wants: Wants,
    private readonly tell: (told: Told) => void,
  ) {
    this.content = wants.content();
  }

  stop(): void {
    window.clearTimeout(this.retry);
    window.clearTimeout(this.resting);
    this.current?.abort();
    this.ahead.abort();
  }

  /** The whole frame, where it is at hand. */
  kept(frame: number): Manifest | undefined {
    const manifest = this.contents.get(this.content.key)?.get(frame);
    return manifest && isWhole(manifest) ? manifest : undefined;
  }

  /** Ask again for what was given up or stopped. */
  again(): void {
    this.refused = "";
    this.tell({ trouble: null, stopped: false });
    this.refresh();
  }

  /** Show the frame that is wanted: from memory, or by asking for it. */
  refresh(): void {
    const content = this.wants.content();
    if (content.key !== this.content.key) {
      this.content = content;
      this.refused = "";
      this.asked.clear();
      this.ahead.abort();
      this.ahead = new AbortController();
    }
    const frame = this.wants.frame();
    const kept = this.kept(frame);
    if (kept && this.shown !== kept) this.show(kept);
    const complete = kept && this.wants.lookedAt().every((shape) => isReadIn(kept, shape));
    if (!complete && !this.wants.playing() && this.refused !== `${content.key} ${frame}`) void this.fetchCurrent(frame);
    this.fetchAhead();
  }

  private show(manifest: Manifest): void {
    this.shown = manifest;
    this.tell({ manifest, trouble: null, stopped: false });
  }

  private frames(): Map<number, Manifest> {
    const { key } = this.content;
    const frames = this.contents.get(key) ?? new Map<number, Manifest>();
    this.contents.delete(key);
    this.contents.set(key, frames);
    for (const oldest of this.contents.keys()) {
      if (this.contents.size <= KEPT_CONTENTS) break;
      this.contents.delete(oldest);
    }
    return frames;
  }

  private fetch(content: Content, frame: number, view: string, ahead: boolean, signal: AbortSignal): Promise<Manifest> {
    const { shot, revision, patch, heat, dragged } = content;
    const looked_at = this.wants.lookedAt();
    const wish = {
      revision,
      patch,
      heat,
      looked_at,
      dragged,
      frame,
      view: this.view + view,
      wish: ++this.wishes,
      ahead,
    };
    return fetchFrame(shot, wish, signal);
  }

  /** One request under way at a time; while it runs only the newest further wish is remembered. */
  private async fetchCurrent(frame: number): Promise<void> {
    this.rested = performance.now() + STILL;
    if (this.current) return;
    window.clearTimeout(this.retry);
    const controller = new AbortController();
    this.current = controller;
    const content = this.content;
    const asked = `${content.key} ${frame}`;
    this.tell({ working: true });
    let passing = false;
    try {
      const manifest = await this.fetch(content, frame, "current", false, controller.signal);
      if (content.key === this.content.key) this.frames().set(frame, manifest);
      this.show(manifest);
    } catch (fault) {
      if (controller.signal.aborted) return;
      passing = !(fault instanceof Refused) || fault.passing;
      const stopped = fault instanceof Refused && fault.status === 499;
      if (!passing) this.refused = asked;
      this.tell(stopped ? { stopped: true } : { trouble: inWords(fault) });
    } finally {
      this.current = null;
      this.tell({ working: false });
    }
    if (passing) this.retry = window.setTimeout(() => this.refresh(), 600);
    else this.refresh();
  }

  /** Frames that will be wanted: those after the playhead while playing, else those about it in both directions. */
  fetchAhead(): void {
    const playing = this.wants.playing();
    const lanes = playing ? LANES : 1;
    if (this.asked.size >= lanes || (!playing && (blocks.nearlyFull || !this.kept(this.wants.frame())))) return;
    if (!playing && performance.now() < this.rested) {
      window.clearTimeout(this.resting);
      this.resting = window.setTimeout(() => this.fetchAhead(), this.rested - performance.now() + 1);
      return;
    }
    for (const frame of this.wants.order()) {
      if (this.asked.size >= lanes) return;
      if (!this.asked.has(frame) && !this.kept(frame)) void this.fetchOne(frame);
    }
  }

  private async fetchOne(frame: number): Promise<void> {
    const { signal } = this.ahead;
    const content = this.content;
    const lane = [...Array(LANES).keys()].find((one) => ![...this.asked.values()].includes(one)) ?? 0;
    this.asked.set(frame, lane);
    const playing = this.wants.playing();
    let wait = 0;
    try {
      const manifest = await this.fetch(content, frame, `ahead-${lane}`, !playing || lane > 0, signal);
      if (content.key !== this.content.key) return;
      this.frames().set(frame, manifest);
      this.tell(playing ? { trouble: null, ahead: frame } : { ahead: frame });
    } catch (fault) {
      if (signal.aborted) return;
      wait = 600;
      if (this.wants.playing())
        this.tell({ trouble: inWords(fault), never: fault instanceof Refused && !fault.passing });
    }
    if (content.key !== this.content.key) return;
    if (wait) await new Promise((wake) => setTimeout(wake, wait));
    this.asked.delete(frame);
    this.fetchAhead();
  }
}

function inWords(fault: unknown): string {
  return fault instanceof Error ? fault.message : String(fault);
}

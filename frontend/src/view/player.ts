import { blocks } from "../api/blocks";
import { Refused } from "../api/client";
import { fetchFrame, isReadIn, isWhole, type Manifest } from "../api/frames";
import type { DocumentStore } from "../document/store";
import { aroundOrder, nextFrame, playRange } from "./playing";
import type { SessionStore } from "./session";

/** Requests for frames nobody waits for yet that are under way at once. */
const LANES = 2;
const KEPT_CONTENTS = 4;
const STILL = 350;
/** So few copies are always drawn. */
const MANY = 2000;

/** What is looked at: a version of the shot, with unsaved changes on top, and a field as heat. */
type Content = {
  key: string;
  revision: number;
  patch: ReturnType<ReturnType<DocumentStore["getState"]>["unsaved"]>;
  heat: { field: string; item: string } | null;
  /** A value is being dragged: what comes sooner is shown. */
  dragged: boolean;
};

/** Fetches frames and plays them. The newest wish wins; frames that were seen are shown again from memory. */
export class Player {
  private readonly contents = new Map<string, Map<number, Manifest>>();
  private content: Content;
  private current: AbortController | null = null;
  private ahead = new AbortController();
  private readonly asked = new Map<number, number>();
  private wishes = Date.now();
  private retry = 0;
  private animation = 0;
  private shownAt: number[] = [];
  private due = 0;
  private slow = 0;
  private refused = "";
  /** Work ahead waits until the person has been still for a moment. */
  private rested = 0;
  private resting = 0;
  private readonly stops: (() => void)[];

  constructor(
    private readonly documents: DocumentStore,
    private readonly session: SessionStore,
  ) {
    this.content = this.wanted();
    this.stops = [
      documents.subscribe(() => this.refresh()),
      session.subscribe((now, before) => {
        if (now.playing !== before.playing) this.setPlaying(now.playing);
        this.refresh();
      }),
    ];
    this.refresh();
    if (session.getState().playing) this.setPlaying(true);
  }

  stop(): void {
    for (const stop of this.stops) stop();
    cancelAnimationFrame(this.animation);
    window.clearTimeout(this.retry);
    window.clearTimeout(this.resting);
    this.current?.abort();
    this.ahead.abort();
  }

  /** Which whole frames of the range are at hand. */
  ready(frame: number): boolean {
    return this.kept(frame) !== undefined;
  }

  /** A frame of the shot at a revision, where that is looked at and the whole frame is at hand. */
  savedFrame(revision: number, frame: number): Manifest | undefined {
    const { revision: seen, patch } = this.content;
    return seen === revision && patch.length === 0 ? this.kept(frame) : undefined;
  }

  /** Ask again for what was given up or stopped. */
  again(): void {
    this.refused = "";
    this.session.setState({ trouble: null, stopped: false });
    this.refresh();
  }

  /** What should be looked at now; `before` is the shot as it was before the last change. */
  private wanted(): Content {
    const { revision, unsaved, shot, drag } = this.documents.getState();
    const { reading, field, chosen, before, past } = this.session.getState();
    const shown = reading !== "picture" && field !== null && chosen !== null && shot.items[chosen]?.kind === "shape";
    const heat = shown && shot.fields[field] ? { field, item: chosen } : null;
    let [at, patch] = [revision, unsaved()];
    if (before) [at, patch] = patch.length > 0 ? [revision, []] : [Math.max(0, revision - 1), []];
    if (past !== null) [at, patch] = [past, []];
    const dragged = drag !== null;
    return {
      key: `${at} ${JSON.stringify(patch)} ${JSON.stringify(heat)} ${dragged}`,
      revision: at,
      patch,
      heat,
      dragged,
    };
  }

  /** The shapes of which it is to be told what drives their steps: a frame at hand is asked for again where it has others. */
  private lookedAt(): string[] {
    const { chosen } = this.session.getState();
    return chosen !== null && this.documents.getState().shot.items[chosen]?.kind === "shape" ? [chosen] : [];
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

  /** Show the frame of the session: from memory, or by asking for it. */
  private refresh(): void {
    const content = this.wanted();
    if (content.key !== this.content.key) {
      this.content = content;
      this.refused = "";
      this.asked.clear();
      this.ahead.abort();
      this.ahead = new AbortController();
    }
    const { frame, playing, manifest } = this.session.getState();
    const kept = this.kept(frame);
    if (kept && manifest !== kept) this.session.setState({ manifest: kept, trouble: null, stopped: false });
    const complete = kept && this.lookedAt().every((shape) => isReadIn(kept, shape));
    if (!complete && !playing && this.refused !== `${content.key} ${frame}`) void this.fetchCurrent(frame);
    this.fetchAhead();
  }

  private kept(frame: number): Manifest | undefined {
    const manifest = this.contents.get(this.content.key)?.get(frame);
    return manifest && isWhole(manifest) ? manifest : undefined;
  }

  private wish(content: Content, frame: number, view: string, ahead: boolean) {
    const { revision, patch, heat, dragged } = content;
    return { revision, patch, heat, looked_at: this.lookedAt(), dragged, frame, view, wish: ++this.wishes, ahead };
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
    this.session.setState({ working: true });
    let passing = false;
    try {
      const wish = this.wish(content, frame, "current", false);
      const manifest = await fetchFrame(this.documents.getState().id, wish, controller.signal);
      if (content.key === this.content.key) this.frames().set(frame, manifest);
      this.session.setState({ manifest, trouble: null, stopped: false });
    } catch (fault) {
      if (controller.signal.aborted) return;
      passing = !(fault instanceof Refused) || fault.passing;
      const stopped = fault instanceof Refused && fault.status === 499;
      const words = fault instanceof Error ? fault.message : String(fault);
      if (!passing) this.refused = asked;
      if (stopped) this.session.setState({ stopped: true });
      else this.session.setState({ trouble: words });
    } finally {
      this.current = null;
      this.session.setState({ working: false });
    }
    if (passing) this.retry = window.setTimeout(() => this.refresh(), 600);
    else this.refresh();
  }

  /** Frames that will be wanted: those after the playhead while playing, else those about it in both directions. */
  private fetchAhead(): void {
    const session = this.session.getState();
    const lanes = session.playing ? LANES : 1;
    if (this.asked.size >= lanes || (!session.playing && (blocks.nearlyFull || !this.kept(session.frame)))) return;
    if (!session.playing && performance.now() < this.rested) {
      window.clearTimeout(this.resting);
      this.resting = window.setTimeout(() => this.fetchAhead(), this.rested - performance.now() + 1);
      return;
    }
    const { frames } = this.documents.getState().shot;
    for (const frame of aroundOrder(session, frames)) {
      if (this.asked.size >= lanes) return;
      if (!this.asked.has(frame) && !this.kept(frame)) void this.fetchOne(frame);
    }
  }

  private async fetchOne(frame: number): Promise<void> {
    const { signal } = this.ahead;
    const content = this.content;
    const lane = [...Array(LANES).keys()].find((one) => ![...this.asked.values()].includes(one)) ?? 0;
    this.asked.set(frame, lane);
    const { playing } = this.session.getState();
    let wait = 0;
    try {
      const wish = this.wish(content, frame, `ahead-${lane}`, !playing || lane > 0);
      const manifest = await fetchFrame(this.documents.getState().id, wish, signal);
      if (content.key !== this.content.key) return;
      this.frames().set(frame, manifest);
      this.session.setState(playing ? { trouble: null, ahead: frame } : { ahead: frame });
    } catch (fault) {
      if (signal.aborted) return;
      wait = 600;
      if (this.session.getState().playing) {
        this.session.setState({ trouble: fault instanceof Error ? fault.message : String(fault) });
        if (fault instanceof Refused && !fault.passing) this.session.setState({ playing: false });
      }
    }
    if (content.key !== this.content.key) return;
    if (wait) await new Promise((wake) => setTimeout(wake, wait));
    this.asked.delete(frame);
    this.fetchAhead();
  }

  private setPlaying(playing: boolean): void {
    cancelAnimationFrame(this.animation);
    this.shownAt = [];
    this.due = performance.now();
    this.slow = 0;
    this.session.setState(playing ? { speed: 0 } : { speed: null, sharpness: 1, thinned: 1 });
    if (!playing) return;
    const session = this.session.getState();
    const { first, last } = playRange(session, this.documents.getState().shot.frames);
    const whole = Math.round(session.frame);
    const begins = session.direction > 0 ? first : last;
    const ended = session.loop === "once" && whole === (session.direction > 0 ? last : first);
    if (whole > last || whole < first || ended) this.session.setState({ frame: begins });
    else if (whole !== session.frame) this.session.setState({ frame: whole });
    this.fetchAhead();
    this.animation = requestAnimationFrame(this.tick);
  }

  private readonly tick = (now: number): void => {
    const { shot } = this.documents.getState();
    const interval = (1000 * shot.rate.denominator) / shot.rate.numerator;
    if (now >= this.due) {
      const session = this.session.getState();
      const next = nextFrame(session, shot.frames);
      if (next === null) this.session.setState({ playing: false });
      else if (this.kept(next.frame)) {
        this.shownAt = [...this.shownAt.filter((moment) => now - moment < 1000), now];
        const span = now - (this.shownAt[0] ?? now);
        const speed = span > 200 ? ((this.shownAt.length - 1) * 1000) / span : 0;
        this.keepUp(now > this.due + 0.5 * interval, next.frame);
        this.due = Math.max(this.due + interval, now - interval);
        this.session.setState({ ...next, speed });
      }
    }
    this.fetchAhead();
    if (this.session.getState().playing) this.animation = requestAnimationFrame(this.tick);
  };

  /** When frames that were at hand keep being shown late, it is the drawing that is slow: draw fewer pixels, then fewer
   * copies. */
  private keepUp(late: boolean, frame: number): void {
    this.slow = late && this.kept(frame + 1) ? this.slow + 1 : 0;
    const { sharpness, thinned, manifest } = this.session.getState();
    if (this.slow < 4) return;
    this.slow = 0;
    const copies = manifest?.items.reduce((sum, item) => sum + (item.copies?.count ?? 0), 0) ?? 0;
    if (copies > MANY && (sharpness < 0.6 || copies > 20 * MANY) && thinned > 0.1) {
      this.session.setState({ thinned: Math.max(0.1, thinned * 0.6) });
      return;
    }
    if (sharpness <= 0.35) return;
    this.session.setState({ sharpness: Math.max(0.35, sharpness * 0.75) });
  }
}

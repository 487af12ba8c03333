import { Refused } from "../api/client";
import { fetchFrame, isWhole, type Manifest } from "../api/frames";
import type { DocumentStore } from "../document/store";
import type { SessionStore } from "./session";

const AHEAD = 2;

/** Fetches frames and plays them. The newest wish wins; frames that were seen are shown again from memory. */
export class Player {
  private frames = new Map<number, Manifest>();
  private content = "";
  private asked = new Set<number>();
  private current: AbortController | null = null;
  private ahead = new AbortController();
  private wishes = Date.now();
  private retry = 0;
  private animation = 0;
  private shownAt: number[] = [];
  private due = 0;
  private slow = 0;
  private readonly stops: (() => void)[];

  constructor(
    private readonly documents: DocumentStore,
    private readonly session: SessionStore,
  ) {
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
    this.current?.abort();
    this.ahead.abort();
  }

  /** Show the frame of the session: from memory, or by asking for it. */
  private refresh(): void {
    const { frame, reading, field, chosen } = this.session.getState();
    const heat = reading === "picture" ? "" : `${field} ${chosen}`;
    const content = `${this.documents.getState().stamp} ${heat}`;
    if (content !== this.content) {
      this.content = content;
      this.frames.clear();
      this.asked.clear();
      this.ahead.abort();
      this.ahead = new AbortController();
    }
    const kept = this.kept(frame);
    if (kept) {
      if (this.session.getState().manifest !== kept) this.session.setState({ manifest: kept, trouble: null });
    } else if (!this.session.getState().playing) void this.fetchCurrent(frame);
    else this.fetchAhead();
  }

  private kept(frame: number): Manifest | undefined {
    const manifest = this.frames.get(frame);
    return manifest && isWhole(manifest) ? manifest : undefined;
  }

  private wish(frame: number, view: string) {
    const { revision, unsaved, shot } = this.documents.getState();
    const { reading, field, chosen } = this.session.getState();
    const shown = reading !== "picture" && field !== null && chosen !== null && shot.items[chosen]?.kind === "shape";
    const heat = shown ? { field, item: chosen } : null;
    return { revision, patch: unsaved(), frame, heat, view, wish: ++this.wishes };
  }

  /** One request under way at a time; while it runs only the newest further wish is remembered. */
  private async fetchCurrent(frame: number): Promise<void> {
    if (this.current) return;
    window.clearTimeout(this.retry);
    const controller = new AbortController();
    this.current = controller;
    const content = this.content;
    this.session.setState({ working: true });
    let passing = false;
    try {
      const manifest = await fetchFrame(this.documents.getState().id, this.wish(frame, "current"), controller.signal);
      if (content === this.content) this.frames.set(frame, manifest);
      this.session.setState({ manifest, trouble: null });
    } catch (fault) {
      if (controller.signal.aborted) return;
      passing = !(fault instanceof Refused) || fault.passing;
      if (!(fault instanceof Refused && fault.status === 499)) {
        this.session.setState({ trouble: fault instanceof Error ? fault.message : String(fault) });
      }
      if (!passing && content === this.content && frame === this.session.getState().frame) return;
    } finally {
      this.current = null;
      this.session.setState({ working: false });
    }
    const next = this.session.getState();
    if (passing) this.retry = window.setTimeout(() => this.refresh(), 600);
    else if (!next.playing && (content !== this.content || next.frame !== frame)) this.refresh();
  }

  /** While playing, the frames after the playhead are asked for before they are due. */
  private fetchAhead(): void {
    const { frame, playing } = this.session.getState();
    if (!playing) return;
    const { first, last } = this.documents.getState().shot.frames;
    const count = last - first + 1;
    for (let step = 0; step < count && this.asked.size < AHEAD; step++) {
      const wanted = first + ((((Math.round(frame) - first + step) % count) + count) % count);
      if (!this.kept(wanted) && !this.asked.has(wanted)) void this.fetchOne(wanted);
    }
  }

  private async fetchOne(frame: number): Promise<void> {
    const { signal } = this.ahead;
    const content = this.content;
    this.asked.add(frame);
    let wait = 0;
    try {
      const manifest = await fetchFrame(this.documents.getState().id, this.wish(frame, ""), signal);
      if (content === this.content) this.frames.set(frame, manifest);
      this.session.setState({ trouble: null });
    } catch (fault) {
      if (signal.aborted) return;
      wait = 600;
      this.session.setState({ trouble: fault instanceof Error ? fault.message : String(fault) });
      if (fault instanceof Refused && !fault.passing) this.session.setState({ playing: false });
    }
    if (content !== this.content) return;
    if (wait) await new Promise((wake) => setTimeout(wake, wait));
    this.asked.delete(frame);
    this.fetchAhead();
  }

  private setPlaying(playing: boolean): void {
    cancelAnimationFrame(this.animation);
    this.shownAt = [];
    this.due = performance.now();
    this.slow = 0;
    this.session.setState(playing ? { speed: 0 } : { speed: null, sharpness: 1 });
    if (!playing) return;
    const { first, last } = this.documents.getState().shot.frames;
    const { frame } = this.session.getState();
    const whole = Math.round(frame);
    if (whole !== frame || whole > last || whole < first)
      this.session.setState({ frame: whole > last || whole < first ? first : whole });
    this.fetchAhead();
    this.animation = requestAnimationFrame(this.tick);
  }

  private readonly tick = (now: number): void => {
    const { shot } = this.documents.getState();
    const interval = (1000 * shot.rate.denominator) / shot.rate.numerator;
    if (now >= this.due) {
      const { first, last } = shot.frames;
      const { frame } = this.session.getState();
      const next = frame + 1 > last || frame < first ? first : frame + 1;
      if (this.kept(next)) {
        this.shownAt = [...this.shownAt.filter((moment) => now - moment < 1000), now];
        const span = now - (this.shownAt[0] ?? now);
        const speed = span > 200 ? ((this.shownAt.length - 1) * 1000) / span : 0;
        this.keepUp(now > this.due + 0.5 * interval, next);
        this.due = Math.max(this.due + interval, now - interval);
        this.session.setState({ frame: next, speed });
      }
    }
    this.fetchAhead();
    if (this.session.getState().playing) this.animation = requestAnimationFrame(this.tick);
  };

  /** When frames that were at hand keep being shown late, it is the drawing that is slow: draw fewer pixels. */
  private keepUp(late: boolean, frame: number): void {
    this.slow = late && this.kept(frame + 1) ? this.slow + 1 : 0;
    const { sharpness } = this.session.getState();
    if (this.slow < 4 || sharpness <= 0.35) return;
    this.slow = 0;
    this.session.setState({ sharpness: Math.max(0.35, sharpness * 0.75) });
  }

  /** Which whole frames of the range are at hand. */
  ready(frame: number): boolean {
    return this.kept(frame) !== undefined;
  }
}

import type { Manifest } from "../api/frames";
import type { DocumentStore } from "../document/store";
import { type Compared, frameBeside } from "./compared";
import { type Content, Fetching } from "./fetching";
import { aroundOrder, nextFrame, playRange } from "./playing";
import { isMeasured, type SessionStore } from "./session";

/** So few copies are always drawn. */
const MANY = 2000;

/** Fetches frames, of the shot and of what it is compared with, and plays them. */
export class Player {
  private readonly main: Fetching;
  private beside: Fetching | null = null;
  private animation = 0;
  private shownAt: number[] = [];
  private due = 0;
  private slow = 0;
  private readonly stops: (() => void)[];

  constructor(
    private readonly documents: DocumentStore,
    private readonly session: SessionStore,
  ) {
    this.main = new Fetching(
      "",
      {
        content: () => this.wanted(),
        frame: () => session.getState().frame,
        playing: () => session.getState().playing,
        lookedAt: () => this.lookedAt(),
        order: () => aroundOrder(session.getState(), documents.getState().shot.frames),
      },
      ({ never, ...told }) => session.setState(never ? { ...told, playing: false } : told),
    );
    this.stops = [
      documents.subscribe(() => this.refresh()),
      session.subscribe((now, before) => {
        if (now.playing !== before.playing) this.setPlaying(now.playing);
        if (now.compared !== before.compared) this.compare(now.compared);
        this.refresh();
      }),
    ];
    this.refresh();
    if (session.getState().playing) this.setPlaying(true);
  }

  stop(): void {
    for (const stop of this.stops) stop();
    cancelAnimationFrame(this.animation);
    this.main.stop();
    this.beside?.stop();
  }

  /** Which whole frames of the range are at hand. */
  ready(frame: number): boolean {
    return this.main.kept(frame) !== undefined;
  }

  /** A frame of the shot at a revision, where that is looked at and the whole frame is at hand. */
  savedFrame(revision: number, frame: number): Manifest | undefined {
    const { revision: seen, patch } = this.main.content;
    return seen === revision && patch.length === 0 ? this.main.kept(frame) : undefined;
  }

  /** Ask again for what was given up or stopped. */
  again(): void {
    this.main.again();
    this.beside?.again();
  }

  /** What should be looked at now; `before` is the shot as it was before the last change, `earlier` as one value was once. */
  wanted(): Content {
    const { id, revision, unsaved, drag } = this.documents.getState();
    const { before, earlier, past } = this.session.getState();
    let [at, patch] = [revision, unsaved()];
    const setting = earlier?.settings[earlier.at];
    if (before && earlier && setting !== undefined) {
      patch = [...patch, { op: "replace", path: earlier.pointer, value: setting }];
    } else if (before) [at, patch] = patch.length > 0 ? [revision, []] : [Math.max(0, revision - 1), []];
    if (past !== null) [at, patch] = [past, []];
    return content({ shot: id, revision: at, patch, heat: this.heat(), dragged: drag !== null });
  }

  private heat(): Content["heat"] {
    const { shot } = this.documents.getState();
    const { reading, field, chosen } = this.session.getState();
    const shown = isMeasured(reading) && field !== null && chosen !== null && shot.items[chosen]?.kind === "shape";
    return shown && shot.fields[field] ? { field, item: chosen } : null;
  }

  /** The shapes of which it is to be told what drives their steps: a frame at hand is asked for again where it has others. */
  private lookedAt(): string[] {
    const { chosen } = this.session.getState();
    return chosen !== null && this.documents.getState().shot.items[chosen]?.kind === "shape" ? [chosen] : [];
  }

  /** Begin to fetch what the shot is compared with, or end it. */
  private compare(compared: Compared | null): void {
    this.beside?.stop();
    this.beside = null;
    if (!compared) return;
    const { session, documents } = this;
    const { shot, revision } = compared;
    const own = () => shot === documents.getState().id;
    const here = () => documents.getState().shot;
    this.beside = new Fetching(
      "beside-",
      {
        content: () => content({ shot, revision, patch: [], heat: own() ? this.heat() : null, dragged: false }),
        frame: () => frameBeside(session.getState().frame, here(), compared),
        playing: () => session.getState().playing,
        lookedAt: () => [],
        order: () =>
          [...aroundOrder(session.getState(), here().frames)].map((one) => frameBeside(one, here(), compared)),
      },
      ({ manifest, trouble }) => {
        if (manifest) session.setState({ besideManifest: manifest });
        if (trouble) session.setState({ trouble: `${compared.name}: ${trouble}` });
      },
    );
  }

  private refresh(): void {
    this.main.refresh();
    this.beside?.refresh();
  }

  private fetchAhead(): void {
    this.main.fetchAhead();
    this.beside?.fetchAhead();
  }

  /** Whether a frame is at hand, also of what the shot is compared with. */
  private readyToShow(frame: number): boolean {
    const { compared } = this.session.getState();
    const other = compared && frameBeside(frame, this.documents.getState().shot, compared);
    return this.ready(frame) && (other === null || this.beside?.kept(other) !== undefined);
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
      else if (this.readyToShow(next.frame)) {
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
    this.slow = late && this.readyToShow(frame + 1) ? this.slow + 1 : 0;
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

function content(told: Omit<Content, "key">): Content {
  const { shot, revision, patch, heat, dragged } = told;
  return { ...told, key: `${shot} ${revision} ${JSON.stringify(patch)} ${JSON.stringify(heat)} ${dragged}` };
}

import type { Session, SessionStore } from "./session";

/** What is played, and where in it. Times in seconds. */
export interface Playback {
  /** Name of what is played; null when nothing is loaded. */
  readonly of: string | null;
  readonly length: number;
  readonly seconds: number;
  readonly playing: boolean;
  readonly speed: number;
  /** Stretch that is played over and over; null plays to the end and stops at the start. */
  readonly loop: readonly [number, number] | null;
  /** Frames a second that were reached lately; null while nothing has been drawn. */
  readonly rate: number | null;
}
export const NOTHING_PLAYED: Playback = {
  of: null,
  length: 0,
  seconds: 0,
  playing: false,
  speed: 1,
  loop: null,
  rate: null,
};

/** Something that can be played on the stage. */
export interface Playable {
  readonly of: string;
  readonly length: number;
  /** Frames a second, that steps go by. */
  readonly fps?: number;
  /** What the session shows at a time. */
  readonly at: (seconds: number) => Partial<Session>;
}

/** Where time comes from, and what calls back before the next picture. */
export interface Ticker {
  readonly now: () => number;
  readonly next: (call: () => void) => number;
  readonly cancel: (handle: number) => void;
}
const SCREEN: Ticker = {
  now: () => performance.now(),
  next: (call) => requestAnimationFrame(call),
  cancel: (handle) => cancelAnimationFrame(handle),
};

/** Pictures over which the rate is read. */
const RATE_OVER = 20;
/** Of what has no frames of its own. */
const FRAMES_A_SECOND = 30;

/**
 * The one clock of a desk. Time is read off the ticker from where playing began, never added up: when pictures come
 * late some are left out, and what is played is never slower than it should be.
 */
export class Player {
  private playable: Playable | null = null;
  private handle: number | null = null;
  /** Where playing began, in what is played and on the ticker, ms. */
  private from = { seconds: 0, ms: 0 };
  private pictures: number[] = [];

  constructor(
    private readonly store: SessionStore,
    private readonly ticker: Ticker = SCREEN,
  ) {}

  /** Makes something ready at a time; the same thing again keeps its place. @param seconds where it is to stand. */
  load(playable: Playable, seconds?: number): void {
    const { playback } = this.store.getState();
    const same = playback.of === playable.of;
    if (!same) this.pause();
    this.playable = playable;
    const at = Math.min(playable.length, seconds ?? (same ? playback.seconds : 0));
    const loop = same && playback.loop && playback.loop[1] <= playable.length ? playback.loop : null;
    this.set({ of: playable.of, length: playable.length, seconds: at, loop });
    // what was framed is somewhere else in a movement
    if (!same) this.store.setState(({ framed }) => ({ framed: framed + 1 }));
  }

  /** Stops, and lets what was loaded go. */
  unload(of: string): void {
    if (this.store.getState().playback.of !== of) return;
    this.pause();
    this.playable = null;
    // what was framed in a movement is somewhere else without it
    this.store.setState(({ playback, framed }) => ({
      playback: { ...NOTHING_PLAYED, speed: playback.speed },
      sources: [],
      besideSources: [],
      framed: framed + 1,
    }));
  }

  play(): void {
    const { playback } = this.store.getState();
    if (!this.playable || playback.playing || playback.length <= 0) return;
    this.pictures = [];
    this.begin(playback.seconds >= playback.length ? (playback.loop?.[0] ?? 0) : playback.seconds);
    this.set({ playing: true, rate: null });
    this.handle = this.ticker.next(this.tick);
  }

  pause(): void {
    if (this.handle !== null) this.ticker.cancel(this.handle);
    this.handle = null;
    if (this.store.getState().playback.playing) this.set({ playing: false });
  }

  toggle(): void {
    if (this.store.getState().playback.playing) this.pause();
    else this.play();
  }

  /** Goes to a time and shows it; playing goes on from there. */
  seek(seconds: number): void {
    const { length } = this.store.getState().playback;
    const at = Math.min(length, Math.max(0, seconds));
    this.begin(at);
    this.show(at);
  }

  /** Stops, and goes so many frames on or back, to where a frame stands. */
  step(frames: number): void {
    this.pause();
    const rate = this.playable?.fps ?? FRAMES_A_SECOND;
    const now = Math.round(this.store.getState().playback.seconds * rate);
    this.seek((now + frames) / rate);
  }

  setSpeed(speed: number): void {
    this.begin(this.store.getState().playback.seconds);
    this.set({ speed });
  }

  setLoop(loop: readonly [number, number] | null): void {
    this.set({ loop: loop && loop[1] > loop[0] ? loop : null });
  }

  private begin(seconds: number): void {
    this.from = { seconds, ms: this.ticker.now() };
  }

  private readonly tick = (): void => {
    this.handle = null;
    const { playing, speed, length, loop } = this.store.getState().playback;
    if (!playing) return;
    const ms = this.ticker.now();
    const seconds = this.from.seconds + (speed * (ms - this.from.ms)) / 1000;
    this.pictures = [...this.pictures.slice(1 - RATE_OVER), ms];
    if (loop && seconds >= loop[1]) {
      this.begin(loop[0] + ((seconds - loop[0]) % (loop[1] - loop[0])));
      this.show(this.from.seconds);
    } else if (seconds >= length) {
      this.pause();
      return this.show(0);
    } else this.show(seconds);
    this.handle = this.ticker.next(this.tick);
  };

  private show(seconds: number): void {
    const span = this.pictures.length > 1 ? this.pictures[this.pictures.length - 1]! - this.pictures[0]! : 0;
    const rate = span > 0 ? (1000 * (this.pictures.length - 1)) / span : null;
    this.store.setState(({ playback }) => ({
      ...this.playable?.at(seconds),
      playback: { ...playback, seconds, rate: playback.playing ? rate : null },
    }));
  }

  private set(change: Partial<Playback>): void {
    this.store.setState(({ playback }) => ({ playback: { ...playback, ...change } }));
  }
}

const players = new WeakMap<SessionStore, Player>();
/** The clock of a desk. */
export function playerOf(store: SessionStore): Player {
  const known = players.get(store) ?? new Player(store);
  players.set(store, known);
  return known;
}

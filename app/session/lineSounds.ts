import { linesOf } from "~core/trials/spokenLines";
import { endOf } from "~core/trials/trial";
import type { SessionStore } from "./session";
import { soundBuffer, soundContext } from "./speech";

/** A sound that has run off from the clock by more than this is set right, seconds. */
const OFF = 0.08;
/** A sound begins so much later than it is asked for: it is not heard as late, and never cut, seconds. */
const EDGE = 0.004;

interface Sounding {
  readonly source: AudioBufferSourceNode;
  readonly gain: GainNode;
  /** Where in the sound it began, when on the sound's clock, and how quick. */
  readonly from: number;
  readonly began: number;
  readonly rate: number;
}

/**
 * Lets the lines of the trial on the ruler be heard while it plays: in step with the clock, at its speed, silent when
 * it stands. @returns ends it.
 */
export function hearLines(store: SessionStore): () => void {
  const sounds = new LineSounds(store);
  const unsubscribe = store.subscribe((now, before) => {
    if (now.playback !== before.playback || now.trial !== before.trial) sounds.follow();
  });
  return () => {
    unsubscribe();
    sounds.end();
  };
}

/** Where in its sound a line should be. */
interface Wanted {
  readonly at: number;
  readonly rate: number;
  readonly share: number;
  readonly hash: string;
}

class LineSounds {
  private readonly playing = new Map<string, Sounding>();
  private ended = false;

  constructor(private readonly store: SessionStore) {}

  /** Starts what should be heard now, stops what should not, and sets right what has run off. */
  follow(): void {
    const { trial } = this.store.getState();
    const lines = trial ? linesOf(trial) : [];
    for (const id of [...this.playing.keys()]) if (!lines.some((p) => p.id === id)) this.stop(id);
    for (const { id } of lines) {
      const wanted = this.wantedOf(id);
      const now = this.playing.get(id);
      if (wanted && now && isInStep(now, wanted)) continue;
      this.stop(id);
      if (wanted) void this.start(id, wanted.hash);
    }
  }

  end(): void {
    this.ended = true;
    for (const id of [...this.playing.keys()]) this.stop(id);
  }

  private stop(id: string): void {
    const now = this.playing.get(id);
    if (!now) return;
    this.playing.delete(id);
    try {
      now.source.stop();
    } catch {
      // it has ended by itself
    }
    now.gain.disconnect();
  }

  private async start(id: string, hash: string): Promise<void> {
    const context = soundContext();
    const buffer = await soundBuffer(hash);
    if (!context || !buffer || this.ended || this.playing.has(id)) return;
    if (context.state === "suspended") await context.resume().catch(() => {});
    const wanted = this.wantedOf(id);
    if (!wanted || wanted.at >= buffer.duration || this.playing.has(id)) return;
    const source = context.createBufferSource();
    const gain = context.createGain();
    source.buffer = buffer;
    source.playbackRate.value = wanted.rate;
    gain.gain.value = wanted.share;
    source.connect(gain).connect(context.destination);
    source.start(context.currentTime + EDGE, Math.max(0, wanted.at));
    this.playing.set(id, { source, gain, from: wanted.at, began: context.currentTime + EDGE, rate: wanted.rate });
  }

  /** Null where a line should be silent. */
  private wantedOf(id: string): Wanted | null {
    const { trial, playback } = this.store.getState();
    if (!trial || !playback.playing || playback.of !== "trial") return null;
    const piece = linesOf(trial).find((p) => p.id === id);
    const { seconds } = playback;
    if (!piece?.sound || !piece.on || piece.share <= 0 || seconds < piece.start || seconds >= endOf(piece)) return null;
    const rate = piece.speed * playback.speed;
    return { at: piece.from + (seconds - piece.start) * piece.speed, rate, share: piece.share, hash: piece.sound };
  }
}

function isInStep(now: Sounding, wanted: Wanted): boolean {
  const heard = now.from + (soundContext()!.currentTime - now.began) * now.rate;
  return now.rate === wanted.rate && Math.abs(heard - wanted.at) < OFF * wanted.rate;
}

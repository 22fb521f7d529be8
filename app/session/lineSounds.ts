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
  const playing = new Map<string, Sounding>();
  let ended = false;
  const stop = (id: string): void => {
    const now = playing.get(id);
    if (!now) return;
    playing.delete(id);
    try {
      now.source.stop();
    } catch {
      // it has ended by itself
    }
    now.gain.disconnect();
  };
  const start = async (id: string, hash: string): Promise<void> => {
    const context = soundContext();
    const buffer = await soundBuffer(hash);
    if (!context || !buffer || ended || playing.has(id)) return;
    if (context.state === "suspended") await context.resume().catch(() => {});
    const wanted = placeOf(id);
    if (!wanted || wanted.at >= buffer.duration || playing.has(id)) return;
    const source = context.createBufferSource();
    const gain = context.createGain();
    source.buffer = buffer;
    source.playbackRate.value = wanted.rate;
    gain.gain.value = wanted.share;
    source.connect(gain).connect(context.destination);
    source.start(context.currentTime + EDGE, Math.max(0, wanted.at));
    playing.set(id, { source, gain, from: wanted.at, began: context.currentTime + EDGE, rate: wanted.rate });
  };
  /** Where in its sound a line should be now; null where it should be silent. */
  const placeOf = (id: string): { at: number; rate: number; share: number; hash: string } | null => {
    const { trial, playback } = store.getState();
    if (!trial || !playback.playing || playback.of !== "trial") return null;
    const piece = linesOf(trial).find((p) => p.id === id);
    const { seconds } = playback;
    if (!piece?.sound || !piece.on || piece.share <= 0 || seconds < piece.start || seconds >= endOf(piece)) return null;
    const rate = piece.speed * playback.speed;
    return { at: piece.from + (seconds - piece.start) * piece.speed, rate, share: piece.share, hash: piece.sound };
  };
  const follow = (): void => {
    const { trial } = store.getState();
    const lines = trial ? linesOf(trial) : [];
    for (const id of [...playing.keys()]) if (!lines.some((p) => p.id === id)) stop(id);
    for (const { id } of lines) {
      const wanted = placeOf(id);
      const now = playing.get(id);
      if (!wanted) stop(id);
      else if (now) {
        const heard = now.from + (soundContext()!.currentTime - now.began) * now.rate;
        if (now.rate === wanted.rate && Math.abs(heard - wanted.at) < OFF * wanted.rate) continue;
        stop(id);
        void start(id, wanted.hash);
      } else void start(id, wanted.hash);
    }
  };
  const unsubscribe = store.subscribe((now, before) => {
    if (now.playback !== before.playback || now.trial !== before.trial) follow();
  });
  return () => {
    ended = true;
    unsubscribe();
    for (const id of [...playing.keys()]) stop(id);
  };
}

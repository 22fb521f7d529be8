import { valueAt } from "~core/trials/keyCurve";
import { LANES, lengthOf, shareAt, trialSeconds, type Trial } from "~core/trials/trial";

export interface FaceAmount {
  /** Seconds of the ruler and the sum of all weights then. */
  readonly amounts: readonly (readonly [number, number])[];
  /** Where the amount peaks, with the shape that is strongest there. */
  readonly peaks: readonly { readonly at: number; readonly value: number; readonly shape: string }[];
}

/** Moments at which the amount is read. */
const SAMPLES = 240;
/** A peak lower than this is not named. */
const LEAST = 0.15;

/** How much the keys of a trial move the face; null where none does. */
export function faceAmount(trial: Trial): FaceAmount | null {
  const pieces = LANES.flatMap((l) => trial.lanes[l]).flatMap((p) =>
    p.kind === "keys" && Object.keys(p.keys.shapes).length && lengthOf(p) > 0 ? [p] : [],
  );
  if (pieces.length === 0) return null;
  const seconds = trialSeconds(trial);
  const read = (t: number): { sum: number; strongest: string } => {
    let [sum, most, strongest] = [0, 0, ""];
    for (const p of pieces) {
      const share = shareAt(p, t);
      if (share <= 0) continue;
      for (const [shape, curve] of Object.entries(p.keys.shapes)) {
        const w = share * Math.abs(valueAt(curve, 1, p.from + (t - p.start) * p.speed)[0]!);
        sum += w;
        if (w > most) [most, strongest] = [w, shape];
      }
    }
    return { sum, strongest };
  };
  const all = Array.from({ length: SAMPLES + 1 }, (_, i) => {
    const t = (seconds * i) / SAMPLES;
    return { t, ...read(t) };
  });
  const peaks = all.filter(
    (p, i) => p.sum > LEAST && p.sum >= (all[i - 1]?.sum ?? 0) && p.sum > (all[i + 1]?.sum ?? 0),
  );
  return {
    amounts: all.map(({ t, sum }) => [t, sum] as const),
    peaks: peaks.slice(0, 24).map(({ t, sum, strongest }) => ({ at: t, value: sum, shape: strongest })),
  };
}

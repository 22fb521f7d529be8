import { sampleWeight } from "~core/evaluate/sampleTrack";
import type { Character } from "~core/model/character";
import { shownLine } from "~core/trials/spokenLines";
import { valueAt } from "~core/trials/keyCurve";
import { channelsOfTake, facePlayer } from "~core/trials/takeMoment";
import { LANES } from "~core/trials/lanes";
import { lengthOf, shareAt, trialSeconds, type Piece, type TakePiece, type Trial } from "~core/trials/trial";
import { faceAt } from "~core/tracking/recordedFace";

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

interface FacePiece {
  readonly piece: Piece;
  readonly weights: readonly { readonly shape: string; readonly at: (seconds: number) => number }[];
}

/** Weights that a piece plays, by shape. */
function weightsOf(piece: Piece, character: Character, trial: Trial): FacePiece["weights"] {
  if (piece.kind === "line")
    return (shownLine(character, trial, piece)?.curves ?? []).map((w) => ({
      shape: w.shape,
      at: (t) => sampleWeight(w, t),
    }));
  if (piece.kind === "keys")
    return Object.entries(piece.keys.shapes).map(([shape, curve]) => ({ shape, at: (t) => valueAt(curve, 1, t)[0]! }));
  if (piece.kind === "take") return weightsOfTake(character, piece);
  const clip = character.clips.find((c) => c.name === piece.clip);
  return (clip?.weights ?? []).map((w) => ({ shape: w.shape, at: (t) => sampleWeight(w, t) }));
}

function weightsOfTake(character: Character, { map, face }: TakePiece): FacePiece["weights"] {
  const { mapper } = facePlayer(character, map, channelsOfTake(face));
  const known = new Map<number, Float64Array>();
  const weights = (t: number): Float64Array => {
    const found = known.get(t) ?? mapper.weights(faceAt(face, t).values).slice();
    known.set(t, found);
    return found;
  };
  return mapper.shapes.map((shape, s) => ({ shape, at: (t) => weights(t)[s]! }));
}

/** How much keys, clips, takes and lines of a trial move the face; null where none does. */
export function faceAmount(trial: Trial, character: Character): FaceAmount | null {
  const pieces = LANES.flatMap((l) => trial.lanes[l]).flatMap((piece): FacePiece[] => {
    const weights = lengthOf(piece) > 0 ? weightsOf(piece, character, trial) : [];
    return weights.length ? [{ piece, weights }] : [];
  });
  if (pieces.length === 0) return null;
  const seconds = trialSeconds(trial);
  const read = (t: number): { sum: number; strongest: string } => {
    let [sum, most, strongest] = [0, 0, ""];
    for (const { piece: p, weights } of pieces) {
      const share = shareAt(p, t);
      if (share <= 0) continue;
      for (const { shape, at } of weights) {
        const w = share * Math.abs(at(p.from + (t - p.start) * p.speed));
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

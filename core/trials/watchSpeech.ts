import type { Character } from "../model/character";
import type { SpeechScore } from "../speech/scoreLine";
import { speakPiece } from "./speakTrial";
import { linesOf, onRuler } from "./spokenLines";
import { trialFrames, type LinePiece, type Trial } from "./trial";
import { timesOver, type FrameExcess, type FrameReading } from "./watchFrame";

/** What of a score is beyond its limit, as the other measures of a frame say it. */
const excessOf = (piece: LinePiece, s: SpeechScore): FrameExcess => ({
  check: s.check,
  // lips that miss a closure are seen by everybody; the rest is for the ear and eye to judge
  severity: s.check === "speech.closure" || s.check === "speech.contact" ? "error" : "warn",
  value: s.value,
  unit: s.unit,
  limit: s.limit,
  part: null,
  joint: null,
  shape: null,
  ...(s.check === "speech.closure" || s.check === "speech.opening" ? { atLeast: true } : {}),
  place: s.phone ? `${s.phone} at ${s.at.toFixed(2)} s of ${piece.name}` : piece.name,
});

/** Sounds of a trial's lines that are not met, at the frames where they are heard. */
export function watchSpeech(character: Character, trial: Trial): FrameReading[] {
  const frames = trialFrames(trial);
  const byFrame = new Map<number, FrameExcess[]>();
  for (const piece of linesOf(trial).filter((p) => p.on && p.share > 0))
    for (const s of speakPiece(character, trial, piece).scores) {
      if (s.met || s.at < piece.from || s.at > piece.to) continue;
      const frame = Math.min(frames - 1, Math.max(0, Math.round(onRuler(piece, s.at) * trial.fps)));
      byFrame.set(frame, [...(byFrame.get(frame) ?? []), excessOf(piece, s)]);
    }
  return [...byFrame].map(([frame, over]) => ({
    frame,
    worst: over.reduce((m, o) => Math.max(m, timesOver(o)), 0),
    over,
  }));
}

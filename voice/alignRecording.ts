import { UserError } from "../core/model/userError";
import { withLoudness } from "../core/speech/loudness";
import type { Phone, SpokenLine } from "../core/speech/phones";
import { warp, warpedTime, type Features, type Warp } from "../core/speech/warp";
import { featuresOf, HOP } from "./features";
import type { VoiceName } from "./flite";
import { readWav } from "./readWav";
import { sayLine, type OwnWords } from "./sayLine";

export interface AlignedLine {
  readonly line: SpokenLine;
  readonly notes: readonly string[];
  /** How well the recording fits its text: 1 is no better than the text read backwards, lower is nearer. */
  readonly distance: number;
}

/** Voices that a recording is laid on; one that it was made with itself would prove nothing. */
const AGAINST: readonly VoiceName[] = ["alto", "bass"];
/** A recording at this distance says something else than its text (read off ten lines by three voices; our own). */
export const DOES_NOT_FIT = 0.93;
/** Shortest phone that is left after borders were laid over, seconds. */
const SHORTEST = 0.01;

/**
 * Finds the phones of a text in a recording of it: the text is spoken by the synthesiser, and the recording is laid on
 * that by the likeness of its sounds; borders are the mean over its voices.
 * @throws UserError for a text that says nothing, or a recording shorter than its text can be said.
 */
export async function alignRecording(
  wav: Uint8Array,
  file: string,
  text: string,
  own: OwnWords = {},
  against: readonly VoiceName[] = AGAINST,
): Promise<AlignedLine> {
  const sound = readWav(wav, file);
  const seconds = sound.samples.length / sound.rate;
  const heard = featuresOf(sound);
  const laid: {
    readonly line: SpokenLine;
    readonly notes: readonly string[];
    readonly warp: Warp;
    distance: number;
  }[] = [];
  for (const voice of against) {
    const said = await sayLine(text, voice, 1, own);
    if (seconds < 0.25 * said.line.seconds || seconds > 6 * said.line.seconds + 5)
      throw new UserError(
        `It lasts ${seconds.toFixed(1)} s; its text takes about ${said.line.seconds.toFixed(1)} s.`,
        file,
        "Check that this is the recording of this text.",
      );
    const model = featuresOf(said.sound);
    const backwards = warp(coarse(model, true), coarse(heard)).distance;
    laid.push({ ...said, warp: warp(model, heard), distance: warp(coarse(model), coarse(heard)).distance / backwards });
  }
  const first = laid[0]!;
  // voices may differ in a phone or two: those that say as many are averaged
  const alike = laid.filter(({ line }) => line.phones.length === first.line.phones.length);
  const ends = first.line.phones.map(
    (_, i) => alike.reduce((sum, l) => sum + warpedTime(l.warp, l.line.phones[i]!.to, HOP), 0) / alike.length,
  );
  ends[ends.length - 1] = seconds;
  const phones = inOrder(first.line.phones, ends);
  const line: SpokenLine = {
    seconds: Math.round(10_000 * seconds) / 10_000,
    words: first.line.words.map((w) => {
      const own = phones.filter((_, i) => {
        const p = first.line.phones[i]!;
        return (p.from + p.to) / 2 > w.from && (p.from + p.to) / 2 < w.to;
      });
      return own.length ? { ...w, from: own[0]!.from, to: own[own.length - 1]!.to } : w;
    }),
    phones: withLoudness(phones, sound),
  };
  const distance = laid.reduce((sum, l) => sum + l.distance, 0) / laid.length;
  const notes = [...first.notes];
  if (distance >= DOES_NOT_FIT)
    notes.unshift(
      `The recording does not sound like its text (distance ${distance.toFixed(2)} of 1; ` +
        `under ${DOES_NOT_FIT} fits): its borders cannot be trusted.`,
    );
  return { line, notes, distance };
}

/** Frames that are passed over where only a distance is asked for. */
const COARSE = 2;
/** Some frames; backwards turns their slopes, too. */
function coarse({ values, width }: Features, backwards = false): Features {
  const count = Math.max(1, Math.floor(values.length / width / COARSE));
  const out = new Float32Array(count * width);
  for (let i = 0; i < count; i++)
    for (let c = 0; c < width; c++)
      out[i * width + c] =
        values[COARSE * (backwards ? count - 1 - i : i) * width + c]! * (backwards && c >= width / 2 ? -1 : 1);
  return { width, values: out };
}

/** Phones that end where they were found, none shorter than can be. */
function inOrder(phones: readonly Phone[], ends: readonly number[]): Phone[] {
  const last = ends[ends.length - 1]!;
  let t = 0;
  return phones.map((p, i) => {
    const left = (phones.length - 1 - i) * SHORTEST;
    const to = Math.round(10_000 * Math.min(last - left, Math.max(t + SHORTEST, ends[i]!))) / 10_000;
    const out = { ...p, from: t, to };
    t = to;
    return out;
  });
}

import wavefile from "wavefile";
import { UserError } from "../core/model/userError";
import type { Sound } from "../core/speech/sound";

/** Longest recording, seconds. */
const MOST_SECONDS = 600;

/**
 * A RIFF WAVE file of 8, 16, 24, 32 bit or float samples, any rate, its channels mixed to one (Microsoft/IBM,
 * "Multimedia Programming Interface and Data Specifications 1.0", RIFF WAVE).
 * @throws UserError for what is no WAV, holds nothing, is compressed or too long.
 */
export function readWav(bytes: Uint8Array, file: string): Sound {
  const kind = new TextDecoder("latin1").decode(bytes.subarray(0, 12));
  if (!/^(RIFF|RIFX|RF64)....WAVE/s.test(kind))
    throw new UserError("This is not a WAV file.", file, "Save the recording as WAV (PCM).");
  const wav = new wavefile.WaveFile();
  try {
    wav.fromBuffer(bytes);
  } catch {
    throw new UserError("The WAV file is broken or cut short.", file, "Export it once more.");
  }
  const format = wav.fmt as { audioFormat: number; numChannels: number; sampleRate: number; bitsPerSample: number };
  const { numChannels: channels, sampleRate: rate, bitsPerSample: bits } = format;
  if (![1, 3, 65534].includes(format.audioFormat))
    throw new UserError("Its samples are compressed.", file, "Save the recording as plain WAV (PCM).");
  if (!(channels >= 1 && channels <= 64 && rate >= 4000 && rate <= 768_000))
    throw new UserError(`It says ${channels} channels at ${rate} Hz.`, file, "Save it with one channel at 48 000 Hz.");
  const all = wav.getSamples(true, Float64Array) as unknown as Float64Array;
  const count = Math.floor(all.length / channels);
  if (count === 0) throw new UserError("There is no sound in it.", file, "Record the line once more.");
  if (count > MOST_SECONDS * rate)
    throw new UserError(
      `It lasts ${Math.round(count / rate)} s; up to ${MOST_SECONDS} s are read.`,
      file,
      "Cut it into lines.",
    );
  const float = format.audioFormat === 3 || (bits === 64 && format.audioFormat === 65534);
  const full = float ? 1 : 2 ** (bits - 1);
  // 8 bit samples stand about 128
  const zero = bits === 8 ? 128 : 0;
  const samples = new Float32Array(count);
  for (let i = 0; i < count; i++) {
    let sum = 0;
    for (let c = 0; c < channels; c++) sum += all[i * channels + c]! - zero;
    samples[i] = sum / (channels * full);
  }
  return { rate, samples };
}

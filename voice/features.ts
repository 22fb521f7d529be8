import FFT from "fft.js";
import type { Features } from "../core/speech/warp";
import { atRate, type Sound } from "../core/speech/sound";

const RATE = 16_000;
const WINDOW = 512;
/** Seconds between frames. */
export const HOP = 0.01;
const BANDS = 26;
const COUNT = 13;
/** Frames either side over which a slope is read. */
const SLOPE = 2;

const mel = (hz: number): number => 1125 * Math.log(1 + hz / 700);
const hertz = (m: number): number => 700 * (Math.exp(m / 1125) - 1);

/** Triangles over the spectrum, evenly spread in mel from 0 to half the rate; each band's own bins. */
const BANK = Array.from({ length: BANDS }, (_, b) => {
  const bin = (k: number): number => Math.floor(((WINDOW + 1) * hertz((mel(RATE / 2) * k) / (BANDS + 1))) / RATE);
  const [low, top, high] = [bin(b), bin(b + 1), bin(b + 2)];
  const weights = Float64Array.from({ length: high - low + 1 }, (_, i) => {
    const k = low + i;
    if (k <= top) return top > low ? (k - low) / (top - low) : 1;
    return high > top ? (high - k) / (high - top) : 0;
  });
  return { low, weights };
});
const HAMMING = Float64Array.from(
  { length: WINDOW },
  (_, i) => 0.54 - 0.46 * Math.cos((2 * Math.PI * i) / (WINDOW - 1)),
);
const COSINES = Float64Array.from({ length: COUNT * BANDS }, (_, i) =>
  Math.cos((Math.PI * Math.floor(i / BANDS) * ((i % BANDS) + 0.5)) / BANDS),
);

/**
 * Mel-frequency cepstra of a frame (Davis & Mermelstein 1980): logarithms of the energy in bands that are even in mel,
 * turned by a cosine transform. @param frame 512 samples. @returns 13 numbers.
 */
export function cepstrum(frame: ArrayLike<number>, fft = new FFT(WINDOW)): Float64Array {
  const windowed = new Float64Array(WINDOW);
  for (let i = 0; i < WINDOW; i++) windowed[i] = HAMMING[i]! * frame[i]!;
  const spectrum = fft.createComplexArray();
  fft.realTransform(spectrum, windowed);
  const power = new Float64Array(WINDOW / 2 + 1);
  for (let k = 0; k < power.length; k++) power[k] = spectrum[2 * k]! ** 2 + spectrum[2 * k + 1]! ** 2;
  const out = new Float64Array(COUNT);
  BANK.forEach(({ low, weights }, b) => {
    let sum = 1;
    for (let i = 0; i < weights.length; i++) sum += weights[i]! * (power[low + i] ?? 0);
    const log = Math.log(sum);
    for (let c = 0; c < COUNT; c++) out[c]! += log * COSINES[c * BANDS + b]!;
  });
  return out;
}

/**
 * Cepstra of a sound and their slopes, every 10 ms, each brought to mean 0 and spread 1 over the line, so that voices
 * and microphones count for less than what is said.
 */
export function featuresOf(sound: Sound): Features {
  const samples = atRate(sound, RATE);
  const step = Math.round(HOP * RATE);
  const frames = Math.max(1, Math.floor(samples.length / step));
  const fft = new FFT(WINDOW);
  const cepstra = new Float32Array(frames * COUNT);
  const window = new Float64Array(WINDOW);
  for (let f = 0; f < frames; f++) {
    const first = f * step + (step >> 1) - (WINDOW >> 1);
    // samples as 16 bit numbers, the highs raised; the 1 under the logarithm is then small
    for (let i = 0; i < WINDOW; i++)
      window[i] = 32768 * ((samples[first + i] ?? 0) - 0.97 * (samples[first + i - 1] ?? 0));
    cepstra.set(cepstrum(window, fft), f * COUNT);
  }
  const width = 2 * COUNT;
  const values = new Float32Array(frames * width);
  const clamp = (f: number): number => Math.min(frames - 1, Math.max(0, f));
  for (let f = 0; f < frames; f++)
    for (let c = 0; c < COUNT; c++) {
      values[f * width + c] = cepstra[f * COUNT + c]!;
      let [slope, weight] = [0, 0];
      for (let d = 1; d <= SLOPE; d++) {
        slope += d * (cepstra[clamp(f + d) * COUNT + c]! - cepstra[clamp(f - d) * COUNT + c]!);
        weight += 2 * d * d;
      }
      values[f * width + COUNT + c] = slope / weight;
    }
  for (let c = 0; c < width; c++) {
    let [sum, square] = [0, 0];
    for (let f = 0; f < frames; f++) {
      sum += values[f * width + c]!;
      square += values[f * width + c]! ** 2;
    }
    const mean = sum / frames;
    const spread = Math.sqrt(Math.max(1e-9, square / frames - mean * mean));
    for (let f = 0; f < frames; f++) values[f * width + c] = (values[f * width + c]! - mean) / spread;
  }
  return { width, values };
}

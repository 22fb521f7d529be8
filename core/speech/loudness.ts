import type { Sound } from "./sound";
import { isVowel, type Phone } from "./phones";

/** Quieter than this is silence, dB under full scale. */
const FLOOR = -70;

/** Root mean square of a stretch of sound, dB under full scale. Seconds. */
export function levelOf({ rate, samples }: Sound, from: number, to: number): number {
  const [a, b] = [Math.max(0, Math.floor(from * rate)), Math.min(samples.length, Math.ceil(to * rate))];
  let sum = 0;
  for (let i = a; i < b; i++) sum += samples[i]! * samples[i]!;
  return b > a && sum > 0 ? Math.max(FLOOR, 10 * Math.log10(sum / (b - a))) : FLOOR;
}

/** Phones with how loud each vowel is against the mean of the line's vowels. */
export function withLoudness(phones: readonly Phone[], sound: Sound): Phone[] {
  const levels = phones.map((p) => (isVowel(p.phone) ? levelOf(sound, p.from, p.to) : null));
  const known = levels.filter((l): l is number => l !== null);
  if (known.length === 0) return phones.slice();
  const mean = known.reduce((a, b) => a + b, 0) / known.length;
  return phones.map((p, i) => (levels[i] === null ? p : { ...p, loud: Math.round(10 * (levels[i]! - mean)) / 10 }));
}

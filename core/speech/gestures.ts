import { motionPose, jointMotions } from "../skeleton/jointMotions";
import { humanoidMap } from "../skeleton/humanoidMap";
import type { Character, WeightTrack } from "../model/character";
import { randomFrom } from "../math/random";
import type { Vec3 } from "../math/vec3";
import { shapeMeaning, shutsEye } from "../names/shapeMeaning";
import type { Manner } from "./manner";
import { isVowel, SILENCE, type Phone, type SpokenLine } from "./phones";
import { smoothStep } from "../math/smoothStep";

/** Angles of one joint by time: degrees x, y, z, three a key. */
export interface HeadTurn {
  readonly joint: string;
  readonly times: readonly number[];
  readonly angles: readonly number[];
}
/** What goes with speech beside the mouth: eyes that blink, brows and head that go with stressed words. */
export interface Gestures {
  readonly curves: readonly WeightTrack[];
  readonly head: readonly HeadTurn[] | null;
}

/** Times of a blink, seconds: shut, held, opened (common practice, no source). */
const [SHUTS, HELD, OPENS] = [0.08, 0.04, 0.16];
/** Between blinks, seconds (people blink 15 to 20 times a minute while they speak: common practice, no source). */
const [LEAST_BETWEEN, MOST_BETWEEN] = [2, 5];
/** Brows and head rise before a stressed vowel and fall after it, seconds. */
const [RISES, FALLS] = [0.14, 0.3];
/** Of the whole amount: weight of the brows, degrees of a nod and of the slow turns between. */
const [BROWS, NOD, TURN] = [0.6, 5, 5];
/** Accents nearer than this to each other are one, seconds. */
const APART = 0.45;

/** Blinks, brows and head of a line; the same for the same seed. */
export function gesturesOf(character: Character, line: SpokenLine, manner: Manner): Gestures {
  const random = randomFrom(1000 + manner.seed);
  const accents = accentsOf(line);
  const curves: WeightTrack[] = [];
  if (manner.blinks) {
    const times = blinkTimes(line, random);
    const keys = times.flatMap((t) => [
      [t, 0],
      [t + SHUTS, 1],
      [t + SHUTS + HELD, 1],
      [t + SHUTS + HELD + OPENS, 0],
    ]) as [number, number][];
    for (const shape of lidShapes(character)) curves.push(trackOf(shape, keys));
  }
  const pulse = (height: number): [number, number][] =>
    accents.flatMap(({ at, strength }) => [
      [at - RISES, 0],
      [at, height * strength],
      [at + FALLS, 0],
    ]) as [number, number][];
  if (manner.brows > 0)
    for (const shape of browShapes(character)) curves.push(trackOf(shape, pulse(BROWS * manner.brows)));
  return {
    curves,
    head: manner.head > 0 ? headTurns(character, line, pulse(NOD * manner.head), manner.head, random) : null,
  };
}

const trackOf = (shape: string, keys: readonly (readonly [number, number])[]): WeightTrack => {
  const sound = inOrder(keys);
  return {
    shape,
    interpolation: "LINEAR",
    times: Float32Array.from(sound, (k) => k[0]),
    values: Float32Array.from(sound, (k) => k[1]),
  };
};
/** Keys in order of time, none before the line begins; of two that cross, the later waits. */
function inOrder(keys: readonly (readonly [number, number])[]): (readonly [number, number])[] {
  const out: (readonly [number, number])[] = [[0, keys[0] && keys[0][0] < 0 ? keys[0][1] : 0]];
  for (const [t, v] of keys) if (t > out[out.length - 1]![0] + 1e-3) out.push([t, v]);
  return out;
}

/** Stressed vowels that stand out, not too near to each other: the louder wins. */
function accentsOf({ phones }: SpokenLine): { at: number; strength: number }[] {
  const out: { at: number; strength: number; loud: number }[] = [];
  for (const p of phones) {
    if (!isVowel(p.phone) || p.stress !== 1) continue;
    const loud = p.loud ?? 0;
    const found = { at: (p.from + p.to) / 2, strength: Math.min(1, Math.max(0.3, 0.7 + loud / 10)), loud };
    const last = out[out.length - 1];
    if (!last || found.at - last.at >= APART) out.push(found);
    else if (loud > last.loud) out[out.length - 1] = found;
  }
  return out;
}

/** At the end of a phrase, and now and then; never two within two seconds. */
function blinkTimes({ phones, seconds }: SpokenLine, random: () => number): number[] {
  const pauses = phones
    .filter((p: Phone) => p.phone === SILENCE && p.from > 0 && p.to - p.from > 0.05)
    .map((p) => p.from);
  const out: number[] = [];
  let next = 0.3 + 0.7 * random();
  for (let t = 0; t < seconds; t += 0.02) {
    const last = out[out.length - 1] ?? -LEAST_BETWEEN;
    const pause = pauses.some((p) => Math.abs(p - t) < 0.01);
    if (t - last < LEAST_BETWEEN || !(pause || t >= next)) continue;
    if (t + SHUTS + HELD + OPENS > seconds) break;
    out.push(t);
    next = t + LEAST_BETWEEN + (MOST_BETWEEN - LEAST_BETWEEN) * random();
  }
  return out;
}

/** Shapes that shut the eyes, one a side or one for both; unit 45 before others. */
function lidShapes({ shapes }: Character): string[] {
  const lids = (["left", "right"] as const).flatMap((side) => {
    const found = shapes.filter((s) => shutsEye(shapeMeaning(s.name), side)).map((s) => s.name);
    const blink = found.find((n) => {
      const m = shapeMeaning(n);
      return m?.system === "unit" && m.unit === 45;
    });
    return blink ?? found[0] ?? [];
  });
  return [...new Set(lids)];
}
/** Inner and outer brow raisers. */
const browShapes = ({ shapes }: Character): string[] =>
  shapes.flatMap((s) => {
    const m = shapeMeaning(s.name);
    return m?.system === "unit" && (m.unit === 1 || m.unit === 2) ? [s.name] : [];
  });

/** Nods with the accents on the head, slow turns on the neck. */
function headTurns(
  character: Character,
  { seconds }: SpokenLine,
  nods: readonly (readonly [number, number])[],
  amount: number,
  random: () => number,
): HeadTurn[] {
  const { skeleton, jointMap } = character;
  if (!skeleton) return [];
  const motions = jointMotions(skeleton, humanoidMap(skeleton, jointMap));
  const of = (bone: string, name: string) => motions.find((m) => m.bone === bone && m.name === name);
  const nod = of("head", "nod");
  const turn = of("neck", "turn") ?? of("head", "turn");
  const slow: [number, number][] = [[0, 0]];
  for (let t = 0.8; t < seconds - 0.5; t += 0.9 + 0.8 * random()) slow.push([t, TURN * amount * (2 * random() - 1)]);
  slow.push([Math.max(seconds, slow[slow.length - 1]![0] + 0.3), 0]);
  const track = (motion: typeof nod, keys: readonly (readonly [number, number])[]): HeadTurn[] => {
    if (!motion) return [];
    const sound = inOrder(keys);
    const angles = sound.flatMap(([, deg]) => motionPose(motion, deg)[motion.joint] as unknown as number[]);
    return [{ joint: motion.joint, times: sound.map((k) => k[0]), angles }];
  };
  return [...track(nod, nods), ...(turn?.joint === nod?.joint ? [] : track(turn, slow))];
}

/** Angles of the head's joints at a time, on a smooth way between the keys. */
export function headAt(head: readonly HeadTurn[], seconds: number): Record<string, Vec3> {
  return Object.fromEntries(
    head.map(({ joint, times, angles }) => {
      let k = 0;
      while (k < times.length - 2 && times[k + 1]! <= seconds) k++;
      const span = (times[k + 1] ?? times[k]!) - times[k]!;
      const s = span > 0 ? smoothStep((seconds - times[k]!) / span) : 0;
      const at = (c: number): number =>
        (1 - s) * angles[3 * k + c]! + s * (angles[3 * Math.min(k + 1, times.length - 1) + c] ?? 0);
      return [joint, [at(0), at(1), at(2)] as const];
    }),
  );
}

import { z } from "zod";
import { keysNeeded } from "../math/keysNeeded";
import { MOST_CHANNELS } from "./frame";
import { RANGE_DEGREES } from "./steadyFace";
import { lostStretches, secondsOf, type Take } from "./take";

const times = z.array(z.number().min(0).max(3600)).min(1).max(120_000);
const keyed = z
  .object({ times, values: z.array(z.number().min(-1000).max(1000)).max(360_000) })
  .refine(({ times }) => times.every((t, i) => i === 0 || t > times[i - 1]!), "keys must stand in order of time");
/** A steadied face as a few keys a channel, drawn straight from one to the next. Times in seconds, turns in degrees. */
export const recordedFaceSchema = z
  .object({
    seconds: z.number().min(0).max(3600),
    rate: z.number().positive().max(1000),
    /** Most that the keys may be off what was recorded, of a channel's 1. */
    tolerance: z.number().min(0).max(1),
    channels: z.array(z.object({ channel: z.string().min(1).max(120) }).and(keyed)).max(MOST_CHANNELS),
    head: keyed.nullable().default(null),
    gaze: keyed.nullable().default(null),
    /** Stretches in which the face was lost: from, to. */
    lost: z
      .array(z.tuple([z.number(), z.number()]))
      .max(10_000)
      .default([]),
  })
  .refine(
    ({ channels, head, gaze }) =>
      channels.every((c) => c.values.length === c.times.length) &&
      (!head || head.values.length === 3 * head.times.length) &&
      (!gaze || gaze.values.length === 2 * gaze.times.length),
    "not as many values as its keys need",
  );
export type RecordedFace = z.infer<typeof recordedFaceSchema>;
type Keyed = z.infer<typeof keyed>;

/** Most that keys may be off by, unless said otherwise. */
export const TOLERANCE = 0.005;
const round = (v: number): number => Math.round(1e5 * v) / 1e5;

/** Keys of one channel or turn within a tolerance; rounding is part of it. */
function keysOf(
  at: Float64Array,
  values: Float32Array,
  tolerance: number,
  width: number,
  take: number,
  stride: number,
): Keyed {
  const own = new Float64Array(at.length * width);
  for (let f = 0; f < at.length; f++)
    for (let c = 0; c < width; c++) own[f * width + c] = round(values[f * stride + take + c]!);
  const kept = keysNeeded(at, own, Math.max(0, tolerance - 2e-5), width);
  const keys = Array.from(kept);
  return {
    times: keys.map((k) => at[k]!),
    values: keys.flatMap((k) => Array.from(own.subarray(k * width, (k + 1) * width))),
  };
}

/** A steadied take as keys. @param take in which nothing is NaN. @param raw as it came: where the face was lost. */
export function recordFace(take: Take, raw: Take = take, tolerance = TOLERANCE): RecordedFace {
  const at = take.times.map((t) => Math.round(1e5 * t) / 1e5);
  const width = take.channels.length;
  const degrees = tolerance * RANGE_DEGREES;
  return {
    seconds: round(secondsOf(take)),
    rate: take.rate,
    tolerance,
    channels: take.channels.map((channel, c) => ({ channel, ...keysOf(at, take.values, tolerance, 1, c, width) })),
    head: take.head && keysOf(at, take.head, degrees, 3, 0, 3),
    gaze: take.gaze && keysOf(at, take.gaze, degrees, 2, 0, 2),
    lost: lostStretches(raw).map(([a, b]) => [round(a), round(b)]),
  };
}

/** How many keys a recorded face has. */
export const keysIn = ({ channels, head, gaze }: RecordedFace): number =>
  channels.reduce((n, c) => n + c.times.length, (head?.times.length ?? 0) + (gaze?.times.length ?? 0));

/** Values of keys at a time, straight between them. */
function at({ times, values }: Keyed, seconds: number, width: number, out: Float64Array, to = 0): void {
  let [low, high] = [0, times.length - 1];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (times[middle]! <= seconds) low = middle;
    else high = middle - 1;
  }
  const next = Math.min(low + 1, times.length - 1);
  const long = times[next]! - times[low]!;
  const t = long > 0 ? Math.min(1, Math.max(0, (seconds - times[low]!) / long)) : 0;
  for (let c = 0; c < width; c++)
    out[to + c] = values[low * width + c]! + t * (values[next * width + c]! - values[low * width + c]!);
}

export interface FaceAt {
  readonly values: Float64Array;
  readonly head: Float64Array | null;
  readonly gaze: Float64Array | null;
}
/** A recorded face at a time: one number a channel, and its turns. */
export function faceAt(face: RecordedFace, seconds: number): FaceAt {
  const values = new Float64Array(face.channels.length);
  face.channels.forEach((c, i) => at(c, seconds, 1, values, i));
  const turn = (keys: Keyed | null, width: number): Float64Array | null => {
    if (!keys) return null;
    const out = new Float64Array(width);
    at(keys, seconds, width, out);
    return out;
  };
  return { values, head: turn(face.head, 3), gaze: turn(face.gaze, 2) };
}

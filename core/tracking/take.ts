import type { Frame, Hello } from "./frame";

/** A recorded face: what was measured, frame by frame, in the sender's own words. */
export interface Take {
  readonly name: string;
  readonly source: string;
  /** Frames a second, as told or as found. */
  readonly rate: number;
  readonly channels: readonly string[];
  /** Seconds from its first frame, in order. */
  readonly times: Float64Array;
  /** frames x channels; NaN throughout a frame in which the face was lost. */
  readonly values: Float32Array;
  /** frames x 3, degrees: pitch (down positive), yaw (to the left positive), roll; null where it was not measured. */
  readonly head: Float32Array | null;
  /** frames x 2, degrees: yaw (to the left positive), pitch (down positive); null where it was not measured. */
  readonly gaze: Float32Array | null;
}

export const framesOf = ({ times }: Take): number => times.length;
export const secondsOf = ({ times, rate }: Take): number => (times.length ? times[times.length - 1]! + 1 / rate : 0);

/** Whether the face was lost in a frame. */
export const isLost = ({ values, channels }: Take, frame: number): boolean =>
  channels.length > 0 && Number.isNaN(values[frame * channels.length]!);

/** Frames in which the face was seen. */
export const seenFrames = (take: Take): number[] =>
  Array.from({ length: framesOf(take) }, (_, f) => f).filter((f) => !isLost(take, f));

/** Stretches in which the face was lost, or no frame came, seconds. */
export function lostStretches(take: Take): (readonly [number, number])[] {
  const { times, rate } = take;
  const out: [number, number][] = [];
  const add = (from: number, to: number): void => {
    const last = out[out.length - 1];
    if (last && from <= last[1] + 0.5 / rate) last[1] = Math.max(last[1], to);
    else out.push([from, to]);
  };
  for (let f = 0; f < times.length; f++) {
    const next = times[f + 1] ?? times[f]! + 1 / rate;
    if (isLost(take, f)) add(times[f]!, next);
    else if (next - times[f]! > GAP / rate) add(times[f]! + 1 / rate, next);
  }
  return out;
}
/** A hole in the times of more than so many frames is one in which nothing came. */
export const GAP = 2.5;

/** Frames as they came, as a take: in order of their time, none twice. @returns null where nothing came. */
export function takeOfFrames(hello: Hello, frames: readonly Frame[]): Take | null {
  const width = hello.channels.length;
  const byTime = [...frames].sort((a, b) => a.time - b.time || a.index - b.index);
  const ordered = byTime.filter((f, i) => i === 0 || f.time > byTime[i - 1]!.time);
  if (ordered.length === 0) return null;
  const first = ordered[0]!.time;
  const values = new Float32Array(ordered.length * width).fill(NaN);
  const angles = (key: "head" | "gaze", count: number): Float32Array | null => {
    if (!ordered.some((f) => f[key])) return null;
    const out = new Float32Array(ordered.length * count);
    ordered.forEach((f, i) => f[key] && out.set(f[key], i * count));
    return out;
  };
  ordered.forEach((f, i) => f.values && values.set(f.values.slice(0, width), i * width));
  return {
    name: hello.take || "take",
    source: hello.source,
    rate: hello.rate,
    channels: hello.channels,
    times: Float64Array.from(ordered, (f) => f.time - first),
    values,
    head: angles("head", 3),
    gaze: angles("gaze", 2),
  };
}

/** The part of a take between two times, its first frame at 0. */
export function cutTake(take: Take, from: number, to: number): Take {
  const first = take.times.findIndex((t) => t >= from - 1e-9);
  const after = take.times.findIndex((t) => t > to + 1e-9);
  const [a, b] = [first < 0 ? take.times.length : first, after < 0 ? take.times.length : after];
  const width = take.channels.length;
  return {
    ...take,
    times: take.times.slice(a, b).map((t) => t - (take.times[a] ?? 0)),
    values: take.values.slice(a * width, b * width),
    head: take.head?.slice(3 * a, 3 * b) ?? null,
    gaze: take.gaze?.slice(2 * a, 2 * b) ?? null,
  };
}

/** Columns of the head and the gaze in a table of a take. */
export const HEAD_COLUMNS = ["head_pitch", "head_yaw", "head_roll"] as const;
export const GAZE_COLUMNS = ["gaze_yaw", "gaze_pitch"] as const;

const cell = (text: string): string => (/[",\n\r]/.test(text) ? `"${text.replace(/"/g, '""')}"` : text);
const number = (v: number): string => (Number.isNaN(v) ? "" : String(Number(v.toFixed(4))));

/** A take as CSV: one row a frame, empty cells where the face was lost. */
export function takeTable(take: Take): string {
  const { channels, times, values, head, gaze } = take;
  const width = channels.length;
  const heading = ["seconds", ...channels, ...(head ? HEAD_COLUMNS : []), ...(gaze ? GAZE_COLUMNS : [])];
  const rows = Array.from(times, (t, f) =>
    [
      t,
      ...values.subarray(f * width, (f + 1) * width),
      ...(head?.subarray(3 * f, 3 * f + 3) ?? []),
      ...(gaze?.subarray(2 * f, 2 * f + 2) ?? []),
    ]
      .map(number)
      .join(","),
  );
  return `${heading.map(cell).join(",")}\n${rows.join("\n")}\n`;
}

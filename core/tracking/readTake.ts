import Papa from "papaparse";
import { decodeText } from "../formats/decodeText";
import { parseJsonText } from "../model/parseJsonText";
import { schemaFault } from "../model/schemaWords";
import { shortName, UserError } from "../model/userError";
import { splitWords } from "../names/nameWords";
import { endSchema, frameSchema, helloSchema, MOST_CHANNELS, type Frame } from "./frame";
import { takeOfFrames, type Take } from "./take";

/** A take as it was read, and what was found and set right on the way. */
export interface ReadTake {
  readonly take: Take;
  readonly notes: readonly string[];
}

/** Frames of a take at most: half an hour at 60 a second, and numbers in all. */
const MOST_FRAMES = 108_000;
const MOST_NUMBERS = 20_000_000;
/** Of tables without times, frames a second. */
const ASSUMED_RATE = 30;

/** A take of a CSV or JSON file with any names of columns. @throws UserError for one that cannot be read. */
export const readTake = (bytes: Uint8Array, file: string): ReadTake =>
  /\.json$/i.test(file) ? takeOfJson(decodeText(bytes), file) : takeOfTable(decodeText(bytes), file);

const bare = (file: string): string => file.replace(/^.*[\\/]/, "").replace(/\.[^.]*$/, "") || "take";

/** What a column holds. */
type Column =
  | { readonly is: "time"; readonly each: number }
  | { readonly is: "frame" }
  | { readonly is: "head" | "gaze"; readonly at: number; readonly each: number }
  | { readonly is: "channel" };

const ANGLE: Readonly<Record<string, number>> = {
  pitch: 0,
  nod: 0,
  x: 0,
  rx: 0,
  yaw: 1,
  turn: 1,
  y: 1,
  ry: 1,
  roll: 2,
  tilt: 2,
  z: 2,
  rz: 2,
};
const DEGREES = 180 / Math.PI;

const TIME = new Set(["time", "timestamp", "timecode", "seconds", "second", "sec", "milliseconds", "ms", "t"]);
/** Words that may stand beside one of time: "time code (s)", "elapsed time in seconds". */
const BESIDE_TIME = new Set(["code", "stamp", "s", "in", "elapsed", "frame"]);

/** What a column holds, by the words of its name. */
function columnOf(name: string): Column {
  const words = splitWords(name);
  const has = (...any: readonly string[]): boolean => any.some((w) => words.includes(w));
  if (words.every((w) => TIME.has(w) || BESIDE_TIME.has(w)) && words.some((w) => TIME.has(w)))
    return { is: "time", each: has("milliseconds", "ms") ? 1e-3 : 1 };
  if (words.length <= 2 && has("frame", "index") && !has("rate")) return { is: "frame" };
  const axis = words.map((w) => ANGLE[w]).find((a) => a !== undefined);
  const each = has("rad", "radians") ? DEGREES : 1;
  if (axis !== undefined && has("head")) return { is: "head", at: axis, each };
  // gaze holds yaw first, then pitch; eyes do not roll
  if (axis !== undefined && axis < 2 && has("gaze", "look") && !has("left", "right", "l", "r"))
    return { is: "gaze", at: 1 - axis, each };
  return { is: "channel" };
}

/** Hours, minutes, seconds and frames or parts of a second: 01:02:03:14, 01:02:03.5. */
const CLOCK = /^(\d{1,2}):(\d{2}):(\d{2})(?:[:;](\d{1,3}(?:\.\d+)?)|([.,]\d+))?$/;
function secondsOfCell(cell: string, frameRate: number): number {
  const m = CLOCK.exec(cell);
  if (!m) return cell.trim() === "" ? NaN : Number(cell.replace(",", "."));
  const whole = 3600 * Number(m[1]) + 60 * Number(m[2]) + Number(m[3]);
  return whole + (m[4] ? Number(m[4]) / frameRate : 0) + (m[5] ? Number(m[5].replace(",", ".")) : 0);
}
/** Frames a second that a column of clock times counts in: the least usual rate above its highest frame. */
function clockRate(cells: readonly string[]): number {
  const most = cells.reduce((m, c) => Math.max(m, Number(CLOCK.exec(c)?.[4] ?? 0)), 0);
  return [24, 25, 30, 50, 60].find((r) => most < r) ?? 1000;
}

function takeOfTable(text: string, file: string): ReadTake {
  const parsed = Papa.parse<string[]>(text.trim(), { skipEmptyLines: "greedy" });
  const rows = parsed.data;
  const names = (rows[0] ?? []).map((n) => n.trim());
  if (rows.length < 2 || names.length < 2)
    throw new UserError(
      "It holds no rows of numbers under a heading.",
      file,
      "Write the names of the channels in the first row, then one row a frame, with a column of seconds.",
    );
  if (names.every((n) => n !== "" && Number.isFinite(Number(n))))
    throw new UserError("Its first row holds numbers, no names.", file, "Write the names of the channels there.");
  const columns = names.map(columnOf);
  const body = rows.slice(1);
  within(body.length, names.length, file);
  const notes: string[] = [];
  const kept = channelColumns(names, columns, body, file, notes);
  const { times, rate } = timesOf(body, columns, file, notes);
  const frames = body.map((row, index): Frame => {
    const values = kept.map(({ c }) => numberOf(row[c]));
    return {
      type: "frame",
      index,
      time: times[index]!,
      // a row with nothing in it is a frame in which the face was lost
      values: values.some(Number.isFinite) ? values : null,
      head: anglesIn(row, columns, "head", 3) as Frame["head"],
      gaze: anglesIn(row, columns, "gaze", 2) as Frame["gaze"],
    };
  });
  const channels = kept.map((k) => k.name);
  return finished(frames, channels, rate, bare(file), "a table", file, notes);
}

/** Columns that are channels of the face, each name once. @throws UserError when there are none or too many. */
function channelColumns(
  names: readonly string[],
  columns: readonly Column[],
  body: readonly (readonly string[])[],
  file: string,
  notes: string[],
): { readonly name: string; readonly c: number }[] {
  const own = names.flatMap((name, c) =>
    columns[c]!.is === "channel" && name ? [{ name, c, numeric: holdsNumbers(body, c) }] : [],
  );
  const words = own.filter((o) => !o.numeric).map((o) => o.name);
  if (words.length) notes.push(`Columns without numbers are left out: ${listed(words)}.`);
  const channels = own.filter((o) => o.numeric);
  const twice = channels.filter(({ name }, i) => channels.findIndex((o) => o.name === name) < i);
  if (twice.length) notes.push(`Columns that come twice are read once: ${listed(twice.map((t) => t.name))}.`);
  const kept = channels.filter((ch) => !twice.includes(ch));
  if (kept.length === 0)
    throw new UserError("None of its columns is a channel with numbers.", file, "Give it a column for each movement.");
  if (kept.length > MOST_CHANNELS)
    throw new UserError(`It has ${kept.length} channels; up to ${MOST_CHANNELS} are read.`, file, "Cut some columns.");
  return kept;
}

/** Angles of head or gaze in a row, degrees; null where it has none. */
function anglesIn(
  row: readonly string[],
  columns: readonly Column[],
  is: "head" | "gaze",
  count: number,
): number[] | null {
  const out = new Array<number>(count).fill(0);
  let any = false;
  columns.forEach((col, c) => {
    if (col.is !== is) return;
    const v = numberOf(row[c]);
    any ||= Number.isFinite(v);
    out[col.at] = Number.isFinite(v) ? col.each * v : 0;
  });
  return any ? out : null;
}

const numberOf = (cell: string | undefined): number =>
  cell === undefined || cell.trim() === "" ? NaN : Number(cell.trim().replace(",", "."));
/** Whether a column holds numbers; one that is empty throughout is a channel that never came. */
const holdsNumbers = (rows: readonly (readonly string[])[], c: number): boolean =>
  rows.every((r) => (r[c] ?? "").trim() === "" || Number.isFinite(numberOf(r[c])));
const listed = (names: readonly string[]): string =>
  `${names.slice(0, 5).map(shortName).join(", ")}${names.length > 5 ? ` and ${names.length - 5} more` : ""}`;

function within(frames: number, width: number, file: string): void {
  if (frames > MOST_FRAMES || frames * width > MOST_NUMBERS)
    throw new UserError(
      `It has ${frames} frames of ${width} columns; up to ${MOST_FRAMES} frames are read.`,
      file,
      "Cut it into takes of some minutes.",
    );
}

function timesOf(
  rows: readonly (readonly string[])[],
  columns: readonly Column[],
  file: string,
  notes: string[],
): { readonly times: number[]; readonly rate: number } {
  const c = columns.findIndex((col) => col.is === "time");
  if (c >= 0) {
    const cells = rows.map((r) => (r[c] ?? "").trim());
    const frames = clockRate(cells);
    const { each } = columns[c] as { each: number };
    const times = cells.map((cell) => each * secondsOfCell(cell, frames));
    const wrong = times.findIndex((t) => !Number.isFinite(t));
    if (wrong >= 0)
      throw new UserError(
        `Row ${wrong + 2} has no time: "${shortName(cells[wrong]!)}".`,
        file,
        "Write seconds, or hours:minutes:seconds:frames, in every row.",
      );
    return { times, rate: rateOf(times) };
  }
  notes.push(`It has no column of times: ${ASSUMED_RATE} frames a second are assumed.`);
  const f = columns.findIndex((col) => col.is === "frame");
  const numbers = rows.map((r, i) => (f >= 0 ? numberOf(r[f]) : i));
  return { times: numbers.map((n, i) => (Number.isFinite(n) ? n : i) / ASSUMED_RATE), rate: ASSUMED_RATE };
}

/** Frames a second by the middle of the steps between times. */
function rateOf(times: readonly number[]): number {
  const sorted = [...times].sort((a, b) => a - b);
  const steps = sorted
    .slice(1)
    .map((t, i) => t - sorted[i]!)
    .filter((d) => d > 1e-6)
    .sort((a, b) => a - b);
  const step = steps[steps.length >> 1] ?? 1 / ASSUMED_RATE;
  const rate = 1 / step;
  return Math.abs(rate - Math.round(rate)) < 0.04 * rate ? Math.max(1, Math.round(rate)) : rate;
}

const documentSchema = helloSchema
  .pick({ channels: true })
  .extend({ hello: helloSchema.partial().optional() })
  .partial()
  .loose();

function takeOfJson(text: string, file: string): ReadTake {
  const json = parseJsonText(text, file, "This is not JSON.", "Bring a take as CSV or JSON (docs/formats.md).");
  const list = Array.isArray(json) ? (json as unknown[]) : framesIn(json);
  if (!list || list.length === 0)
    throw new UserError(
      "It holds no frames.",
      file,
      "Write a list of frames, or hello and frames as the tracking protocol sends them (docs/formats.md).",
    );
  const document = documentSchema.safeParse(json);
  const first = list.find((m) => (m as { type?: unknown } | null)?.type === "hello");
  const hello = helloSchema
    .partial()
    .safeParse(first ?? (document.success ? (document.data.hello ?? json) : undefined) ?? {});
  const channels = hello.success ? hello.data.channels : undefined;
  const frames = list.filter((m) => m !== first && !endSchema.safeParse(m).success);
  within(frames.length, channels?.length ?? 1, file);
  if (channels) {
    const read = frames.map((m, i): Frame => {
      const frame = frameSchema.safeParse({ type: "frame", index: i, ...(m as object) });
      if (!frame.success) {
        const { what, where } = schemaFault(frame.error);
        throw new UserError(`Frame ${i} does not fit: ${what}.`, `${file}, ${where}`, "See docs/formats.md.");
      }
      if (frame.data.values && frame.data.values.length !== channels.length)
        throw new UserError(
          `Frame ${i} has ${frame.data.values.length} values for ${channels.length} channels.`,
          file,
          "Write the values in the order of the channels.",
        );
      return frame.data;
    });
    const { rate, take, source } = hello.success ? hello.data : {};
    const found = rate ?? rateOf(read.map((f) => f.time));
    return finished(read, channels, found, take || bare(file), source ?? "a file", file, []);
  }
  // frames as objects by name: the same as a table
  if (frames.some((f) => typeof f !== "object" || f === null || Array.isArray(f)))
    throw new UserError("Its frames are not objects.", file, "Write each frame as an object of names and numbers.");
  const names = [...new Set(frames.flatMap((f) => Object.keys(f as object)))];
  within(frames.length, names.length, file);
  const table = [names, ...frames.map((f) => names.map((n) => cellOf((f as Record<string, unknown>)[n])))];
  return takeOfTable(Papa.unparse(table), file);
}
const cellOf = (v: unknown): string => (typeof v === "number" || typeof v === "string" ? String(v) : "");
function framesIn(json: unknown): readonly unknown[] | null {
  const frames = (json as { frames?: unknown } | null)?.frames;
  return Array.isArray(frames) ? (frames as unknown[]) : null;
}

/** Puts frames in order, brings other scales to 0..1 and says what was done. */
function finished(
  frames: readonly Frame[],
  channels: readonly string[],
  rate: number,
  name: string,
  source: string,
  file: string,
  notes: string[],
): ReadTake {
  const back = frames.filter((f, i) => i > 0 && f.time < frames[i - 1]!.time).length;
  if (back)
    notes.push(
      `${back} ${back === 1 ? "frame was" : "frames were"} out of order and put where ${back === 1 ? "it belongs" : "they belong"}.`,
    );
  const take = takeOfFrames(
    { type: "hello", version: 1, source, take: name, rate, seconds: 0, channels: [...channels] },
    frames,
  );
  if (!take || take.times.length < 2)
    throw new UserError("It holds fewer than two frames.", file, "Bring a longer take.");
  const doubled = frames.length - take.times.length;
  if (doubled)
    notes.push(
      `${doubled} ${doubled === 1 ? "frame has" : "frames have"} the time of another and ${doubled === 1 ? "is" : "are"} left out.`,
    );
  const held = filledCells(take);
  if (held) notes.push(`${held} empty ${held === 1 ? "cell keeps" : "cells keep"} the value before.`);
  if (!take.values.some(Number.isFinite))
    throw new UserError("The face is lost in every frame.", file, "Bring another take.");
  const scale = scaleOf(take.values);
  if (scale !== 1) {
    for (let i = 0; i < take.values.length; i++) take.values[i]! /= scale;
    notes.push(
      scale === 100 ? "Its values are percent and were divided by 100." : "Its values go to 5 and were divided by 5.",
    );
  }
  return { take, notes };
}

/** Cells that are empty in a frame that has others keep what was there before. @returns how many. */
function filledCells({ values, channels, times }: Take): number {
  const width = channels.length;
  const last = new Float32Array(width);
  let held = 0;
  for (let f = 0; f < times.length; f++) {
    const row = values.subarray(f * width, (f + 1) * width);
    if (row.every(Number.isNaN)) continue;
    for (let c = 0; c < width; c++) {
      if (Number.isNaN(row[c]!)) {
        held++;
        row[c] = last[c]!;
      }
      last[c] = row[c]!;
    }
  }
  return held;
}

/** What values are to be divided by: percent, or intensities from A to E (FACS) as 0 to 5. */
function scaleOf(values: Float32Array): number {
  const seen = values.filter(Number.isFinite).sort();
  const high = seen[Math.floor(0.999 * (seen.length - 1))] ?? 0;
  if (high > 6) return 100;
  return high > 1.6 ? 5 : 1;
}

import type { Character } from "../model/character";
import { readFaceName } from "../names/faceWords";
import { sideOfShapeName } from "../shapes/shapeSides";
import { uncovered, type ChannelMap } from "./channelMap";
import { linkWeight } from "./faceWeights";
import { framesOf, isLost, lostStretches, secondsOf, seenFrames, type Take } from "./take";

export const TRACKING_CHECKS = [
  "tracking.range",
  "tracking.jitter",
  "tracking.lag",
  "tracking.lost",
  "tracking.sides",
  "tracking.silent",
] as const;
export type TrackingCheck = (typeof TRACKING_CHECKS)[number];
export interface TrackingFinding {
  readonly check: TrackingCheck;
  readonly severity: "error" | "warn" | "note";
  readonly channel: string | null;
  readonly shape: string | null;
  readonly value: number;
  readonly unit: "ratio" | "ms" | "" | "channels" | "shapes";
  readonly limit: number;
  readonly message: string;
  /** What to do about it. */
  readonly todo: string;
}
/** One channel over a stretch of time. */
export interface ChannelReading {
  readonly channel: string;
  /** Least and most of what came. */
  readonly low: number;
  readonly high: number;
  /** Most that its shapes get, 0..1; 0 where it has none. */
  readonly used: number;
  /** Share of the time that its shapes stand at their limit. */
  readonly pinned: number;
  /** Spread while it is held, before and after steadying. */
  readonly noise: number;
  readonly steadyNoise: number;
}
export interface FaceReadings {
  readonly channels: readonly ChannelReading[];
  /** Noise of the worst channel while it is held, before and after steadying. */
  readonly noise: number;
  readonly steadyNoise: number;
  /** What steadying adds, ms; null while nothing moves. */
  readonly lagMs: number | null;
  /** Share of the time in which the face was lost. */
  readonly lost: number;
  readonly findings: readonly TrackingFinding[];
}

/** Limits (our own choice, but for noise and lag see docs/checks.md). */
export const MOST_NOISE = 0.01;
export const MOST_LAG_MS = 60;
const LEAST_USED = 0.2;
const PINNED = 0.1;
const SILENT = 0.05;
const MOST_LOST = 0.05;
/** A stretch over which noise is read, seconds. */
const WINDOW = 0.5;

/** Reads a take: what each channel uses of its range, how steady it is, what is lost, what stands out. */
export function readFace(raw: Take, steady: Take, map: ChannelMap, character: Character): FaceReadings {
  const width = raw.channels.length;
  const rows = new Map(map.channels.map((r) => [r.channel, r]));
  const seen = seenFrames(raw);
  const quiet = windowsOf(raw);
  const quietSteady = windowsOf(steady);
  const channels = raw.channels.map((channel, c): ChannelReading => {
    const row = rows.get(channel);
    let [low, high, used, pinned] = [Infinity, -Infinity, 0, 0];
    for (const f of seen) {
      const v = raw.values[f * width + c]!;
      low = Math.min(low, v);
      high = Math.max(high, v);
      if (!row?.shapes.length) continue;
      let most = 0;
      let stands = false;
      for (const link of row.shapes) {
        const w = linkWeight(link, v - row.neutral);
        most = Math.max(most, w);
        stands ||= w >= link.high - 1e-6;
      }
      used = Math.max(used, most);
      if (stands) pinned++;
    }
    return {
      channel,
      low,
      high,
      used,
      pinned: seen.length ? pinned / seen.length : 0,
      noise: noiseOf(raw, c, quiet),
      steadyNoise: noiseOf(steady, c, quietSteady),
    };
  });
  const worst = (key: "noise" | "steadyNoise"): number => channels.reduce((m, c) => Math.max(m, c[key]), 0);
  const lostFor = lostStretches(raw).reduce((sum, [a, b]) => sum + b - a, 0);
  const readings = {
    channels,
    noise: worst("noise"),
    steadyNoise: worst("steadyNoise"),
    lagMs: lagOf(raw, steady),
    lost: secondsOf(raw) > 0 ? Math.min(1, lostFor / secondsOf(raw)) : 0,
  };
  return { ...readings, findings: findingsOf(readings, raw, map, character) };
}

/** Stretches of frames in which the face was seen throughout. */
function windowsOf(take: Take): (readonly [from: number, to: number])[] {
  const long = Math.max(6, Math.round(WINDOW * take.rate));
  const out: [number, number][] = [];
  for (let f = 0; f + long <= framesOf(take); f += long >> 1) {
    let whole = true;
    for (let k = f; k < f + long; k++) whole &&= !isLost(take, k);
    if (whole) out.push([f, f + long]);
  }
  return out;
}

/** Spread of a channel about its straight way in the quieter of the stretches: what is left while it is held. */
function noiseOf({ values, channels }: Take, c: number, windows: readonly (readonly [number, number])[]): number {
  const width = channels.length;
  const spreads = windows.map(([from, to]) => {
    const n = to - from;
    let [sx, sy, sxx, sxy, syy] = [0, 0, 0, 0, 0];
    for (let k = 0; k < n; k++) {
      const y = values[(from + k) * width + c]!;
      sx += k;
      sy += y;
      sxx += k * k;
      sxy += k * y;
      syy += y * y;
    }
    const [vx, vxy, vy] = [sxx - (sx * sx) / n, sxy - (sx * sy) / n, syy - (sy * sy) / n];
    return Math.sqrt(Math.max(0, vy - (vxy * vxy) / vx) / (n - 2));
  });
  spreads.sort((a, b) => a - b);
  return spreads[spreads.length >> 2] ?? 0;
}

/**
 * How late the steadied face is: the shift that explains best what it is behind, over all channels (least squares of
 * raw - steady against the speed of the steadied value). Null where too little moves to tell.
 */
function lagOf(raw: Take, steady: Take): number | null {
  const width = raw.channels.length;
  // frames that were filled in are in the steadied take only
  const at = new Map(Array.from(raw.times, (t, f) => [t, f] as const));
  let [above, below] = [0, 0];
  for (let s = 1; s + 1 < framesOf(steady); s++) {
    const f = at.get(steady.times[s]!);
    if (f === undefined || isLost(raw, f)) continue;
    const dt = steady.times[s + 1]! - steady.times[s - 1]!;
    if (dt <= 0 || dt > 0.2) continue;
    for (let c = 0; c < width; c++) {
      const speed = (steady.values[(s + 1) * width + c]! - steady.values[(s - 1) * width + c]!) / dt;
      if (Math.abs(speed) < 0.5) continue;
      above += (raw.values[f * width + c]! - steady.values[s * width + c]!) * speed;
      below += speed * speed;
    }
  }
  return below > 2 ? Math.max(0, (1000 * above) / below) : null;
}

const percent = (v: number): string => `${Math.round(100 * v)} %`;

const RANK = { error: 0, warn: 1, note: 2 } as const;
const NONE = { channel: null, shape: null } as const;

function findingsOf(
  r: Omit<FaceReadings, "findings">,
  take: Take,
  map: ChannelMap,
  character: Character,
): TrackingFinding[] {
  const rows = new Map(map.channels.map((row) => [row.channel, row]));
  const [crossed, mirrored] = [crossedSides(map), mirroredGaze(take)];
  const still = r.channels.filter((c) => c.used <= SILENT && rows.get(c.channel)?.shapes.length);
  return [
    ...ofTake(r),
    ...r.channels.flatMap((c) => ofChannel(c, rows.get(c.channel)?.shapes[0]?.shape)),
    ...silentFinding(
      still.map((c) => c.channel),
      "channels",
      `${still.length === 1 ? "1 channel moves" : `${still.length} channels move`} nothing so far`,
      "Ask for those movements, or take the channels off.",
    ),
    // a sender that is mirrored, on a map that is too: that is the answer
    ...(crossed.length && mirrored.length ? [] : [...crossed, ...mirrored]),
    ...ofMap(character, map),
  ].sort((a, b) => RANK[a.severity] - RANK[b.severity]);
}

/** What the whole take suffers from: it shakes, it is late, the face is lost. */
function ofTake(r: Omit<FaceReadings, "findings">): TrackingFinding[] {
  const out: TrackingFinding[] = [];
  if (r.steadyNoise > MOST_NOISE) {
    const { channel } = r.channels.reduce((m, c) => (c.steadyNoise > m.steadyNoise ? c : m));
    out.push({
      check: "tracking.jitter",
      severity: "warn",
      channel,
      shape: null,
      value: r.steadyNoise,
      unit: "",
      limit: MOST_NOISE,
      message: `A held face shakes by ${r.steadyNoise.toFixed(3)} at ${channel}.`,
      todo: "Steady it more.",
    });
  }
  if (r.lagMs !== null && r.lagMs > MOST_LAG_MS)
    out.push({
      ...NONE,
      check: "tracking.lag",
      severity: "warn",
      value: r.lagMs,
      unit: "ms",
      limit: MOST_LAG_MS,
      message: `Steadying makes it ${Math.round(r.lagMs)} ms late.`,
      todo: "Let it be quicker, or steady it less.",
    });
  if (r.lost > MOST_LOST)
    out.push({
      ...NONE,
      check: "tracking.lost",
      severity: "warn",
      value: r.lost,
      unit: "ratio",
      limit: MOST_LOST,
      message: `The face is lost for ${percent(r.lost)} of the time.`,
      todo: "It holds, then eases to its neutral; record again with more light and the whole face in sight.",
    });
  return out;
}

/** Whether a channel stands at its limit or uses little of its range. @param shape the first it moves. */
function ofChannel({ channel, pinned, used }: ChannelReading, shape: string | undefined): TrackingFinding[] {
  if (shape === undefined) return [];
  const base = { check: "tracking.range", channel, shape, unit: "ratio" } as const;
  if (pinned > PINNED)
    return [
      {
        ...base,
        severity: "warn",
        value: pinned,
        limit: PINNED,
        message: `${channel} stands at its limit for ${percent(pinned)} of the time.`,
        todo: "Lower its gain, or capture its neutral.",
      },
    ];
  if (used <= SILENT || used >= LEAST_USED) return [];
  return [
    {
      ...base,
      severity: "note",
      value: used,
      limit: LEAST_USED,
      message: `${channel} uses ${percent(used)} of ${shape}.`,
      todo: "Capture its extreme, or raise its gain.",
    },
  ];
}

/** Channels without shapes and shapes without channels. */
function ofMap(character: Character, map: ChannelMap): TrackingFinding[] {
  const { unmapped, silent } = uncovered(character, map);
  return [
    ...silentFinding(
      unmapped,
      "channels",
      `${unmapped.length === 1 ? "1 channel moves" : `${unmapped.length} channels move`} no shape`,
      "Choose shapes for them, or leave them out.",
    ),
    ...silentFinding(
      silent,
      "shapes",
      `${silent.length === 1 ? "1 face shape has" : `${silent.length} face shapes have`} no channel`,
      "The tracker does not measure them; keys or speech can.",
    ),
  ];
}

/** One note on all of some names; none without any. */
function silentFinding(
  names: readonly string[],
  unit: "channels" | "shapes",
  what: string,
  todo: string,
): TrackingFinding[] {
  if (names.length === 0) return [];
  return [
    {
      check: "tracking.silent",
      severity: "note",
      channel: unit === "channels" ? names[0]! : null,
      shape: unit === "shapes" ? names[0]! : null,
      value: names.length,
      unit,
      limit: 0,
      message: `${what}: ${listed(names)}.`,
      todo,
    },
  ];
}

const listed = (names: readonly string[]): string =>
  `${names.slice(0, 4).join(", ")}${names.length > 4 ? ` and ${names.length - 4} more` : ""}`;

/** Channels of one side that move a shape of the other. */
function crossedSides(map: ChannelMap): TrackingFinding[] {
  const crossed = map.channels.flatMap((row) => {
    const side = readFaceName(row.channel).movements[0]?.side ?? null;
    const link = side && row.shapes.find((l) => sideOfShapeName(l.shape) !== null && sideOfShapeName(l.shape) !== side);
    return link ? [{ channel: row.channel, shape: link.shape }] : [];
  });
  if (crossed.length === 0) return [];
  return [
    {
      check: "tracking.sides",
      severity: "warn",
      channel: crossed[0]!.channel,
      shape: crossed[0]!.shape,
      value: crossed.length,
      unit: "channels",
      limit: 0,
      message: `${crossed.length} ${crossed.length === 1 ? "channel moves a shape" : "channels move shapes"} of the other side: ${crossed[0]!.channel} moves ${crossed[0]!.shape}.`,
      todo: "Exchange left and right, unless the face is to be a mirror.",
    },
  ];
}

/** Frames that must agree before sides are told to be exchanged. */
const AGREE = -0.5;
/** Channels that say where the eyes look, against the gaze itself: where they go the other way, sides are mirrored. */
function mirroredGaze(take: Take): TrackingFinding[] {
  if (!take.gaze) return [];
  const width = take.channels.length;
  const looks = take.channels.flatMap((channel, c) => {
    const unit = readFaceName(channel).movements[0]?.unit;
    return unit === 61 || unit === 62 ? [{ c, way: unit === 61 ? 1 : -1 }] : [];
  });
  if (looks.length < 2) return [];
  const [a, b]: [number[], number[]] = [[], []];
  for (let f = 0; f < framesOf(take); f++) {
    if (isLost(take, f)) continue;
    a.push(take.gaze[2 * f]!);
    b.push(looks.reduce((sum, { c, way }) => sum + way * take.values[f * width + c]!, 0));
  }
  const r = correlation(a, b);
  if (!(r < AGREE)) return [];
  return [
    {
      check: "tracking.sides",
      severity: "warn",
      channel: take.channels[looks[0]!.c]!,
      shape: null,
      value: r,
      unit: "ratio",
      limit: AGREE,
      message:
        `The eyes look one way and ${take.channels[looks[0]!.c]!} says the other: ` +
        "the sender's left and right are exchanged.",
      todo: "Exchange left and right.",
    },
  ];
}
function correlation(a: readonly number[], b: readonly number[]): number {
  const mean = (x: readonly number[]): number => x.reduce((s, v) => s + v, 0) / Math.max(1, x.length);
  const [ma, mb] = [mean(a), mean(b)];
  let [ab, aa, bb] = [0, 0, 0];
  a.forEach((v, i) => {
    ab += (v - ma) * (b[i]! - mb);
    aa += (v - ma) ** 2;
    bb += (b[i]! - mb) ** 2;
  });
  return aa > 1e-9 && bb > 1e-9 ? ab / Math.sqrt(aa * bb) : 0;
}

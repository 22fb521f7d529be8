import { PROTOCOL_VERSION, type Frame, type Hello } from "../../core/tracking/frame";
import { smoothstep } from "../modelling/blend";
import { repeatable } from "../modelling/repeatable";
import { alignLine, LINES, type Line } from "../lines/lines";

/** A generated recording of a made-up visitor-host's face. */
export interface Take {
  readonly hello: Hello;
  readonly frames: readonly Frame[];
  /** How late each frame's message is sent, seconds. */
  readonly delays: readonly number[];
}
interface TakeSpec {
  readonly id: string;
  readonly rate: 30 | 60;
  readonly seconds: number;
  /** Names of its channels, where they are others than action units. */
  readonly channels?: readonly string[];
  /** Standard deviation of the channels' noise; of one channel where it is another. */
  readonly noise: number;
  readonly noisier?: Readonly<Record<string, number>>;
  /** Stretches in which the face is lost, seconds. */
  readonly lost: readonly (readonly [from: number, to: number])[];
  /** One frame in so many is late by `late` seconds. */
  readonly lateEvery: number;
  readonly late: number;
  readonly signal: (t: number) => {
    values: Readonly<Record<string, number>>;
    head: readonly [number, number, number];
    gaze: readonly [number, number];
  };
}

const CHANNELS = [
  "AU1_left",
  "AU1_right",
  "AU2_left",
  "AU2_right",
  "AU4_left",
  "AU4_right",
  "AU6_left",
  "AU6_right",
  "AU12_left",
  "AU12_right",
  "AU18",
  "AU25",
  "AU26",
  "AU43_left",
  "AU43_right",
] as const;
/** The same things in other words, as another sender may call them. */
const OTHER_WORDS = [
  "inner raise of the brow (left)",
  "inner raise of the brow (right)",
  "brow lowerer (left)",
  "brow lowerer (right)",
  "L smile",
  "R smile",
  "left lid, closed",
  "right lid, closed",
  "jaw drop",
  "kiss of the lips",
  "chin raise",
  "blown cheeks",
  "look to the left",
  "look to the right",
] as const;
/** What is wrong with the take "pier rounds", and the channel that it is wrong with. */
export const PLANTED_IN_TAKE = [
  { check: "tracking.jitter", channel: "brow lowerer (left)" },
  { check: "tracking.range", channel: "chin raise" },
  { check: "tracking.silent", channel: "blown cheeks" },
  { check: "tracking.sides", channel: "look to the left" },
  { check: "tracking.lost", channel: null },
] as const;
const bump = (t: number, at: number, width: number): number =>
  smoothstep(at - width, at, t) * (1 - smoothstep(at, at + width, t));
const pair = (unit: string, left: number, right = left): Record<string, number> => ({
  [`${unit}_left`]: left,
  [`${unit}_right`]: right,
});
const blinks = (t: number, every: number): number => bump(t % every, every * 0.6, 0.12);

/** Jaw, parting and rounding of the phones of a line; lips shut for p, b, m. */
function talking(line: Line): (t: number) => Record<string, number> {
  const { phones } = alignLine(line);
  const shape = (phone: string): { jaw: number; part: number; round: number } => {
    const bare = phone.replace(/\d$/, "");
    if (["P", "B", "M"].includes(bare)) return { jaw: 0.05, part: 0, round: 0 };
    if (["UW", "OW", "W", "AO", "UH"].includes(bare)) return { jaw: 0.3, part: 0.3, round: 0.8 };
    if (["AA", "AE", "AH", "AY", "AW", "EH"].includes(bare)) return { jaw: 0.75, part: 0.6, round: 0 };
    return bare ? { jaw: 0.25, part: 0.45, round: 0 } : { jaw: 0, part: 0, round: 0 };
  };
  return (t) => {
    const soft = 0.05;
    let [jaw, part, round, total] = [0, 0, 0, 1e-6];
    for (const { from, to, text } of phones) {
      const share = smoothstep(from - soft, from + soft, t) * (1 - smoothstep(to - soft, to + soft, t));
      const s = shape(text);
      jaw += share * s.jaw;
      part += share * s.part;
      round += share * s.round;
      total += share;
    }
    return { AU26: jaw / total, AU25: part / total, AU18: round / total };
  };
}

const SPECS: readonly TakeSpec[] = [
  {
    id: "greeting",
    rate: 60,
    seconds: 5,
    noise: 0.006,
    lost: [],
    lateEvery: 40,
    late: 0.05,
    signal: (t) => ({
      values: {
        ...pair("AU12", 0.8 * smoothstep(0.4, 1, t) * (1 - smoothstep(3.6, 4.6, t))),
        ...pair("AU6", 0.5 * smoothstep(0.6, 1.2, t) * (1 - smoothstep(3.4, 4.4, t))),
        ...pair("AU43", blinks(t, 2.4)),
        ...pair("AU2", 0.6 * bump(t, 1.2, 0.5)),
      },
      head: [4 * bump(t, 1.4, 0.4), 10 * Math.sin(t), 2 * Math.sin(0.7 * t)],
      gaze: [-8 * Math.sin(t), -2],
    }),
  },
  {
    id: "announcement",
    rate: 60,
    seconds: 4,
    noise: 0.01,
    lost: [[2.1, 2.3]],
    lateEvery: 25,
    late: 0.08,
    signal: (t) => ({
      values: {
        ...talking(LINES[1]!)(t),
        ...pair("AU43", blinks(t, 1.9)),
        ...pair("AU1", 0.4 * bump(t, 2, 0.5)),
        ...pair("AU12", 0.15),
      },
      head: [3 * Math.sin(2 * t), 6 * Math.sin(0.9 * t), 0],
      gaze: [0, -3],
    }),
  },
  {
    id: "held still",
    rate: 30,
    seconds: 6,
    noise: 0.02,
    lost: [
      [1, 1.4],
      [4.2, 4.3],
    ],
    lateEvery: 12,
    late: 0.12,
    signal: (t) => ({
      values: { ...pair("AU4", 0.3, 0.28), AU26: 0.02, ...pair("AU43", blinks(t, 3.1)) },
      head: [2, -14, 1],
      gaze: [14, 0],
    }),
  },
  {
    id: "pier rounds",
    rate: 60,
    seconds: 6,
    channels: OTHER_WORDS,
    noise: 0.006,
    noisier: { "brow lowerer (left)": 0.08 },
    lost: [[3, 3.5]],
    lateEvery: 50,
    late: 0.04,
    signal: (t) => {
      const [smile, look] = [0.7 * bump(t, 1.5, 1), Math.sin(1.4 * t)];
      return {
        values: {
          "inner raise of the brow (left)": 0.5 * bump(t, 2.4, 0.6),
          "inner raise of the brow (right)": 0.5 * bump(t, 2.4, 0.6),
          "brow lowerer (left)": 0.4 * bump(t, 4.6, 0.8),
          "brow lowerer (right)": 0.4 * bump(t, 4.6, 0.8),
          "L smile": smile,
          "R smile": smile,
          "left lid, closed": blinks(t, 2.2),
          "right lid, closed": blinks(t, 2.2),
          "jaw drop": bump(t, 1, 0.4) + 0.6 * bump(t, 4, 0.3),
          "kiss of the lips": 0.6 * bump(t, 5.2, 0.5),
          // planted: a channel that is stuck at its end, one that never comes, and looks to the wrong side
          "chin raise": 1,
          "blown cheeks": 0,
          "look to the left": Math.max(0, -look),
          "look to the right": Math.max(0, look),
        },
        head: [3 * Math.sin(t), 12 * Math.sin(0.8 * t), 2 * Math.sin(0.6 * t)],
        gaze: [16 * look, -2],
      };
    },
  },
];

/** Noise close to normal, the same every time: the sum of three even numbers. */
function makeNoise(seed: number): () => number {
  const uniform = repeatable(seed);
  return () => (uniform() + uniform() + uniform() - 1.5) * 2;
}

function makeTake(spec: TakeSpec, index: number): Take {
  const { id, rate, seconds, noise, noisier, lost, lateEvery, late, signal, channels = CHANNELS } = spec;
  const next = makeNoise(1000 + index);
  const round = (x: number): number => Math.round(1e4 * x) / 1e4;
  const count = Math.round(seconds * rate);
  const frames = Array.from({ length: count }, (_, i): Frame => {
    const time = i / rate;
    const { values, head, gaze } = signal(time);
    const isLost = lost.some(([from, to]) => time >= from && time < to);
    const measured = channels.map((c) =>
      round(Math.min(1, Math.max(0, (values[c] ?? 0) + (noisier?.[c] ?? noise) * next()))),
    );
    return {
      type: "frame",
      index: i,
      time: round(time),
      values: isLost ? null : measured,
      head: head.map(round) as unknown as Frame["head"],
      gaze: gaze.map(round) as unknown as Frame["gaze"],
    };
  });
  const hello: Hello = {
    type: "hello",
    version: PROTOCOL_VERSION,
    source: "Slackwater tracker stand-in",
    take: id,
    rate,
    seconds,
    channels: [...channels],
    takes: SPECS.map((s) => s.id),
  };
  return { hello, frames, delays: frames.map((_, i) => (i % lateEvery === lateEvery - 1 ? late : 0)) };
}

/** Takes with noise, dropouts and late packets, the same every time. */
export const TAKES: readonly Take[] = SPECS.map(makeTake);

/** A take as CSV: one row a frame, empty cells where the face was lost. */
export function takeCsv({ hello, frames }: Take): string {
  const cell = (name: string): string => (name.includes(",") ? `"${name}"` : name);
  const rows = frames.map((f) =>
    [f.index, f.time, ...(f.values ?? hello.channels.map(() => "")), ...(f.head ?? []), ...(f.gaze ?? [])].join(","),
  );
  return `${["frame", "seconds", ...hello.channels.map(cell), "head_pitch", "head_yaw", "head_roll", "gaze_yaw", "gaze_pitch"].join(",")}\n${rows.join("\n")}\n`;
}

import type { Character } from "../model/character";
import { shapeMeaning } from "../names/shapeMeaning";
import { readFaceName } from "../names/faceWords";
import type { ChannelMap } from "./channelMap";
import { seenFrames, type Take } from "./take";

/** What a person is asked to do once, so that their face's whole range is known. */
export interface Extreme {
  readonly key: string;
  readonly says: string;
  /** Action units whose gains it sets. */
  readonly units: readonly number[];
}
export const EXTREMES: readonly Extreme[] = [
  { key: "brows up", says: "raise both brows", units: [1, 2, 5] },
  { key: "brows down", says: "knit the brows", units: [4] },
  { key: "eyes shut", says: "shut both eyes", units: [43] },
  { key: "smile", says: "smile widely", units: [6, 12] },
  { key: "jaw open", says: "open the jaw", units: [25, 26, 27] },
  { key: "pucker", says: "pucker the lips", units: [18, 22] },
];

/** A channel must move by so much over its neutral to set a gain; gains stay within these. Our own choice. */
const MOVES = 0.08;
const [LEAST_GAIN, MOST_GAIN] = [0.25, 8];

/** The middle value of each channel, and of head and gaze, where the face was seen; null where it never was. */
export function restOf(
  take: Take,
): {
  readonly values: Float64Array;
  readonly head: readonly [number, number, number];
  readonly gaze: readonly [number, number];
} | null {
  const seen = seenFrames(take);
  if (seen.length === 0) return null;
  const middle = (of: (f: number) => number): number => {
    const all = Float64Array.from(seen, of).sort();
    return all[all.length >> 1]!;
  };
  const width = take.channels.length;
  return {
    values: Float64Array.from({ length: width }, (_, c) => middle((f) => take.values[f * width + c]!)),
    head: [0, 1, 2].map((i) => (take.head ? middle((f) => take.head![3 * f + i]!) : 0)) as unknown as readonly [
      number,
      number,
      number,
    ],
    gaze: [0, 1].map((i) => (take.gaze ? middle((f) => take.gaze![2 * f + i]!) : 0)) as unknown as readonly [
      number,
      number,
    ],
  };
}

/** A map with what a face at rest shows taken off. @throws nothing; a take without a face leaves it as it is. */
export function withNeutral(map: ChannelMap, take: Take): ChannelMap {
  const rest = restOf(take);
  if (!rest) return map;
  const at = new Map(take.channels.map((c, i) => [c, rest.values[i]!]));
  const round = (v: number): number => Math.round(1e4 * v) / 1e4;
  return {
    ...map,
    channels: map.channels.map((r) => ({ ...r, neutral: round(at.get(r.channel) ?? r.neutral) })),
    turns: {
      ...map.turns,
      ...(take.head ? { headNeutral: rest.head.map(round) as [number, number, number] } : {}),
      ...(take.gaze ? { gazeNeutral: rest.gaze.map(round) as [number, number] } : {}),
    },
  };
}

const unitOf = (shape: string): number | undefined => {
  const m = shapeMeaning(shape);
  return m?.system === "unit" ? m.unit : readFaceName(shape).movements[0]?.unit;
};

/**
 * A map whose gains bring an extreme to a whole shape: for channels of its units, 1 by what they rose above their
 * neutral. @returns the map, and the channels that hardly moved.
 */
export function withExtreme(
  map: ChannelMap,
  take: Take,
  extreme: Extreme,
): { readonly map: ChannelMap; readonly still: readonly string[]; readonly set: readonly string[] } {
  const width = take.channels.length;
  const seen = seenFrames(take);
  const still: string[] = [];
  const set: string[] = [];
  const channels = map.channels.map((row) => {
    const c = take.channels.indexOf(row.channel);
    if (c < 0 || !row.shapes.some((l) => extreme.units.includes(unitOf(l.shape) ?? -1))) return row;
    let most = -Infinity;
    for (const f of seen) most = Math.max(most, take.values[f * width + c]!);
    const range = most - row.neutral;
    if (!(range >= MOVES)) {
      still.push(row.channel);
      return row;
    }
    set.push(row.channel);
    const gain = Math.round(1e3 * Math.min(MOST_GAIN, Math.max(LEAST_GAIN, 1 / range))) / 1e3;
    return {
      ...row,
      shapes: row.shapes.map((l) => ({
        ...l,
        gain: Math.sign(l.gain || 1) * gain * (isHalf(map, row.channel, l.shape) ? 0.5 : 1),
      })),
    };
  });
  return { map: { ...map, channels }, still, set };
}

/** Whether another channel shares the shape: each gives half of it then. */
const isHalf = (map: ChannelMap, channel: string, shape: string): boolean =>
  map.channels.some((r) => r.channel !== channel && r.shapes.some((l) => l.shape === shape));

/** Units a character has a shape of, for the row of extremes: those that nothing can move are not asked for. */
export const extremesOf = (character: Character): readonly Extreme[] => {
  const units = new Set(character.shapes.map((s) => unitOf(s.name)));
  return EXTREMES.filter((e) => e.units.some((u) => units.has(u)));
};

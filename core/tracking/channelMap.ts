import { z } from "zod";
import { isDriven, type Character } from "../model/character";
import { readFaceName, type FaceReading, type Movement } from "../names/faceWords";
import { shapeMeaning } from "../names/shapeMeaning";
import { splitWords } from "../names/nameWords";
import { MOST_CHANNELS } from "./frame";

/** How a channel drives a shape: offset + gain times what it is above its neutral, bent, held within limits. */
const linkSchema = z.object({
  shape: z.string().min(1).max(200),
  gain: z.number().min(-20).max(20).default(1),
  offset: z.number().min(-5).max(5).default(0),
  /** 1 is straight; above it small movements count for less, below it for more. */
  curve: z.number().min(0.2).max(5).default(1),
  low: z.number().min(-5).max(5).default(0),
  high: z.number().min(-5).max(5).default(1),
});
const rowSchema = z.object({
  channel: z.string().min(1).max(120),
  /** Its value in a face at rest. */
  neutral: z.number().min(-1000).max(1000).default(0),
  shapes: z.array(linkSchema).max(40).default([]),
  /** How its shapes were found: sure, likely, open, or by hand. */
  found: z.enum(["sure", "likely", "open", "hand"]).default("hand"),
});
/** Shares of the head's turn and the gaze. */
const turnsSchema = z.object({
  head: z.number().min(0).max(2).default(1),
  /** Share of the turn that the neck takes. */
  neck: z.number().min(0).max(1).default(0.4),
  gaze: z.number().min(0).max(2).default(1),
  /** What the head and the gaze show at rest, degrees: pitch, yaw, roll; yaw, pitch. */
  headNeutral: z.tuple([z.number(), z.number(), z.number()]).default([0, 0, 0]),
  gazeNeutral: z.tuple([z.number(), z.number()]).default([0, 0]),
});
export const channelMapSchema = z.object({
  version: z.literal(1).default(1),
  channels: z.array(rowSchema).max(MOST_CHANNELS),
  turns: turnsSchema.default(turnsSchema.parse({})),
});
export type ChannelMap = z.infer<typeof channelMapSchema>;
export type ChannelRow = ChannelMap["channels"][number];
export type ChannelLink = ChannelRow["shapes"][number];

/** Value of each channel in a face at rest; 0 where the map says nothing of it. */
export function neutralsOf(map: ChannelMap, channels: readonly string[]): Float64Array {
  const rows = new Map(map.channels.map((r) => [r.channel, r.neutral]));
  return Float64Array.from(channels, (c) => rows.get(c) ?? 0);
}

export const linkTo = (shape: string, gain = 1): ChannelLink => linkSchema.parse({ shape, gain });

/** Units that do what another does where that is missing: a blink shuts the eyes, puffed cheeks are blown. */
const INSTEAD: Readonly<Record<number, readonly number[]>> = {
  45: [43],
  46: [43],
  34: [33],
  33: [34],
  27: [26],
  26: [27],
};

interface FaceShape extends Movement {
  readonly shape: string;
}
interface FaceShapes {
  readonly known: readonly FaceShape[];
  readonly all: readonly string[];
}
const readOf = new WeakMap<Character, FaceShapes>();

/** Shapes that a face is moved by, each with what it does; those that others or joints drive are left out. */
export function faceShapes(character: Character): FaceShapes {
  const found = readOf.get(character) ?? readShapes(character);
  readOf.set(character, found);
  return found;
}

function readShapes(character: Character): FaceShapes {
  const free = character.shapes.filter((s) => !isDriven(character, s.name));
  const byNumber = free.flatMap((s): FaceShape[] => {
    const m = shapeMeaning(s.name);
    return m?.system === "unit" ? [{ shape: s.name, unit: m.unit, side: m.side }] : [];
  });
  const numbered = new Set(byNumber.map((s) => s.unit));
  const byWords = free.flatMap((s): FaceShape[] => {
    if (shapeMeaning(s.name)?.system === "unit") return [];
    const { movements } = readFaceName(s.name);
    return movements.length === 1 && !numbered.has(movements[0]!.unit) ? [{ shape: s.name, ...movements[0]! }] : [];
  });
  return { known: [...byNumber, ...byWords], all: free.map((s) => s.name) };
}

const key = (name: string): string => splitWords(name).sort().join(" ");

/**
 * Which shapes of a character each channel moves, by the words of their names: its side, place, movement or unit. A
 * shape that a surer channel has already is left to it; left and right of one shape share it.
 */
export function proposeMap(channels: readonly string[], character: Character): ChannelMap {
  const { known, all } = faceShapes(character);
  const readings = meant(channels);
  const sidedPairs = new Set(readings.flatMap((r) => r.movements.map((m) => `${m.unit} ${m.side}`)));
  const names = new Set(all);
  const byWords = new Map([...all].reverse().map((s) => [key(s), s]));
  const drafts = channels.map((channel, i) => {
    const same = names.has(channel) ? channel : byWords.get(key(channel));
    if (same) return { channel, links: [linkTo(same)], found: "sure" as const };
    const { movements, plain } = readings[i]!;
    const links = movements.flatMap((m) => linksOf(m, known, sidedPairs));
    return {
      channel,
      links,
      found: links.length === 0 ? ("open" as const) : plain ? ("sure" as const) : ("likely" as const),
    };
  });
  const taken = new Map<string, { readonly channel: string; readonly half: boolean }>();
  const order = [...drafts].sort((a, b) => RANK[a.found] - RANK[b.found]);
  const kept = new Map<string, { links: ChannelLink[]; found: "sure" | "likely" | "open" }>();
  for (const { channel, links, found } of order) {
    const own = links.filter((l) => {
      const other = taken.get(l.shape);
      return !other || (other.half && l.gain < 1);
    });
    for (const l of own) taken.set(l.shape, { channel, half: l.gain < 1 });
    kept.set(channel, { links: own, found: own.length ? found : "open" });
  }
  return channelMapSchema.parse({
    channels: channels.map((channel) => {
      const { links, found } = kept.get(channel)!;
      return { channel, shapes: links, found };
    }),
  });
}
const RANK = { sure: 0, likely: 1, open: 2 } as const;

/** What channels say, their sides taken for what they are: where all speak of one side only, it is none. */
function meant(channels: readonly string[]): readonly FaceReading[] {
  const readings = channels.map(readFaceName);
  const sides = readings.flatMap((r) => r.movements.map((m) => m.side));
  const [left, right] = (["left", "right"] as const).map((s) => sides.filter((x) => x === s).length) as [
    number,
    number,
  ];
  const oneSided = (left === 0 && right > 2) || (right === 0 && left > 2);
  if (!oneSided) return readings;
  return readings.map((r) => ({ ...r, movements: r.movements.map((m) => ({ ...m, side: null })) }));
}

function linksOf({ unit, side }: Movement, known: readonly FaceShape[], pairs: ReadonlySet<string>): ChannelLink[] {
  for (const u of [unit, ...(INSTEAD[unit] ?? [])]) {
    const of = known.filter((s) => s.unit === u);
    if (of.length === 0) continue;
    const exact = of.filter((s) => s.side === side);
    if (exact.length) return [linkTo(exact[0]!.shape)];
    if (side === null) return of.map((s) => linkTo(s.shape));
    const whole = of.find((s) => s.side === null);
    const other = side === "left" ? "right" : "left";
    if (whole) return [linkTo(whole.shape, pairs.has(`${unit} ${other}`) ? 0.5 : 1)];
  }
  return [];
}

/**
 * A map as it is on another character, or for other channels: what was set stays where its shapes are, the rest is
 * found by words, with the gains that it had.
 */
export function mapOn(character: Character, map: ChannelMap, channels: readonly string[]): ChannelMap {
  const here = new Set(character.shapes.map((s) => s.name));
  const known = new Map(map.channels.map((r) => [r.channel, r]));
  const fits = channels.every((c) => known.get(c)?.shapes.every((l) => here.has(l.shape)));
  if (fits) return { ...map, channels: channels.map((c) => known.get(c)!) };
  const proposed = proposeMap(channels, character);
  return {
    ...map,
    channels: proposed.channels.map((row) => {
      const before = known.get(row.channel);
      if (!before) return row;
      const kept = before.shapes.filter((l) => here.has(l.shape));
      if (kept.length || before.shapes.length === 0) return { ...before, shapes: kept };
      const [like] = before.shapes;
      return {
        ...row,
        neutral: before.neutral,
        shapes: row.shapes.map((l) => ({ ...like!, shape: l.shape, gain: like!.gain * l.gain })),
      };
    }),
  };
}

/** Channels without a shape, and face shapes without a channel. */
export function uncovered(
  character: Character,
  map: ChannelMap,
): { readonly unmapped: readonly string[]; readonly silent: readonly string[] } {
  const driven = new Set(map.channels.flatMap((r) => r.shapes.map((l) => l.shape)));
  return {
    unmapped: map.channels.filter((r) => r.shapes.length === 0).map((r) => r.channel),
    silent: faceShapes(character)
      .known.filter((s) => !driven.has(s.shape))
      .map((s) => s.shape),
  };
}

/** The map with left and right exchanged: what moves one side moves the other. */
export function exchangedSides(map: ChannelMap, character: Character): ChannelMap {
  const { known } = faceShapes(character);
  const of = new Map(known.map((s) => [s.shape, s]));
  const otherOf = (shape: string): string => {
    const s = of.get(shape);
    if (!s?.side) return shape;
    return known.find((o) => o.unit === s.unit && o.side !== null && o.side !== s.side)?.shape ?? shape;
  };
  return {
    ...map,
    channels: map.channels.map((r) => ({
      ...r,
      found: r.shapes.length ? ("hand" as const) : r.found,
      shapes: r.shapes.map((l) => ({ ...l, shape: otherOf(l.shape) })),
    })),
  };
}

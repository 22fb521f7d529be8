import type { Character } from "../model/character";
import type { ChannelLink, ChannelMap } from "./channelMap";

/** What a link gives for a value above its neutral: bent, times its gain, with its offset, within its limits. */
export function linkWeight({ gain, offset, curve, low, high }: ChannelLink, above: number): number {
  const bent = curve === 1 ? above : Math.sign(above) * Math.abs(above) ** curve;
  return Math.min(high, Math.max(low, offset + gain * bent));
}

/** Turns a row of channel values into weights of shapes. */
export interface FaceMapper {
  /** Shapes in the order of `weights`. */
  readonly shapes: readonly string[];
  /** @param values in the order of the channels the mapper was made for. @returns one weight a shape, used again. */
  readonly weights: (values: ArrayLike<number>) => Float64Array;
}

/** Weights of one shape from several channels add up, never beyond 1 unless a limit says so. */
export function makeFaceMapper(character: Character, map: ChannelMap, channels: readonly string[]): FaceMapper {
  const here = new Set(character.shapes.map((s) => s.name));
  const rows = new Map(map.channels.map((r) => [r.channel, r]));
  const links = channels.flatMap((channel, c) => {
    const row = rows.get(channel);
    return (row?.shapes ?? []).flatMap((link) => (here.has(link.shape) ? [{ c, link, neutral: row!.neutral }] : []));
  });
  const shapes = [...new Set(links.map((l) => l.link.shape))];
  const indexOf = new Map(shapes.map((s, i) => [s, i]));
  const ready = links.map((l) => ({ ...l, to: indexOf.get(l.link.shape)! }));
  const most = new Float64Array(shapes.length).fill(1);
  for (const { to, link } of ready) most[to] = Math.max(most[to]!, link.high);
  const out = new Float64Array(shapes.length);
  return {
    shapes,
    weights: (values) => {
      out.fill(0);
      for (const { c, link, neutral, to } of ready) out[to]! += linkWeight(link, values[c]! - neutral);
      for (let s = 0; s < out.length; s++) out[s] = Math.min(most[s]!, out[s]!);
      return out;
    },
  };
}

import type { Vec3 } from "../../../core/math/vec3";
import { mix, smoothstep, softRegion } from "../../modelling/blend";
import type { FacePlace, MouthPlace } from "./facePlaces";

/** How one place of the face moves, in head units on the left half. */
export type Mover = (c: FacePlace) => Vec3;
export const STILL: Vec3 = [0, 0, 0];

export function sum(...moves: readonly Vec3[]): Vec3 {
  let [x, y, z] = [0, 0, 0];
  for (const m of moves) {
    x += m[0];
    y += m[1];
    z += m[2];
  }
  return [x, y, z];
}
export const times = (d: Vec3, k: number): Vec3 => [d[0] * k, d[1] * k, d[2] * k];
export const isLid = (c: FacePlace): boolean => c.head?.zone === "lid";
export const isInnerLid = (c: FacePlace): boolean => c.head?.zone === "lid" && c.head.inner;

/** Nothing on the lips, rising over the skin beside them, all beyond. */
const offLips = ({ mouth }: FacePlace): number => (mouth === null ? 1 : mouth.onLip ? 0 : smoothstep(0, 7, mouth.off));
const LEAST = 0.004;

/** A soft region moved as a whole. */
export function shift(c: FacePlace, at: Vec3, size: Vec3, by: Vec3): Vec3 {
  const share = softRegion(c.p, at, size);
  return share < LEAST || isInnerLid(c) ? STILL : times(by, share * offLips(c));
}

/** A soft region that swells (or sinks, negative) along the surface's normal; never the lips themselves. */
export function swell(c: FacePlace, at: Vec3, size: Vec3, by: number): Vec3 {
  const share = softRegion(c.p, at, size);
  return share < LEAST || c.mouth?.onLip || isInnerLid(c) ? STILL : times(c.normal, by * share * offLips(c));
}

/** A furrow along a segment, with a small raised bank on its outer side. */
export function furrow(c: FacePlace, from: Vec3, to: Vec3, width: number, depth: number): Vec3 {
  const { p } = c;
  if (c.mouth?.onLip || isInnerLid(c) || p[2] < 25) return STILL;
  const d: Vec3 = [to[0] - from[0], to[1] - from[1], to[2] - from[2]];
  const along =
    ((p[0] - from[0]) * d[0] + (p[1] - from[1]) * d[1] + (p[2] - from[2]) * d[2]) / (d[0] ** 2 + d[1] ** 2 + d[2] ** 2);
  const ends = smoothstep(-0.15, 0.2, along) * (1 - smoothstep(0.8, 1.15, along));
  const t = Math.min(1, Math.max(0, along));
  const off = Math.hypot(p[0] - from[0] - d[0] * t, p[1] - from[1] - d[1] * t, p[2] - from[2] - d[2] * t) / width;
  if (off > 4) return STILL;
  const bank = 0.22 * depth * Math.exp(-((off - 1.9) ** 2) / 0.9) * (p[0] > from[0] + d[0] * t ? 1 : 0.2);
  return times(c.normal, ends * (bank - depth * Math.exp(-off * off)));
}

/** What a lip does at a place: t 0 middle to 1 corner, upper or lower. */
export type LipMove = (lip: {
  readonly t: number;
  readonly upper: boolean;
  readonly toSeam: number;
  readonly m: MouthPlace;
}) => Vec3;

/** The lips and the skin round them. @param reach how far the skin follows above, below and beside. */
export function lips(c: FacePlace, move: LipMove, reach: Vec3): Vec3 {
  const m = c.mouth;
  if (!m) return STILL;
  const follows = m.onLip ? m.follows : skinFollows(c.p, m, reach);
  if (follows === 0) return STILL;
  const at = { t: m.t, toSeam: m.toSeam, m };
  const upper = move({ ...at, upper: true });
  const lower = move({ ...at, upper: false });
  return [0, 1, 2].map((k) => follows * (m.upper * upper[k]! + (1 - m.upper) * lower[k]!)) as unknown as Vec3;
}

function skinFollows(p: Vec3, m: MouthPlace, [above, below, beside]: Vec3): number {
  const off = m.off / mix(m.upper * above + (1 - m.upper) * below, beside, m.t ** 3);
  if (off > 2.4) return 0;
  // the nose holds back
  const nose = smoothstep(-51, -44, p[1]) * (1 - smoothstep(16, 24, p[0]));
  return Math.exp(-off * off) * (1 - 0.65 * nose);
}

/** 1 in the middle of the lips, 0 at the corner. */
export const midLip = (t: number): number => Math.pow(Math.max(0, 1 - t * t), 0.8);
/** Thins the red of the lips: pulls toward the seam by a share. */
export const thinned = (m: MouthPlace, share: number): number =>
  -m.above * share * (1 - 0.7 * m.t ** 4) * (m.onLip && m.ring > 8 ? 0 : 1);
/** The red of the lips between border and seam. */
export const onRed = (m: MouthPlace): boolean => m.onLip && m.toSeam > 0 && m.toSeam < 1;

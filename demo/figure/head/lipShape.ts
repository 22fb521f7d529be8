import type { Vec3 } from "../../../core/math/vec3";
import { monotoneCurve } from "../../modelling/monotoneTable";
import { faceDepth } from "./headForm";
import type { MouthLayer } from "./headTags";

/** A place round the mouth: t from the middle (0) to the corner (1), on the upper or lower lip. */
export interface LipPlace {
  readonly upper: boolean;
  readonly t: number;
}

const HALF_WIDTH = 24.4;
/** Heights of the lips' borders and of the seam by t. */
const upperBorder = monotoneCurve(
  [0, 0.12, 0.24, 0.38, 0.55, 0.75, 0.9, 1],
  [-59.2, -58.3, -57.6, -58.2, -60.5, -63.7, -65.3, -66.2],
);
const lowerBorder = monotoneCurve([0, 0.25, 0.5, 0.75, 0.9, 1], [-78.4, -78.1, -76.4, -72.4, -69.0, -66.4]);
const seam = monotoneCurve([0, 0.12, 0.35, 0.6, 0.85, 1], [-67.9, -67.6, -67.15, -67.2, -66.75, -66.3]);
const across = (t: number): number => HALF_WIDTH * (t * 0.93 + 0.07 * t * (2 - t));

/** Rings over the lip: share of the way from border to seam, how far the flesh stands out. */
const OVER: readonly (readonly [MouthLayer, share: number, bulge: number])[] = [
  ["border", 0, 0.2],
  ["lip", 0.2, 1.7],
  ["lip", 0.48, 3.2],
  ["lip", 0.78, 2.8],
  ["seam", 1, -0.5],
];
/** Rings behind the seam: depth, half height, share of the height kept at the corner, factor across. */
const BEHIND: readonly (readonly [MouthLayer, depth: number, height: number, atCorner: number, across: number])[] = [
  ["inner lip", 2.2, 0.1, 0.12, 0.965],
  ["inner lip", 4.4, 2.6, 0.12, 0.95],
  ["bag", 5.6, 8.6, 0.3, 0.97],
  ["bag", 12.6, 12.5, 0.78, 1.12],
  ["bag", 34, 13.5, 0.96, 1.4],
  ["bag", 58, 12.5, 1, 1.44],
];

export interface LipRing {
  readonly layer: MouthLayer;
  readonly points: readonly Vec3[];
}

/** Rings from the lips' border over the seam into the mouth. */
export function lipRings(places: readonly LipPlace[]): LipRing[] {
  const over = OVER.map(([layer, share, bulge]): LipRing => ({
    layer,
    points: places.map((place) => overLip(place, share, bulge)),
  }));
  const edge = over.at(-1)!.points;
  const behind = BEHIND.map(([layer, depth, height, atCorner, factor]): LipRing => ({
    layer,
    points: places.map(({ upper, t }, k): Vec3 => {
      const [x, y, z] = edge[k]!;
      const middle = Math.sqrt(Math.max(0, 1 - t * t));
      const isCorner = k === places.length >> 1;
      const closing = t > 0.9 ? ((1 - t) / 0.1) * 0.999 + 0.001 : 1;
      return [
        x * factor,
        y + (isCorner ? 0 : upper ? 1 : -1) * height * (atCorner + (1 - atCorner) * middle) * closing,
        z - depth * (1 - 0.1 * t),
      ];
    }),
  }));
  return [...over, ...behind];
}

function overLip({ upper, t }: LipPlace, share: number, bulge: number): Vec3 {
  const x = across(t) * (1 - share * 0.072 * t * t * t);
  const border = upper ? upperBorder(t) : lowerBorder(t);
  const y = border + (seam(t) - border) * share + (share === 1 ? (upper ? -0.08 : 0.08) : 0);
  const full = Math.pow(Math.max(0, 1 - Math.pow(t, 2.2)), 0.75);
  const out = bulge > 0 ? bulge * (upper ? 0.85 : 1.05) * full : bulge * (0.4 + 0.6 * full);
  const tucked = (share > 0 ? 0.5 * (1 - full) : 0) + (t > 0.85 ? (t - 0.85) * 3.5 * share : 0);
  return [x, y, faceDepth(x, y) + out - tucked];
}

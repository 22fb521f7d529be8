import type { Vec3 } from "../../../core/math/vec3";
import { colour, mixColour } from "./colour";
import { newPart, skinRings, type PartMesh } from "./partMesh";

/**
 * A tongue's pose in head units with the jaw closed: middle line (depth, height) from root to tip, half width, half
 * thickness.
 */
export interface TonguePose {
  readonly line: readonly (readonly [depth: number, height: number])[];
  readonly width: readonly number[];
  readonly thickness: readonly number[];
}

const REST: TonguePose = {
  line: [
    [44, -86],
    [53, -77],
    [63, -75.2],
    [71, -75.8],
    [78.6, -77.6],
  ],
  width: [14, 17.5, 18, 16, 11.5],
  thickness: [7, 6.2, 5.4, 4.4, 3],
};
const scaled = (values: readonly number[], by: readonly number[]): number[] => values.map((v, i) => v * by[i]!);
export const TONGUE_POSES = {
  rest: REST,
  out: {
    line: [
      [47, -84],
      [61, -73],
      [76, -67.4],
      [92, -66.8],
      [111, -75.5],
    ],
    width: [14, 16.5, 15.5, 14.5, 11.5],
    thickness: [7, 6, 4.4, 3.4, 2.6],
  },
  tipUp: {
    line: [
      [44, -86],
      [53, -77],
      [63, -76.5],
      [72, -72.5],
      [77.8, -62.6],
    ],
    width: [14, 17.5, 16.5, 13.5, 9],
    thickness: [7, 6.2, 5, 3.8, 2.4],
  },
  backUp: {
    line: [
      [44, -80],
      [53, -66.5],
      [62, -67.5],
      [69, -74],
      [76, -77.6],
    ],
    width: [14, 17.5, 17.5, 15.5, 11],
    thickness: [7, 7.5, 6.5, 4.6, 3],
  },
  betweenTeeth: {
    line: [
      [45, -85],
      [56, -74.5],
      [68, -69.4],
      [80, -66.9],
      [93.5, -67.4],
    ],
    width: [14, 17, 16, 14, 11],
    thickness: [7, 6, 4.6, 2.6, 1.7],
  },
  wide: {
    ...REST,
    width: scaled(REST.width, [1, 1.06, 1.12, 1.2, 1.3]),
    thickness: scaled(REST.thickness, [0.84, 0.84, 0.84, 0.84, 0.84]),
  },
  narrow: {
    ...REST,
    width: scaled(REST.width, [1, 0.9, 0.76, 0.68, 0.62]),
    thickness: scaled(REST.thickness, [1.14, 1.14, 1.14, 1.14, 1.14]),
  },
} as const satisfies Record<string, TonguePose>;
export type TonguePoseName = keyof typeof TONGUE_POSES;

const SPOKES = 16;
const RINGS = 17;
const [LIGHT, DARK] = [colour(224, 128, 122), colour(206, 104, 102)];

/** Catmull-Rom curve (1974) through values at even steps; s from 0 to 1. */
function through(values: readonly number[], s: number): number {
  const last = values.length - 1;
  const place = Math.min(last - 1e-6, Math.max(0, s * last));
  const i = Math.floor(place);
  const t = place - i;
  const at = (k: number): number => values[Math.min(last, Math.max(0, k))]!;
  const [a, b, c, d] = [at(i - 1), at(i), at(i + 1), at(i + 2)];
  return 0.5 * (2 * b + (c - a) * t + (2 * a - 5 * b + 4 * c - d) * t * t + (3 * b - a - 3 * c + d) * t * t * t);
}

/** A tube along the middle line: flat above with a shallow groove, a rounded tip. */
export function tongue(pose: TonguePose): PartMesh {
  const part = newPart();
  const depths = pose.line.map((p) => p[0]);
  const heights = pose.line.map((p) => p[1]);
  for (let ring = 0; ring < RINGS; ring++) {
    const s = 1 - Math.pow(1 - ring / (RINGS - 1), 1.35);
    const [before, after] = [Math.max(0, s - 0.02), Math.min(1, s + 0.02)];
    const [dz, dy] = [
      through(depths, after) - through(depths, before),
      through(heights, after) - through(heights, before),
    ];
    const l = Math.hypot(dz, dy) || 1;
    const tip = s > 0.84 ? Math.sqrt(Math.max(0, 1 - ((s - 0.84) / 0.16) ** 2)) : 1;
    const width = through(pose.width, s) * (0.04 + 0.96 * tip);
    const thickness = through(pose.thickness, s) * (0.06 + 0.94 * Math.pow(tip, 0.8));
    for (let i = 0; i < SPOKES; i++) {
      const [c, up] = [Math.cos((2 * Math.PI * i) / SPOKES), Math.sin((2 * Math.PI * i) / SPOKES)];
      const x = Math.sign(c) * Math.abs(c) ** 0.85 * width;
      let off = Math.sign(up) * Math.abs(up) ** 0.8 * thickness;
      if (up > 0)
        off -=
          (0.9 * Math.exp(-((x / 3) ** 2)) - 0.25 * Math.cos(Math.PI * Math.min(1, Math.abs(x) / width))) *
          tip *
          Math.min(1, thickness / 4);
      const p: Vec3 = [x, through(heights, s) + (dz / l) * off, through(depths, s) - (dy / l) * off];
      part.add(p, mixColour(LIGHT, DARK, 0.5 + 0.5 * Math.cos(x * 0.28) * (up > 0 ? 1 : 0.2)));
    }
  }
  skinRings(part, 0, RINGS, SPOKES, { flip: true });
  return part;
}

import type { Vec3 } from "../../../../core/math/vec3";
import { smoothstep, softRegion } from "../../../modelling/blend";
import { onHead } from "../../head/headForm";
import { MARK, type FacePlace } from "../facePlaces";
import { sided, type FaceUnit } from "../faceUnit";
import { isInnerLid, isLid, STILL, sum, times } from "../movers";

/** Strength of the brow's muscles: a band over the brow, soft upward, short downward. */
function browBand([x, y, z]: Vec3): number {
  if (z <= 40) return 0;
  const above = y - (16 + 6 * smoothstep(8, 36, x) - 7 * smoothstep(40, 54, x));
  return Math.exp(-((above / (above > 0 ? 20 : 8.5)) ** 2)) * (1 - smoothstep(46, 66, x));
}
/** The same where it reaches into the upper lid; nothing on the lower one. */
function browShare(c: FacePlace): number {
  if (isInnerLid(c)) return 0;
  const band = browBand(c.p);
  if (c.head?.zone !== "lid") return band;
  return c.head.upper ? band * (1 - smoothstep(0.55, 1, c.head.share) * 0.87) : 0;
}

/** Slides skin over the skull: moved, then put back on the form, keeping its fine relief. */
export function slide({ p }: FacePlace, by: Vec3): Vec3 {
  const moved = onHead([p[0] + by[0], p[1] + by[1], p[2] + by[2]], 5);
  const rest = onHead(p, 4);
  return [moved[0] - rest[0], moved[1] - rest[1], moved[2] - rest[2]];
}

/** Moves the brow by a vector where `share` of x lets it. */
export function moveBrow(c: FacePlace, share: (x: number) => number, dx: number, dy: number): Vec3 {
  const w = browShare(c) * share(c.p[0]);
  return w < 0.004 ? STILL : slide(c, [dx * w, dy * w, 0]);
}
export const innerBrow = (x: number): number => 1 - smoothstep(9, 38, x);
export const outerBrow = (x: number): number => 0.18 + 0.82 * smoothstep(9, 38, x);

/** Level wrinkles of the forehead. @param bow how much they bend upward outward. */
function wrinkles(c: FacePlace, strength: number, height: number, bow: number): Vec3 {
  if (c.p[2] < 35 || isLid(c)) return STILL;
  const share = strength * Math.exp(-(((c.p[1] - 49) / 13) ** 2));
  return share < 0.01
    ? STILL
    : times(c.normal, height * share * Math.sin(((c.p[1] + bow * c.p[0] ** 2) * 2 * Math.PI) / 10.5));
}

function lowerBrow(c: FacePlace): Vec3 {
  const w = browShare(c);
  if (w < 0.004) return STILL;
  const x = c.p[0];
  const together = -3 * w * smoothstep(3, 14, x) * (1 - smoothstep(24, 44, x));
  const relief = 1.7 * softRegion(c.p, MARK.browHead, [6, 7, 12]) - 1.6 * softRegion(c.p, MARK.browFold, [1.9, 9, 10]);
  return sum(slide(c, [together, -w * (2.6 + 2.6 * innerBrow(x)), 0]), times(c.normal, relief));
}

export const BROW_UNITS: readonly FaceUnit[] = [
  sided("1", (c) => sum(moveBrow(c, innerBrow, -1, 9), wrinkles(c, 1 - smoothstep(12, 30, c.p[0]), 0.5, 0))),
  sided("2", (c) =>
    sum(
      moveBrow(c, outerBrow, 0, 9.2),
      wrinkles(c, smoothstep(12, 30, c.p[0]) * (1 - smoothstep(40, 58, c.p[0])), 0.42, 0.004),
    ),
  ),
  sided("4", lowerBrow),
];

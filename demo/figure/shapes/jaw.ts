import { degrees, radians, type Vec3 } from "../../../core/math/vec3";
import { smoothstep } from "../../modelling/blend";
import { JAW_HINGE } from "../rig/joints";
import type { FacePlace } from "./facePlaces";
import { STILL } from "./movers";

/** A pose of the jaw: opening in degrees, thrust and sideways shift in head units. */
export interface JawPose {
  readonly open?: number;
  readonly forward?: number;
  readonly aside?: number;
}
/** The condyle slides forward as the jaw turns: so far at 20 degrees. */
const SLIDE_AT_20 = 2.5;

/** Movement of a point that takes part in a jaw pose by a share. */
export function jawMove(p: Vec3, { open = 0, forward = 0, aside = 0 }: JawPose, share = 1): Vec3 {
  const angle = radians(open) * share;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const y = p[1] - JAW_HINGE[1];
  const z = p[2] - JAW_HINGE[2];
  const slide = (SLIDE_AT_20 * share * open) / 20;
  return [
    (aside * share * Math.max(0, p[2] - 10)) / 80,
    y * c - z * s - slide * 0.5 - y - forward * share * 0.25,
    y * s + z * c + slide - z + forward * share,
  ];
}

/** How much a place of the skin goes with the jaw. */
function jawShare({ p, head }: FacePlace): number {
  const [x, y, z] = p;
  /** Angle below the horizontal about the hinge. */
  const below = degrees(Math.atan2(-(y - JAW_HINGE[1]), z - JAW_HINGE[2]));
  const middle = 31.5 + 4.5 * Math.min(1, x / 26);
  const half = 7 + 9 * Math.min(1, x / 45);
  let share = smoothstep(middle - half, middle + half, below);
  share *= 1 - smoothstep(58, 112, below) * smoothstep(92, 118, -y + (z < 45 ? (45 - z) * 0.25 : 0));
  share *= 1 - 0.55 * smoothstep(60, 100, below) * (1 - smoothstep(20, 60, z));
  share *= 1 - smoothstep(70, 124, below);
  if (y < -112) share *= 1 - smoothstep(112, 150, -y);
  share *= 1 - smoothstep(55, 63, x) * smoothstep(-50, -38, y);
  if (below > 125 || below < 0) share = 0;
  if (head?.zone !== "mouth") return share;
  // lips and lining go by their own rule, blended in over the skin round them
  const sharp = head.layer === "bag" ? 10 : null;
  const own =
    head.throat !== null
      ? smoothstep(0.1, 0.9, head.throat)
      : head.upper
        ? 0.5 * Math.pow(head.t, sharp ?? 3)
        : 1 - 0.5 * Math.pow(head.t, sharp ?? 2.6);
  const blend = head.layer === "skin" ? smoothstep(0, 1, head.share) : 1;
  return share * (1 - blend) + own * blend;
}

/** Movement of the skin with the jaw. */
export function withJaw(c: FacePlace, pose: JawPose): Vec3 {
  const share = jawShare(c);
  if (share < 1e-4) return STILL;
  const d = jawMove(c.p, pose, share);
  // the floor of the jaw sinks rather than driving into the neck
  const back = d[2] < 0 ? 1 - 0.42 * smoothstep(84, 112, -c.p[1]) * (1 - smoothstep(40, 86, c.p[2])) : 1;
  return [d[0] * (c.side || 1), d[1], d[2] * back];
}

/** How far the lips are parted at t by a jaw pose: height and depth at the seam. */
function parting(t: number, pose: JawPose): readonly [number, number] {
  const seam: Vec3 = [0, -67.2, 93.5 - 10 * t * t];
  const upper = jawMove(seam, pose, 0.5 * t ** 3);
  const lower = jawMove(seam, pose, 1 - 0.5 * t ** 2.6);
  return [upper[1] - lower[1], upper[2] - lower[2]];
}

/**
 * Closes that parting: the upper lip comes down by its share, the lower lip up by the rest. @param inDepth how much of
 * the step front to back is closed too.
 */
export function sealed(
  { t, upper, toSeam }: { t: number; upper: boolean; toSeam: number },
  pose: JawPose,
  upperShare: number,
  inDepth = 1,
): Vec3 {
  const [dy, dz] = parting(t, pose);
  const k = upper ? -upperShare * (0.3 + 0.7 * toSeam) : (1 - upperShare) * (0.45 + 0.55 * toSeam);
  return [0, k * dy, inDepth * k * dz];
}

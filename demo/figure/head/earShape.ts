import { degrees, radians, type Vec3 } from "../../../core/math/vec3";
import { monotoneCurve } from "../../modelling/monotoneTable";
import { outermost } from "./headForm";

/** Middle of the ear and its own directions on the side of the head: up (leaning back) and back. */
const MIDDLE: Vec3 = [0, -17, -7.5];
const LEAN = radians(5);
const UP: Vec3 = [0, Math.cos(LEAN), -Math.sin(LEAN)];
const BACK: Vec3 = [0, -Math.sin(LEAN), -Math.cos(LEAN)];
/** Radius of the ear's outline by angle from up toward the back, degrees. */
const outline = monotoneCurve(
  [0, 30, 60, 90, 120, 150, 175, 195, 215, 240, 270, 300, 330, 360],
  [29, 29.5, 25.5, 20.5, 18, 20.5, 25.5, 26.5, 22.5, 16.5, 12.5, 14, 22, 29],
);
/** Rings from the head over the rim into the bowl: share of the outline, height off the head. */
const RINGS: readonly (readonly [share: number, height: number])[] = [
  [0.6, 0],
  [0.8, 6.5],
  [0.985, 11.5],
  [1, 14],
  [0.94, 15.2],
  [0.86, 13.8],
  [0.77, 10.8],
  [0.64, 12.2],
  [0.5, 10.8],
  [0.4, 5],
  [0.22, 3],
];

/**
 * Points of the ear's rings. @param border the ring of the head where the ear begins, which sets the start and sense of
 * the angles.
 */
export function earRings(border: readonly Vec3[]): Vec3[][] {
  const angles = spreadAngles(border);
  return RINGS.map(([share, height], ring) => angles.map((angle) => earPoint(angle, share, height, ring)));
}

const angleOf = (p: Vec3): number => {
  const [y, z] = [p[1] - MIDDLE[1], p[2] - MIDDLE[2]];
  return (degrees(Math.atan2(y * BACK[1] + z * BACK[2], y * UP[1] + z * UP[2])) + 360) % 360;
};

/** As many angles as the border has points, at even steps along the outline. */
function spreadAngles(border: readonly Vec3[]): number[] {
  const first = angleOf(border[0]!);
  const forward = Math.sign(((angleOf(border[1]!) - first + 540) % 360) - 180) > 0;
  const STEP = 0.5;
  const walked: { along: number; angle: number }[] = [];
  let along = 0;
  let before: readonly [number, number] | null = null;
  for (let turned = 0; turned <= 360; turned += STEP) {
    const angle = (first - turned + 720) % 360;
    const r = outline(angle);
    const here = [r * Math.sin(radians(angle)), r * Math.cos(radians(angle))] as const;
    if (before) along += Math.hypot(here[0] - before[0], here[1] - before[1]);
    before = here;
    walked.push({ along, angle });
  }
  return border.map((_, k) => {
    const target = (along * k) / border.length;
    const found = walked.findIndex((_, i) => i === walked.length - 1 || walked[i + 1]!.along >= target);
    const angle = walked[found]!.angle;
    return forward ? (2 * first - angle + 720) % 360 : angle;
  });
}

function earPoint(angle: number, share: number, height: number, ring: number): Vec3 {
  const behind = 0.5 - 0.5 * Math.cos(radians(angle - 270));
  const lobe = Math.exp(-(((angle - 183) / 26) ** 2));
  const tragus = ring === 7 || ring === 8 ? Math.exp(-(((angle - 258) / 20) ** 2)) : 0;
  let off = height * (0.12 + 0.88 * Math.pow(behind, 0.7));
  if (ring >= 4 && ring <= 7) off = off * (1 - lobe * 0.25) + lobe * height * 0.12;
  off += 3.2 * tragus;
  const r = outline(angle) * (share + 0.12 * tragus);
  const [b, u] = [Math.sin(radians(angle)) * r, Math.cos(radians(angle)) * r];
  const y = MIDDLE[1] + b * BACK[1] + u * UP[1];
  const z = MIDDLE[2] + b * BACK[2] + u * UP[2];
  const flare = Math.max(0, b) * 0.11 * Math.min(1, height / 8);
  return [outermost([0, y, z], [1, 0, 0], 110)[0] + off * 0.8 + flare, y, z];
}

import type { Vec3 } from "../../../../core/math/vec3";
import { softRegion } from "../../../modelling/blend";
import { WIDEST_OPENING } from "../../head/lidShape";
import { MARK, type FacePlace } from "../facePlaces";
import { sided, whole, type FaceUnit } from "../faceUnit";
import { gazeAt, lids } from "../lids";
import { furrow, isInnerLid, isLid, shift, STILL, sum, swell } from "../movers";
import { moveBrow, outerBrow, slide } from "./brows";

/** The upper lid makes nine tenths of a blink. */
const SHUT = { upperDown: 0.9 * WIDEST_OPENING, lowerUp: 0.1 * WIDEST_OPENING, shut: 1 };

/** Lifts the lower lid's skin, most at the window. */
export function liftLowerLid(c: FacePlace, by: number): Vec3 {
  return c.head?.zone === "lid" && !c.head.upper && !isInnerLid(c) ? [0, by * (1 - c.head.share), 0] : STILL;
}
/** What happens below the eye: the lower lid is lifted, the skin beyond it is moved. */
export const underEye = (c: FacePlace, lift: number, at: Vec3, size: Vec3, by: Vec3): Vec3 =>
  isLid(c) ? liftLowerLid(c, lift) : shift(c, at, size, by);

/** Skin above and below the lids that a blink draws along. */
function blinkSkin(c: FacePlace): Vec3 {
  if (isLid(c) || c.p[2] < 50) return STILL;
  const drawn = (at: Vec3, size: Vec3, by: number): Vec3 => {
    const share = softRegion(c.p, at, size);
    return share > 0.01 ? slide(c, [0, by * share, 0]) : STILL;
  };
  return sum(drawn([32, 15, 82], [15, 6, 16], -1.1), drawn([33, -13, 79], [15, 6, 14], 0.8));
}

/** Three lines fanning out of the outer corner. */
const crowsFeet = (c: FacePlace): Vec3 =>
  sum(...[-8, 0, 8].map((y) => furrow(c, [48.5, y * 0.2, 67], [58.5, y, 51], 1.15, 0.55)));

export const EYE_UNITS: readonly FaceUnit[] = [
  sided("5", (c) => lids(c, { upperDown: -2.3, lowerUp: 0 })),
  sided("6", (c) =>
    sum(
      lids(c, { upperDown: 0.9, lowerUp: 1.9 }),
      swell(c, MARK.cheekbone, [17, 12, 20], 3.4),
      shift(c, MARK.cheekbone, [17, 13, 20], [0.4, 3.6, 0]),
      underEye(c, 1.1, MARK.underEye, [14, 6, 14], [0, 2.2, 0.9]),
      furrow(c, [20, -13, 79], [38, -15, 75], 2, 0.45),
      crowsFeet(c),
      moveBrow(c, outerBrow, 0, -1.2),
    ),
  ),
  sided("7", (c) =>
    sum(
      lids(c, { upperDown: 1.3, lowerUp: 2.3 }),
      isLid(c) ? STILL : shift(c, MARK.underEye, [14, 5, 14], [0, 1, 0.5]),
    ),
  ),
  sided("43", (c) => sum(lids(c, SHUT), blinkSkin(c))),
  // the lids ride on the turning cornea
  sided("61", (c) =>
    sum(
      lids(c, { upperDown: -1.7, lowerUp: 0.9, gaze: gazeAt(0, 24) }),
      moveBrow(c, () => 0.5, 0, 1),
    ),
  ),
  sided("62", (c) => lids(c, { upperDown: 4.6, lowerUp: -1.1, gaze: gazeAt(0, -28) })),
  sided("63", (c) => lids(c, { upperDown: 0.2, lowerUp: 0, aside: -0.8, gaze: gazeAt(-28, 0) })),
  sided("64", (c) => lids(c, { upperDown: 0.2, lowerUp: 0, aside: 0.8, gaze: gazeAt(30, 0) })),
  whole("pupils wide", () => STILL, { pupil: 13.5 }),
  whole("pupils narrow", () => STILL, { pupil: 5 }),
];

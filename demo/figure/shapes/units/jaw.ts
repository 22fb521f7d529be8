import { degrees, type Vec3 } from "../../../../core/math/vec3";
import { smoothstep } from "../../../modelling/blend";
import { MARK, type FacePlace } from "../facePlaces";
import { sided, whole, type FaceUnit } from "../faceUnit";
import { sealed, withJaw, type JawPose } from "../jaw";
import { furrow, lips, midLip, shift, STILL, sum, swell, times } from "../movers";

/** Jaw poses of the units at full. */
export const JAW_POSES = {
  "26": { open: 12 },
  "27": { open: 22 },
  "28": { open: 4.2 },
  "29": { forward: 5, open: 1 },
  "30 left": { aside: 6.2, open: 0.9 },
  "30 right": { aside: -6.2, open: 0.9 },
} as const satisfies Record<string, JawPose>;
/** Jaw poses that the speech helpers are made for: shares of unit 26. */
export const SEAL_JAW: JawPose = { open: 0.18 * JAW_POSES["26"].open };
export const LIP_TO_TEETH_JAW: JawPose = { open: 0.2 * JAW_POSES["26"].open };

/** Jaw sideways: the lips stay closed. */
const sideways = (c: FacePlace, pose: JawPose): Vec3 =>
  sum(
    withJaw(c, pose),
    lips(c, (lip) => sealed(lip, { open: 0.9 }, 0.1), [6, 7, 6]),
  );

/** Bands of the neck's broad muscle, from the jaw down. */
function neckBands(c: FacePlace): Vec3 {
  const [x, y, z] = c.p;
  if (y >= -84 || z <= -45) return STILL;
  const onset = smoothstep(86, 112, -y);
  const azimuth = degrees(Math.atan2(x, z + 17));
  const closer = 1 - 0.15 * smoothstep(110, 170, -y);
  const band = (at: number): number => Math.exp(-(((azimuth - at * closer) / 5.2) ** 2));
  const height =
    onset *
    (1 - smoothstep(150, 170, -y) * 0.3) *
    (1 - smoothstep(172, 214, -y)) *
    (2.2 * band(20) + 1.7 * band(40) - 0.6 * band(30));
  return sum(times(c.normal, height), shift(c, [30, -92, 50], [22, 16, 30], [1, -1.6, 0]));
}

export const JAW_UNITS: readonly FaceUnit[] = [
  whole(
    "26",
    (c) =>
      sum(
        withJaw(c, JAW_POSES["26"]),
        lips(c, ({ t, upper }) => [-1.5 * Math.pow(t, 1.5), upper ? 0.5 * midLip(t) : 0, 0], [8, 8, 14]),
        shift(c, [30, -68, 78], [16, 16, 18], [-0.9, 0, 0]),
      ),
    { jaw: JAW_POSES["26"] },
  ),
  whole(
    "27",
    (c) =>
      sum(
        withJaw(c, JAW_POSES["27"]),
        lips(c, ({ t, upper }) => [-3.4 * Math.pow(t, 1.5), (upper ? 1.6 : -1) * midLip(t), 0], [9, 9, 15]),
        swell(c, MARK.hollow, [14, 18, 20], -2.6),
        furrow(c, [20, -44, 87], [33, -66, 79], 3, 0.9),
      ),
    { jaw: JAW_POSES["27"] },
  ),
  whole(
    "29",
    (c) =>
      sum(
        withJaw(c, JAW_POSES["29"]),
        lips(c, (lip) => sealed(lip, JAW_POSES["29"], 0.1, 0), [6, 7, 6]),
      ),
    { jaw: JAW_POSES["29"] },
  ),
  whole("30 left", (c) => sideways(c, JAW_POSES["30 left"]), { jaw: JAW_POSES["30 left"], lopsided: true }),
  whole("30 right", (c) => sideways(c, JAW_POSES["30 right"]), { jaw: JAW_POSES["30 right"], lopsided: true }),
  sided("21", (c) =>
    sum(
      lips(c, ({ t }) => [2 * t * t, -2.4 * Math.pow(t, 2.2), -0.8 * t * t], [9, 14, 12]),
      neckBands(c),
    ),
  ),
];

/** The tongue shows between parted lips and teeth. */
const TONGUE_SHOW_JAW: JawPose = { open: 0.6 * JAW_POSES["26"].open };
const tongueShow: FaceUnit = whole(
  "19",
  (c) =>
    sum(
      withJaw(c, TONGUE_SHOW_JAW),
      lips(c, ({ t, upper }) => [0, (upper ? 1.6 : -1.6) * midLip(t), 0], [9, 12, 9]),
    ),
  { jaw: TONGUE_SHOW_JAW, tongue: "out" },
);

export const TONGUE_UNITS: readonly FaceUnit[] = [
  tongueShow,
  ...(
    [
      ["tongue tip up", "tipUp"],
      ["tongue back up", "backUp"],
      ["tongue wide", "wide"],
      ["tongue narrow", "narrow"],
      ["tongue between teeth", "betweenTeeth"],
    ] as const
  ).map(([id, tongue]) => whole(id, () => STILL, { tongue })),
];

import type { Vec3 } from "../../../../core/math/vec3";
import { MARK, type FacePlace } from "../facePlaces";
import { sided, whole, type FaceUnit } from "../faceUnit";
import { sealed, withJaw } from "../jaw";
import { furrow, lips, midLip, onRed, shift, STILL, sum, swell, thinned } from "../movers";
import { JAW_POSES, LIP_TO_TEETH_JAW, SEAL_JAW } from "./jaw";
import { underEye } from "./eyes";

const { pow } = Math;
const upperLipRaised = (c: FacePlace): Vec3 =>
  lips(
    c,
    ({ t, upper }) => {
      const corner = pow(t, 3);
      if (!upper) return [0, 1.1 * corner, 0];
      const wave = 0.78 + 0.22 * Math.sin(Math.PI * Math.min(1, t * 1.1));
      return [0.5 * t, 5 * (wave * midLip(t) ** 0.5 * (1 - corner) + 0.22 * corner), 0.7 * midLip(t)];
    },
    [13, 8, 12],
  );

/** How far back the lining of the lips goes where they are rolled in, mm, by its ring; undefined before it. */
function liningBack(ring: number): number | undefined {
  if (ring > 11) return -6;
  if (ring > 10) return 5;
  return ring > 8 ? 3 : undefined;
}

/** Lips rolled in over the teeth; the lining behind them goes back and forth with its depth. */
const lipsRolledIn = (c: FacePlace): Vec3 =>
  lips(
    c,
    (lip) => {
      const { t, toSeam, m } = lip;
      const back = liningBack(m.ring) ?? 1.9 + 3.4 * Math.min(1, toSeam * 1.6);
      return sum(sealed(lip, JAW_POSES["28"], 0.22, m.ring > 10 ? 0 : 1), [
        -0.6 * t,
        thinned(m, 0.88) * pow(midLip(t), 0.3),
        -back * midLip(t) ** 0.85,
      ]);
    },
    [10, 9, 9],
  );

const RAISERS: readonly FaceUnit[] = [
  sided("10", (c) =>
    sum(
      upperLipRaised(c),
      shift(c, [19, -44, 86], [8, 11, 12], [0.4, 2.6, 0.8]),
      shift(c, MARK.wing, [6, 6, 8], [0.8, 1.3, 0]),
      swell(c, [25, -38, 82], [8, 11, 12], 1.6),
      furrow(c, [17.5, -38, 87], [29, -60, 81], 2.3, 1.1),
    ),
  ),
  sided("12", (c) =>
    sum(
      lips(
        c,
        ({ t, m }) => [
          6.2 * pow(t, 0.95),
          0.9 * (1 - t) + 7.8 * pow(t, 1.9) + thinned(m, 0.18),
          -1.4 * (1 - t) - 4.8 * pow(t, 1.5) - (onRed(m) ? 1 - t * t : 0),
        ],
        [12, 12, 15],
      ),
      swell(c, [42, -35, 75], [15, 14, 20], 4.1),
      shift(c, [40, -40, 77], [17, 17, 22], [0.9, 3.2, -0.3]),
      furrow(c, [18.5, -41, 87], [35, -65, 77], 2.6, 1.6),
      underEye(c, 0.7, MARK.underEye, [14, 6, 14], [0, 1.2, 0.3]),
      shift(c, MARK.wing, [6, 6, 8], [1.2, 0.8, 0]),
    ),
  ),
  sided("13", (c) =>
    sum(
      lips(c, ({ t, m }) => [0.6 * t, 6.8 * pow(t, 2.4) + thinned(m, 0.05), -2.2 * t * t], [12, 12, 11]),
      swell(c, [38, -46, 76], [11, 12, 18], 4.6),
      shift(c, [38, -46, 76], [12, 13, 18], [0.4, 2.4, 0]),
      furrow(c, [23, -50, 84], [33, -63, 78], 2.2, 1.3),
    ),
  ),
  sided("14", (c) =>
    sum(
      lips(
        c,
        ({ t, m }) => [2.4 * pow(t, 2.5), 0.5 * pow(t, 3) + thinned(m, 0.14), -4 * pow(t, 2.6) - 0.5],
        [10, 10, 8],
      ),
      swell(c, [33, -66, 77.5], [4, 6, 8], -2.6),
      swell(c, [40, -62, 70], [7, 13, 12], 2.2),
      swell(c, [30, -76, 78], [7, 6, 10], 0.9),
    ),
  ),
];

const LOWERERS: readonly FaceUnit[] = [
  sided("15", (c) =>
    sum(
      lips(
        c,
        ({ t, upper, m }) => [
          1.6 * t * t,
          -6.8 * pow(t, 2.1) - (upper ? 0.5 : 0.2) * (1 - t) + thinned(m, 0.06),
          -1.2 * t * t,
        ],
        [11, 13, 12],
      ),
      furrow(c, [30, -70, 80], [26, -88, 76], 3.4, 0.9),
      swell(c, [22, -82, 80], [8, 8, 12], 1.3),
      swell(c, [0, -93, 90], [12, 7, 12], 0.7),
      furrow(c, [18.5, -44, 87], [29, -60, 80], 2.6, 0.7),
    ),
  ),
  sided("16", (c) =>
    sum(
      lips(
        c,
        ({ t, upper }) =>
          upper
            ? STILL
            : [0.8 * t * midLip(t), -5.6 * midLip(t) ** 0.75 * (0.86 + 0.14 * Math.sin(Math.PI * t)), 0.9 * midLip(t)],
        [8, 13, 9],
      ),
      swell(c, [0, -88, 88], [16, 5, 10], -0.9),
      swell(c, [20, -84, 80], [8, 8, 12], 0.8),
    ),
  ),
  whole("17", (c) =>
    sum(
      shift(c, MARK.chin, [17, 10, 14], [0, 4.4, 0.6]),
      swell(c, MARK.chin, [12, 7, 12], 1.3),
      furrow(c, [0, -86.5, 89], [12, -86, 86], 2, 0.9),
      lips(
        c,
        ({ t, upper, toSeam }) => [
          0,
          (upper ? 3 * (0.3 + 0.7 * toSeam) : 3.1) * midLip(t) - 1.3 * t * t,
          (upper ? 1 : 2.1) * midLip(t),
        ],
        [9, 11, 10],
      ),
    ),
  ),
];

const LIPS: readonly FaceUnit[] = [
  whole("18", (c) =>
    sum(
      lips(
        c,
        ({ t, m }) => [
          -m.x * (0.38 + 0.03 * t),
          m.above * (0.06 + 0.16 * t * t) * (m.onLip && m.ring <= 8 ? 1 : 0.3),
          6 * (1 - 0.2 * t) + (onRed(m) ? 1.1 * (1 - 0.5 * t) : 0),
        ],
        [11, 12, 15],
      ),
      swell(c, MARK.hollow, [15, 17, 22], -1.6),
      shift(c, MARK.chin, [14, 8, 12], [0, 1.6, 0]),
    ),
  ),
  sided("20", (c) =>
    sum(
      lips(
        c,
        ({ t, m }) => [7.2 * t, -1.2 * t * t + thinned(m, 0.17), -3.4 * pow(t, 1.5) - 1.1 * (1 - t)],
        [11, 13, 16],
      ),
      swell(c, [39, -66, 69], [9, 16, 16], 1.4),
      furrow(c, [33, -54, 79], [40, -76, 67], 3.8, 0.6),
    ),
  ),
  whole("22", (c) =>
    sum(
      lips(
        c,
        ({ t, upper, toSeam, m }) => {
          const full = midLip(t) ** 0.8;
          return [
            -m.x * (0.27 + 0.05 * t),
            (upper ? 3.6 : -4.6) * full * (0.55 + 0.45 * toSeam),
            5.4 * (1 - 0.35 * t) + (m.onLip ? 1.2 * toSeam * full : 0),
          ];
        },
        [11, 12, 15],
      ),
      swell(c, MARK.hollow, [15, 17, 22], -1.4),
    ),
  ),
  whole("23", (c) =>
    sum(
      lips(
        c,
        ({ t, m }) => [-m.x * 0.055, thinned(m, 0.34), -1.2 * midLip(t) - (onRed(m) ? 0.9 * midLip(t) : 0)],
        [7, 8, 9],
      ),
      swell(c, [0, -53, 95], [18, 4.5, 12], 0.5),
      swell(c, [28, -68, 80], [6, 8, 10], 0.8),
    ),
  ),
  whole("24", (c) =>
    sum(
      lips(c, ({ t, m }) => [-m.x * 0.02, thinned(m, 0.5), (onRed(m) ? -1.5 : -0.5) * midLip(t)], [6, 7, 8]),
      swell(c, [0, -54, 95], [20, 4, 12], 1),
      swell(c, [0, -82, 89], [18, 4, 12], 1),
      shift(c, MARK.chin, [14, 8, 12], [0, 1.4, 0.3]),
      swell(c, [29, -68, 80], [6, 8, 10], 1),
    ),
  ),
  whole("25", (c) => lips(c, ({ t, upper }) => [0, (upper ? 1.3 : -2.9) * midLip(t), 0.2 * midLip(t)], [9, 12, 9])),
  whole(
    "28",
    (c) =>
      sum(
        withJaw(c, JAW_POSES["28"]),
        lipsRolledIn(c),
        swell(c, [0, -84, 88], [18, 6, 12], 2),
        swell(c, [0, -54, 95], [16, 4, 10], 0.5),
      ),
    { jaw: JAW_POSES["28"] },
  ),
];

/** Helpers for speech, made to be added to a jaw that is a little open. */
const SPEECH: readonly FaceUnit[] = [
  whole(
    "lip seal",
    (c) =>
      sum(
        lips(c, (lip) => sum(sealed(lip, SEAL_JAW, 0.28), [0, thinned(lip.m, 0.12), -0.7 * midLip(lip.t)]), [9, 10, 9]),
        shift(c, MARK.chin, [15, 8, 12], [0, 1, 0.2]),
      ),
    { usedWith: SEAL_JAW },
  ),
  whole(
    "lip to teeth",
    (c) =>
      sum(
        lips(
          c,
          ({ t, upper, toSeam, m }) =>
            upper
              ? [0, 2.6 * midLip(t), 0.5 * midLip(t)]
              : [0, (2.2 + 1.6 * toSeam) * midLip(t), -(m.ring > 8 ? 3.1 : 1.6 + 3.6 * toSeam) * midLip(t)],
          [10, 9, 8],
        ),
        shift(c, MARK.chin, [15, 8, 12], [0, 1.2, 0]),
        furrow(c, [0, -86, 89], [12, -85, 86], 2.4, 0.8),
      ),
    { usedWith: LIP_TO_TEETH_JAW },
  ),
];

export const MOUTH_UNITS: readonly FaceUnit[] = [...RAISERS, ...LOWERERS, ...LIPS, ...SPEECH];

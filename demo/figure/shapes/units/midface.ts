import { MARK } from "../facePlaces";
import { sided, type FaceUnit } from "../faceUnit";
import { furrow, lips, midLip, shift, STILL, sum, swell, thinned } from "../movers";
import { innerBrow, moveBrow } from "./brows";
import { underEye } from "./eyes";

export const MIDFACE_UNITS: readonly FaceUnit[] = [
  sided("9", (c) =>
    sum(
      shift(c, MARK.wingSide, [9, 13, 14], [0.7, 4.4, 0.8]),
      shift(c, MARK.wing, [6, 6, 8], [1.3, 3, -0.4]),
      shift(c, MARK.noseTip, [8, 7, 8], [0, 1, -0.3]),
      moveBrow(c, innerBrow, -1.2, -3),
      lips(c, ({ t, upper }) => (upper ? [0.2 * t, 3.4 * Math.pow(midLip(t), 0.6), 0.6] : STILL), [13, 8, 10]),
      swell(c, [25, -20, 82], [9, 9, 12], 2.4),
      underEye(c, 0.9, [24, -10, 81], [9, 6, 12], [0, 1.6, 0.4]),
      // wrinkles across the bridge and beside it
      ...(
        [
          [7.5, 2],
          [7, 7.5],
          [8, -3.5],
        ] as const
      ).map(([x, y]) => furrow(c, [1, y + 1, 93], [x + 4, y - 2.5, 84], 1.15, 0.6)),
      furrow(c, [17, -36, 87], [24, -52, 84], 2.2, 1),
    ),
  ),
  sided("11", (c) =>
    sum(
      furrow(c, [18.5, -43, 87], [30, -62, 80], 2.4, 2),
      swell(c, [31, -42, 80], [10, 12, 14], 2),
      shift(c, [29, -42, 81], [10, 12, 14], [0.6, 1.8, 0]),
      lips(c, ({ t, upper, toSeam }) => (upper ? [0, Math.sin(Math.PI * t) * (1 - toSeam), 0] : STILL), [10, 6, 8]),
    ),
  ),
  sided("33", (c) =>
    sum(
      swell(c, [39, -61, 68], [16, 19, 24], 9.5),
      swell(c, [0, -53, 95], [22, 5, 14], 1.8),
      swell(c, [10, -84, 88], [16, 6, 14], 1.6),
      lips(c, ({ t, m }) => [-m.x * 0.09, thinned(m, 0.12), 1.3 * midLip(t) + 0.9 * t], [8, 8, 8]),
    ),
  ),
  sided("35", (c) =>
    sum(
      swell(c, [40, -59, 67], [13, 17, 20], -7),
      lips(c, ({ t, m }) => [-m.x * 0.2, m.onLip ? m.above * 0.06 : 0, 2.6 * (1 - 0.3 * t)], [8, 9, 10]),
    ),
  ),
];

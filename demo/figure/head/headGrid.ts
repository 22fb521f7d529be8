import { radians, type Vec3 } from "../../../core/math/vec3";
import { smoothstep } from "../../modelling/blend";
import { monotoneCurve } from "../../modelling/monotoneTable";
import type { GridWindow } from "../../modelling/quadMesh";
import { mirrored } from "../placement";
import { onHead, outermost, SKULL_CENTRE } from "./headForm";

/** Last column (back of the head) and last row (the ring under the jaw, where the neck takes over). */
export const LAST_COLUMN = 28;
export const LAST_ROW = 31;
/** What is left open in the grid; the mouth's window reaches over the middle. */
export const EYE_WINDOW: GridWindow = { columns: [5, 13], rows: [8, 13] };
export const MOUTH_WINDOW: GridWindow = { columns: [-6, 6], rows: [22, 26] };
export const EAR_WINDOW: GridWindow = { columns: [19, 23], rows: [9, 19] };

/**
 * Azimuth of the columns in the eyes' rows and in the mouth's; between them the two are blended, or the mouth's corners
 * fold. Degrees.
 */
const COLUMN_STOPS = [0, 2, 5, 6, 9, 13, 16, 19, 23, 25.5, 28];
const azimuthAtEyes = monotoneCurve(COLUMN_STOPS, [0, 4, 10.2, 12.8, 21.5, 34.5, 50, 78, 112, 144, 180]);
const azimuthAtMouth = monotoneCurve(COLUMN_STOPS, [0, 6.6, 16.8, 20.4, 28, 39, 53, 78, 112, 144, 180]);
function azimuthOf(column: number, row: number): number {
  const mouth = smoothstep(14, 21.5, row) * (1 - 0.35 * smoothstep(29, 34, row));
  return azimuthAtEyes(column) * (1 - mouth) + azimuthAtMouth(column) * mouth;
}

/** Elevation of the rows in front, at the side and behind. Degrees. */
const ROW_STOPS = [0, 2, 4, 6, 8, 13, 15, 18, 20, 22, 26, 28, 30, 32, 33];
const inFront = monotoneCurve(
  ROW_STOPS,
  [62, 44, 31, 21, 13.5, -5.5, -11.5, -18.4, -22.2, -26.6, -42.2, -47.5, -54, -63, -67.5],
);
const atSide = monotoneCurve(ROW_STOPS, [62, 45, 33, 24, 16, -3, -9.5, -17.5, -22.5, -28, -41, -47, -52.5, -57, -59]);
const behind = monotoneCurve(ROW_STOPS, [62, 47, 37, 29, 22, 3, -3, -9.5, -13, -17.5, -28, -32, -35, -38, -39]);
const elevationOf = (row: number, azimuth: number): number =>
  monotoneCurve(
    [0, 60, 95, 180],
    [inFront(row), inFront(row) * 0.35 + atSide(row) * 0.65, atSide(row), behind(row)],
  )(azimuth);

const onMiddle = (p: Vec3, column: number): Vec3 => (column === 0 || column === LAST_COLUMN ? [0, p[1], p[2]] : p);

/** Points of the left half's grid, row by row from the crown down, evened out on the head's form. */
export function headGrid(): Vec3[][] {
  let grid = Array.from({ length: LAST_ROW + 1 }, (_, row) =>
    Array.from({ length: LAST_COLUMN + 1 }, (_, column) => {
      const azimuth = azimuthOf(column, row);
      const [a, e] = [radians(azimuth), radians(elevationOf(row, azimuth))];
      return onMiddle(
        outermost(SKULL_CENTRE, [Math.sin(a) * Math.cos(e), Math.sin(e), Math.cos(a) * Math.cos(e)]),
        column,
      );
    }),
  );
  for (let round = 0; round < 14; round++) {
    const before = grid;
    grid = before.map((points, row) =>
      points.map((p, column) => {
        if (row === 0 || row === LAST_ROW) return p;
        const left = column === 0 ? mirrored(points[1]!) : points[column - 1]!;
        const right = column === LAST_COLUMN ? mirrored(points[LAST_COLUMN - 1]!) : points[column + 1]!;
        const [up, down] = [before[row - 1]![column]!, before[row + 1]![column]!];
        const share = p[2] > 50 && row < 28 ? 0.12 : 0.35;
        const moved = p.map(
          (v, k) => v + share * ((left[k]! + right[k]! + up[k]! + down[k]!) / 4 - v),
        ) as unknown as Vec3;
        return onMiddle(onHead(moved, 3), column);
      }),
    );
  }
  return grid;
}

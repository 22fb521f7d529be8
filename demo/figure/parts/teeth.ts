import type { Vec3 } from "../../../core/math/vec3";
import type { Quad } from "../../modelling/quadMesh";
import { colour, mixColour } from "./colour";
import { newPart, type PartMesh, type PartSide } from "./partMesh";

/**
 * Depth of the front of the teeth at a distance from the middle: a flat curve in front, steep at the sides. Head units.
 */
const ARCH = { square: 0.03, fourth: 0.0000165 };
const FRONT = { upper: 85.2, lower: 82.2 };
export const archDepth = (x: number, upper: boolean): number =>
  (upper ? FRONT.upper : FRONT.lower) - ARCH.square * x * x - ARCH.fourth * x ** 4;
export const archSlope = (x: number): number => -2 * ARCH.square * x - 4 * ARCH.fourth * x ** 3;

/** Breadths of the crowns from the middle outward: two incisors, canine, two premolars, two molars. */
const BREADTHS = [8.4, 6.6, 7.6, 7, 7, 9.5, 9.5];
const LOWER_NARROWER = 0.86;
const THICKNESS = [2.6, 2.6, 2.6, 5.5, 5.5, 8, 8];
/** Where the crowns end, and how much each ends higher or lower. */
const UPPER = { gum: -58.5, tip: -70.2, ends: [0, 0.45, -0.1, 0, 0, 0.8, 0.8], ivory: colour(246, 241, 228) };
const LOWER = { gum: -80, tip: -69.2, ends: [-0.3, -0.2, -0.3, -0.3, -0.3, -0.8, -0.8], ivory: colour(242, 236, 220) };
const GUM = colour(176, 92, 88);
/** How much shorter a crown is at its corners than in its middle: incisors square, the canine pointed, molars flat. */
const CORNERS = [0.7, 0.9, 1.5, 0.9, 0.8, 0.4, 0.4];
/** Where two crowns meet less light comes. */
const BETWEEN = 0.68;
const [COLUMNS, ROWS] = [4, 5];

const shaded = (c: Vec3, by: number): Vec3 => [c[0] * by, c[1] * by, c[2] * by];

export function teeth(upper: boolean): PartMesh {
  const part = newPart();
  for (const side of [1, -1] as const) {
    let from = 0;
    BREADTHS.forEach((breadth, i) => {
      const to = walkArch(from, upper ? breadth : breadth * LOWER_NARROWER, upper);
      addCrown(part, { from, to, index: i, upper, side });
      from = to;
    });
  }
  return part;
}

/** How far out one gets along the arch from x by a length. */
function walkArch(x: number, length: number, upper: boolean): number {
  const STEP = 0.1;
  let walked = 0;
  let at = x;
  while (walked < length) {
    walked += Math.hypot(STEP, archDepth(at + STEP, upper) - archDepth(at, upper));
    at += STEP;
  }
  return at;
}

function addCrown(
  part: PartMesh,
  { from, to, index, upper, side }: { from: number; to: number; index: number; upper: boolean; side: PartSide },
): void {
  const { gum, tip, ends, ivory } = upper ? UPPER : LOWER;
  const end = tip + ends[index]!;
  const perRow = COLUMNS + 1;
  const front = part.points.length;
  const columnX = (u: number): number => from + ((to - from) * u) / COLUMNS;
  for (let v = 0; v <= ROWS; v++)
    for (let u = 0; u <= COLUMNS; u++) {
      const across = (u / COLUMNS) * 2 - 1;
      const down = v / ROWS;
      const x = columnX(u);
      const slope = archSlope(x);
      const steep = Math.hypot(1, slope);
      const rounded = Math.sqrt(Math.max(0, 1 - Math.pow(Math.abs(across), 4))) * (1 - Math.pow(down, 6) * 0.55);
      const out = -0.9 + 1.2 * rounded - (down > 0.99 ? 0.8 : 0);
      const narrowed = (from + to) / 2 + (x - (from + to) / 2) * (0.985 - 0.1 * (1 - down));
      const leaning = (upper ? 1 : 0.6) * (1 - down) * -1.2;
      part.add(
        [
          side * (narrowed - (slope / steep) * out),
          gum + (end - gum) * down - Math.sign(end - gum) * CORNERS[index]! * Math.abs(across) ** 2.5 * down ** 3,
          archDepth(x, upper) + out / steep + leaning,
        ],
        mixColour(GUM, shaded(ivory, Math.abs(across) > 0.9 ? BETWEEN : 1), down > 0.28 ? 1 : 0),
      );
    }
  const back = part.points.length;
  const thick = THICKNESS[index]!;
  for (let v = 0; v <= ROWS; v++)
    for (let u = 0; u <= COLUMNS; u++) {
      const p = part.points[front + v * perRow + u]!;
      const slope = archSlope(columnX(u));
      const steep = Math.hypot(1, slope);
      const behind: Vec3 = [p[0] + side * (slope / steep) * thick, p[1], p[2] - thick / steep];
      part.add(behind, v > 2 ? shaded(ivory, Math.abs((u / COLUMNS) * 2 - 1) > 0.9 ? BETWEEN : 0.9) : GUM);
    }
  const put = (q: Quad): void => void part.quads.push(side > 0 === upper ? q : (q.reverse() as Quad));
  for (let v = 0; v < ROWS; v++)
    for (let u = 0; u < COLUMNS; u++) {
      const a = front + v * perRow + u;
      const b = back + v * perRow + u;
      put([a, a + perRow, a + perRow + 1, a + 1]);
      put([b + 1, b + perRow + 1, b + perRow, b]);
    }
  for (let u = 0; u < COLUMNS; u++) {
    const a = front + ROWS * perRow + u;
    const b = back + ROWS * perRow + u;
    put([a, b, b + 1, a + 1]);
  }
}

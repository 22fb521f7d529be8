import { degrees, radians, type Vec3 } from "../../../core/math/vec3";
import { smoothMax, smoothstep } from "../../modelling/blend";
import { addScaled } from "../../modelling/fields";
import { monotoneCurve } from "../../modelling/monotoneTable";
import { outermost, SKULL_CENTRE } from "../head/headForm";
import { colour, mixColour, scatter } from "./colour";
import { capEnds, newPart, skinRings, type PartMesh } from "./partMesh";

/** Elevation of the hairline by azimuth from the front, degrees. */
const hairline = monotoneCurve(
  [0, 14, 28, 42, 52, 60, 68, 75, 79, 84, 90, 100, 108, 118, 135, 155, 180],
  [44, 43.5, 41.5, 38, 32.5, 25, 14, 3, 4.5, 10.5, 15.5, 17.5, 12, -9, -27, -34, -37],
);
/** Lower edge of the cap by azimuth, about its own middle. */
const capEdge = monotoneCurve([0, 40, 80, 110, 140, 180], [29, 27, 19, 15, 3, -4]);
const CAP_MIDDLE: Vec3 = [0, 8, -4];
/** Where the strands run together, at the back of the head. */
const KNOT = directionOf(180, -4);

export type HairStyle = "bun" | "under a cap" | "cropped";

function directionOf(azimuth: number, elevation: number): Vec3 {
  const [a, e] = [radians(azimuth), radians(elevation)];
  return [Math.sin(a) * Math.cos(e), Math.sin(e), Math.cos(a) * Math.cos(e)];
}
const azimuthOf = (d: Vec3): number => degrees(Math.atan2(d[0], d[2]));
const folded = (azimuth: number): number => (azimuth > 180 ? 360 - azimuth : azimuth);

const [COLUMNS, ROWS] = [96, 21];
const [DARK, LIGHT] = [colour(60, 40, 30), colour(98, 69, 50)];
const [BUN_DARK, BUN_LIGHT] = [colour(58, 38, 28), colour(92, 64, 46)];

/** Hair as a shell of combed strands from the hairline to the back of the head. */
export function hair(style: HairStyle): PartMesh {
  const part = newPart();
  for (let row = 0; row < ROWS; row++)
    for (let column = 0; column < COLUMNS; column++) addStrandPoint(part, row, column, style);
  skinRings(part, 0, ROWS, COLUMNS, { flip: true });
  if (style === "cropped") part.capRing(Array.from({ length: COLUMNS }, (_, i) => (ROWS - 1) * COLUMNS + i));
  else addBun(part);
  return part;
}

function addStrandPoint(part: PartMesh, row: number, column: number, style: HairStyle): void {
  const azimuth = (column / COLUMNS) * 360;
  const off = folded(azimuth);
  const share = Math.pow(row / (ROWS - 1), 1.15) * 0.985;
  const root = directionOf(azimuth, hairline(off) - 1 + (scatter(column) - 0.5) * 0.8);
  const arc = Math.acos(Math.max(-1, Math.min(1, root[0] * KNOT[0] + root[1] * KNOT[1] + root[2] * KNOT[2])));
  const combed = [0, 1, 2].map(
    (k) => (Math.sin((1 - share) * arc) * root[k]! + Math.sin(share * arc) * KNOT[k]!) / Math.sin(arc),
  ) as unknown as Vec3;
  const direction = aboveHairline(combed, off, share);
  const walked = degrees(share * arc);
  const phase = (2 * Math.PI * column) / COLUMNS;
  const strand = Math.sin(phase * 13 + share * 1.5) * 0.5 + Math.sin(phase * 23 + 1.1) * 0.32;
  const skin = outermost(SKULL_CENTRE, direction);
  const full = style === "cropped" ? 0.55 : 1;
  let height =
    -0.9 +
    3.2 * smoothstep(0, 5, walked) +
    full * 8.5 * smoothstep(2, 38, walked) +
    full * 3 * smoothstep(40, 90, walked) * Math.max(0, direction[1]);
  height += strand * 0.8 * smoothstep(0, 10, walked) * (1 - 0.5 * share);
  if (style === "under a cap") {
    const q: Vec3 = [skin[0] - CAP_MIDDLE[0], skin[1] - CAP_MIDDLE[1], skin[2] - CAP_MIDDLE[2]];
    const elevation = degrees(Math.atan2(q[1], Math.hypot(q[0], q[2])));
    const pressed = smoothstep(-6, 3, elevation - capEdge(Math.abs(azimuthOf(q))));
    height = height * (1 - pressed) + Math.min(height, 2.2) * pressed;
  }
  part.add(
    addScaled(skin, direction, height),
    mixColour(DARK, LIGHT, Math.min(1, Math.max(0, 0.45 + 0.5 * strand + 0.12 * Math.sin(phase * 7)))),
  );
}

/** Strands stay above the hairline, so that they pass over the ear. */
function aboveHairline(combed: Vec3, rootAzimuth: number, share: number): Vec3 {
  const l = Math.hypot(...combed);
  const d: Vec3 = [combed[0] / l, combed[1] / l, combed[2] / l];
  const azimuth = azimuthOf(d);
  const off = Math.abs(azimuth);
  const lowest =
    rootAzimuth < 112 && off > 100
      ? 17.5 - 21.5 * smoothstep(100, 182, off) + (112 - rootAzimuth) * 0.06 * (1 - share)
      : hairline(off) + 4.8 * share;
  return directionOf(azimuth, smoothMax(degrees(Math.asin(d[1])), lowest, 5));
}

/** Texture coordinates of hair: strands from the hairline down the picture, left and right alike, so without a seam. */
export function hairCoordinates(style: HairStyle): Float32Array {
  const round = (i: number, of: number): number => (2 * Math.min(i, of - i)) / of;
  const shell = Array.from({ length: ROWS * COLUMNS }, (_, i) => [
    4 * round(i % COLUMNS, COLUMNS),
    Math.floor(i / COLUMNS) / (ROWS - 1),
  ]);
  const bun = Array.from({ length: style === "cropped" ? 0 : BUN.rings * BUN.spokes }, (_, i) => [
    round(i % BUN.spokes, BUN.spokes),
    // clear of the hairline's edge
    0.15 + (0.8 * Math.floor(i / BUN.spokes)) / (BUN.rings - 1),
  ]);
  return Float32Array.from([...shell, ...bun].flat());
}

const BUN = { spokes: 24, rings: 13, radius: 25 } as const;

function addBun(part: PartMesh): void {
  const { spokes, rings, radius } = BUN;
  const middle: Vec3 = [0, -12, -112];
  const first = part.points.length;
  for (let ring = 0; ring < rings; ring++)
    for (let i = 0; i < spokes; i++) {
      const t = 0.09 + ((Math.PI - 0.18) * ring) / (rings - 1);
      const a = (2 * Math.PI * i) / spokes;
      const twist = a * 5 + t * 6;
      const strand = Math.sin(twist) * 0.5 + Math.sin(twist * 2.1) * 0.3;
      const r = radius + strand * 0.7;
      part.add(
        [
          middle[0] + r * 1.12 * Math.sin(t) * Math.cos(a),
          middle[1] + r * Math.sin(t) * Math.sin(a),
          middle[2] - r * 0.85 * Math.cos(t),
        ],
        mixColour(BUN_DARK, BUN_LIGHT, 0.5 + 0.4 * strand),
      );
    }
  skinRings(part, first, rings, spokes, { flip: true });
  capEnds(part, first, rings, spokes, { flip: true });
}

// ---- knitted cap
/** Lining, fold, cuff up, and back down to the crown: degrees above the edge, height off the head. */
const CUFF: readonly (readonly [rise: number, height: number])[] = [
  [9, 4.5],
  [4, 5],
  [0, 6],
  [-1.2, 8.2],
  [-0.6, 10.6],
  [3, 12],
  [9, 12.8],
  [15, 13],
  [19, 12.4],
  [20.2, 10.8],
  [19.4, 9],
];
const CAP_COLUMNS = 72;
const CROWN_ROWS = 9;
const [WOOL_DARK, WOOL_LIGHT] = [colour(30, 40, 58), colour(58, 72, 96)];

/** Head offset over the hair, with a turned-up cuff and ribs. */
export function cap(): PartMesh {
  const part = newPart();
  let row = 0;
  const addRow = (elevation: (azimuth: number) => number, height: number, ribbed: number): void => {
    for (let i = 0; i < CAP_COLUMNS; i++) {
      const azimuth = (i * 360) / CAP_COLUMNS;
      const direction = directionOf(azimuth, elevation(folded(azimuth)));
      const rib = (i % 2 ? 1 : -1) * 0.55 * ribbed;
      part.add(
        addScaled(outermost(CAP_MIDDLE, direction), direction, height + rib),
        mixColour(WOOL_DARK, WOOL_LIGHT, 0.45 + ((0.4 * rib) / 0.55) * 0.5 + 0.1 * scatter(i * 31 + row)),
      );
    }
    row++;
  };
  CUFF.forEach(([rise, height], i) => addRow((a) => capEdge(a) + rise, height, i < 8 ? 1 : 0.25));
  for (let t = 1; t <= CROWN_ROWS; t++) {
    const u = t / CROWN_ROWS;
    addRow(
      (a) => capEdge(a) + 19.4 + (89.2 - capEdge(a) - 19.4) * u,
      9 + 3 * Math.sin(Math.PI * u) + 7 * smoothstep(0, 1, u),
      t === 1 ? 0.4 : u < 0.8 ? 0.9 : 0.4,
    );
  }
  skinRings(part, 0, row, CAP_COLUMNS, { flip: true });
  part.capRing(Array.from({ length: CAP_COLUMNS }, (_, i) => (row - 1) * CAP_COLUMNS + i));
  return part;
}

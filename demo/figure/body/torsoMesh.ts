import { add, lerp, normalize, radians, scale, type Vec3 } from "../../../core/math/vec3";
import { mix } from "../../modelling/blend";
import { castRay, projectTo, surfaceFrom } from "../../modelling/fields";
import { monotoneTable } from "../../modelling/monotoneTable";
import { isCellInside, isInside, type GridWindow, type QuadMesh } from "../../modelling/quadMesh";
import { bodyForm, trunkForm } from "./bodyForm";
import type { BodyTag } from "./bodyTags";

/** Half columns of the trunk: 0 is the front's middle, COLUMNS the back's. */
export const COLUMNS = 18;
/** Heights of the trunk's rows in front, at the side, behind. Metres. The last row is where the neck begins. */
export const ROW_HEIGHTS: readonly (readonly [front: number, side: number, back: number])[] = [
  [0.803, 0.868, 0.806],
  [0.828, 0.886, 0.832],
  [0.853, 0.905, 0.857],
  [0.879, 0.925, 0.882],
  [0.905, 0.945, 0.908],
  [0.932, 0.966, 0.934],
  [0.96, 0.988, 0.96],
  [0.988, 1.01, 0.987],
  [1.015, 1.032, 1.013],
  [1.042, 1.053, 1.04],
  [1.068, 1.074, 1.066],
  [1.094, 1.096, 1.093],
  [1.12, 1.12, 1.12],
  [1.145, 1.144, 1.147],
  [1.168, 1.168, 1.174],
  [1.19, 1.192, 1.2],
  [1.212, 1.216, 1.226],
  [1.233, 1.246, 1.25],
  [1.254, 1.268, 1.273],
  [1.275, 1.29, 1.296],
  [1.296, 1.312, 1.317],
  [1.315, 1.335, 1.336],
  [1.332, 1.36, 1.354],
  [1.347, 1.385, 1.371],
  [1.359, 1.397, 1.387],
  [1.37, 1.406, 1.402],
  [1.382, 1.416, 1.417],
  [1.397, 1.427, 1.433],
];
export const LAST_ROW = ROW_HEIGHTS.length - 1;
/** The armhole. */
const ARMHOLE: GridWindow = { columns: [7, 11], rows: [17, 23] };
const ARMHOLE_CENTRE: Vec3 = [0.15, 1.318, -0.014];
const ARMHOLE_UP: Vec3 = normalize([-0.17, 0.985, 0]);
const AXIS_DEPTH = monotoneTable([
  [0.76, -0.01],
  [0.9, 0],
  [1.06, 0.008],
  [1.2, -0.012],
  [1.3, -0.02],
  [1.36, -0.03],
  [1.42, -0.018],
  [1.5, 0],
]);

export interface TorsoMesh {
  /** Vertex of every row and column; -1 inside the armhole. */
  readonly grid: readonly (readonly number[])[];
  /** The 20 vertices round the armhole, from the top forward. */
  readonly armhole: readonly number[];
}

function heightAt(row: number, angle: number): number {
  const c = Math.cos(angle);
  const [front, side, back] = ROW_HEIGHTS[row]!;
  return mix(side, c >= 0 ? front : back, c * c);
}

/** The left half of the trunk: rows cast from its axis, an armhole with its own loop. */
export function buildTorso(mesh: QuadMesh<BodyTag>): TorsoMesh {
  const grid = ROW_HEIGHTS.map((_, row) =>
    Array.from({ length: COLUMNS + 1 }, (_, column) => {
      if (isInside(column, row, ARMHOLE)) return -1;
      const angle = (Math.PI * column) / COLUMNS;
      const y = heightAt(row, angle);
      const out = normalize([1.35 * Math.sin(angle), 0, Math.cos(angle)]);
      const direction: Vec3 = column === 0 || column === COLUMNS ? [0, out[1], out[2]] : out;
      return mesh.add(castRay(trunkForm, [0, y, AXIS_DEPTH(y)[0]!], direction, 0.3) ?? [0, y, 0], {
        region: "torso",
        row,
        column,
        form: bodyForm,
        pin: 0,
      });
    }),
  );
  const armhole = placeArmhole(mesh, grid);
  spreadRowsBesideArmhole(mesh, grid);
  for (let row = 0; row < LAST_ROW; row++)
    for (let column = 0; column < COLUMNS; column++)
      if (!isCellInside(column, row, ARMHOLE))
        mesh.quads.push([
          grid[row]![column]!,
          grid[row]![column + 1]!,
          grid[row + 1]![column + 1]!,
          grid[row + 1]![column]!,
        ]);
  return { grid, armhole };
}

/** Grid places round the armhole, from the middle of its upper side forward and down. */
function armholeRing(): [row: number, column: number][] {
  const {
    columns: [c0, c1],
    rows: [r0, r1],
  } = ARMHOLE;
  const ring: [number, number][] = [];
  for (let c = (c0 + c1) / 2; c >= c0; c--) ring.push([r1, c]);
  for (let r = r1 - 1; r >= r0; r--) ring.push([r, c0]);
  for (let c = c0 + 1; c <= c1; c++) ring.push([r0, c]);
  for (let r = r0 + 1; r <= r1; r++) ring.push([r, c1]);
  ring.push([r1, c1 - 1]);
  return ring;
}

function placeArmhole(mesh: QuadMesh<BodyTag>, grid: readonly (readonly number[])[]): number[] {
  return armholeRing().map(([row, column], spoke) => {
    const angle = radians(18 * spoke);
    const v = grid[row]![column]!;
    mesh.points[v] = projectTo(
      bodyForm,
      surfaceFrom(bodyForm, ARMHOLE_CENTRE, add(scale(ARMHOLE_UP, Math.cos(angle)), [0, 0, Math.sin(angle)]), 0.075),
    );
    mesh.tags[v]!.pin = 0.75;
    return v;
  });
}

/** Rows beside and above the armhole are spread evenly between what is fixed, then put back on the form. */
function spreadRowsBesideArmhole({ points, tags }: QuadMesh<BodyTag>, grid: readonly (readonly number[])[]): void {
  const {
    columns: [c0, c1],
    rows: [r0, r1],
  } = ARMHOLE;
  for (let row = r0; row <= r1; row++)
    for (const [middle, edge, bulge] of [
      [0, c0, 0.03],
      [COLUMNS, c1, -0.03],
    ] as const) {
      const step = Math.sign(edge - middle);
      for (let column = middle + step; column !== edge; column += step) {
        const t = (column - middle) / (edge - middle);
        points[grid[row]![column]!] = add(lerp(points[grid[row]![middle]!]!, points[grid[row]![edge]!]!, t), [
          0,
          0,
          bulge * Math.sin(t * Math.PI),
        ]);
      }
    }
  for (let row = r1 + 1; row <= r1 + 3; row++)
    for (let column = 1; column < COLUMNS; column++)
      points[grid[row]![column]!] = lerp(points[grid[r1]![column]!]!, points[grid[r1 + 4]![column]!]!, (row - r1) / 4);
  for (let row = r0; row <= r1 + 3; row++)
    grid[row]!.forEach((v, column) => {
      if (v < 0 || tags[v]!.pin !== 0) return;
      const p = projectTo(trunkForm, points[v]!, { maxStep: 0.02, rounds: 6 });
      points[v] = column === 0 || column === COLUMNS ? [0, p[1], p[2]] : p;
    });
}

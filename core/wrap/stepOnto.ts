import type { Similarity } from "../math/similarity";
import type { Vec3 } from "../math/vec3";
import { fromAxisAngle, rotate } from "../math/quat";

/** A point that is to come onto the plane through another, square to a normal. */
export interface PlanePair {
  readonly from: Vec3;
  readonly to: Vec3;
  readonly normal: Vec3;
  readonly weight: number;
}

/** Held back where the planes say nothing, as a turn about the axis of a round head: shares of the diagonal. */
const RIDGE = 1e-4;

/**
 * A small move that brings points nearer to their planes in least squares, linearised (point to plane after Chen &
 * Medioni 1992): points slide along a surface, where moving
 * them to their nearest places would hold them. @param withSize whether they may grow or shrink too.
 */
export function stepOnto(pairs: readonly PlanePair[], withSize: boolean): Similarity {
  const n = withSize ? 7 : 6;
  const centre: Vec3 = [0, 1, 2].map((c) =>
    pairs.reduce((sum, p) => sum + p.from[c]! / pairs.length, 0),
  ) as unknown as Vec3;
  const A = new Float64Array(n * n);
  const b = new Float64Array(n);
  for (const { from, to, normal, weight } of pairs) {
    const q = [0, 1, 2].map((c) => from[c]! - centre[c]!) as [number, number, number];
    const off = normal.reduce((sum, x, c) => sum + x * (to[c]! - from[c]!), 0);
    // what a turn, a shift and a growth do along the normal; turns and growth in units of the points' spread
    const row = [
      q[1] * normal[2] - q[2] * normal[1],
      q[2] * normal[0] - q[0] * normal[2],
      q[0] * normal[1] - q[1] * normal[0],
      ...normal,
      q[0] * normal[0] + q[1] * normal[1] + q[2] * normal[2],
    ];
    for (let i = 0; i < n; i++) {
      b[i]! += weight * row[i]! * off;
      for (let j = 0; j < n; j++) A[n * i + j]! += weight * row[i]! * row[j]!;
    }
  }
  for (let i = 0; i < n; i++) A[n * i + i]! *= 1 + RIDGE;
  const x = solveDense(A, b);
  const turn: Vec3 = [x[0]!, x[1]!, x[2]!];
  const angle = Math.hypot(...turn);
  const quat = fromAxisAngle(
    angle > 1e-12 ? (turn.map((t) => t / angle) as unknown as Vec3) : [1, 0, 0],
    (angle * 180) / Math.PI,
  );
  const rotation = new Float64Array(9);
  for (let k = 0; k < 3; k++) rotation.set(rotate(quat, [k === 0 ? 1 : 0, k === 1 ? 1 : 0, k === 2 ? 1 : 0]), 3 * k);
  const scale = 1 + (withSize ? x[6]! : 0);
  const turned = rotate(quat, centre);
  return {
    scale,
    rotation,
    offset: [0, 1, 2].map((c) => centre[c]! + x[3 + c]! - scale * turned[c]!) as unknown as Vec3,
  };
}

/** One similarity after another. */
export function after(then: Similarity, first: Similarity): Similarity {
  const turn = (p: ArrayLike<number>, i: number): number =>
    then.rotation[i]! * p[0]! + then.rotation[3 + i]! * p[1]! + then.rotation[6 + i]! * p[2]!;
  const rotation = new Float64Array(9);
  for (let k = 0; k < 3; k++)
    for (let i = 0; i < 3; i++) rotation[3 * k + i] = turn(first.rotation.subarray(3 * k, 3 * k + 3), i);
  return {
    scale: then.scale * first.scale,
    rotation,
    offset: [0, 1, 2].map((i) => then.scale * turn(first.offset, i) + then.offset[i]!) as unknown as Vec3,
  };
}

/** Solves a small symmetric positive system by elimination with pivots. */
function solveDense(A: Float64Array, b: Float64Array): Float64Array {
  const n = b.length;
  const m = A.slice();
  const x = b.slice();
  for (let k = 0; k < n; k++) {
    let pivot = k;
    for (let i = k + 1; i < n; i++) if (Math.abs(m[n * i + k]!) > Math.abs(m[n * pivot + k]!)) pivot = i;
    if (Math.abs(m[n * pivot + k]!) < 1e-30) return new Float64Array(n);
    if (pivot !== k) {
      for (let j = 0; j < n; j++) [m[n * k + j], m[n * pivot + j]] = [m[n * pivot + j]!, m[n * k + j]!];
      [x[k], x[pivot]] = [x[pivot]!, x[k]!];
    }
    for (let i = k + 1; i < n; i++) {
      const f = m[n * i + k]! / m[n * k + k]!;
      for (let j = k; j < n; j++) m[n * i + j]! -= f * m[n * k + j]!;
      x[i]! -= f * x[k]!;
    }
  }
  for (let k = n - 1; k >= 0; k--) {
    for (let j = k + 1; j < n; j++) x[k]! -= m[n * k + j]! * x[j]!;
    x[k]! /= m[n * k + k]!;
  }
  return x;
}

import { type Quat, type Vec3 } from "./vec3";
import { fromAxes, normalizeQuat } from "./quat";

/** Column-major 4x4 matrices in flat arrays; `at` arguments are offsets in floats. */
export type Mat4 = Float64Array | Float32Array;

export function composeTRS(out: Mat4, at: number, t: Vec3, q: Quat, s: Vec3): void {
  const [x, y, z, w] = q;
  out[at] = (1 - 2 * (y * y + z * z)) * s[0];
  out[at + 1] = 2 * (x * y + w * z) * s[0];
  out[at + 2] = 2 * (x * z - w * y) * s[0];
  out[at + 3] = 0;
  out[at + 4] = 2 * (x * y - w * z) * s[1];
  out[at + 5] = (1 - 2 * (x * x + z * z)) * s[1];
  out[at + 6] = 2 * (y * z + w * x) * s[1];
  out[at + 7] = 0;
  out[at + 8] = 2 * (x * z + w * y) * s[2];
  out[at + 9] = 2 * (y * z - w * x) * s[2];
  out[at + 10] = (1 - 2 * (x * x + y * y)) * s[2];
  out[at + 11] = 0;
  out[at + 12] = t[0];
  out[at + 13] = t[1];
  out[at + 14] = t[2];
  out[at + 15] = 1;
}

/** out = a * b. `out` may not overlap the inputs. */
export function multiplyMat4(
  out: Mat4,
  at: number,
  a: ArrayLike<number>,
  aAt: number,
  b: ArrayLike<number>,
  bAt: number,
): void {
  for (let c = 0; c < 4; c++) {
    const b0 = b[bAt + 4 * c]!;
    const b1 = b[bAt + 4 * c + 1]!;
    const b2 = b[bAt + 4 * c + 2]!;
    const b3 = b[bAt + 4 * c + 3]!;
    for (let r = 0; r < 4; r++)
      out[at + 4 * c + r] = a[aAt + r]! * b0 + a[aAt + 4 + r]! * b1 + a[aAt + 8 + r]! * b2 + a[aAt + 12 + r]! * b3;
  }
}

/** Inverse of an affine matrix; returns false (and leaves `out`) when it is singular. */
export function invertAffine(out: Mat4, at: number, m: ArrayLike<number>, mAt: number): boolean {
  const a = (i: number): number => m[mAt + i]!;
  const c0 = a(5) * a(10) - a(6) * a(9);
  const c1 = a(2) * a(9) - a(1) * a(10);
  const c2 = a(1) * a(6) - a(2) * a(5);
  const det = a(0) * c0 + a(4) * c1 + a(8) * c2;
  if (!(Math.abs(det) > 1e-20)) return false;
  const d = 1 / det;
  const i = [
    c0 * d,
    c1 * d,
    c2 * d,
    (a(6) * a(8) - a(4) * a(10)) * d,
    (a(0) * a(10) - a(2) * a(8)) * d,
    (a(2) * a(4) - a(0) * a(6)) * d,
    (a(4) * a(9) - a(5) * a(8)) * d,
    (a(1) * a(8) - a(0) * a(9)) * d,
    (a(0) * a(5) - a(1) * a(4)) * d,
  ];
  const t = [a(12), a(13), a(14)];
  for (let c = 0; c < 3; c++) {
    for (let r = 0; r < 3; r++) out[at + 4 * c + r] = i[3 * c + r]!;
    out[at + 4 * c + 3] = 0;
  }
  for (let r = 0; r < 3; r++) out[at + 12 + r] = -(i[r]! * t[0]! + i[3 + r]! * t[1]! + i[6 + r]! * t[2]!);
  out[at + 15] = 1;
  return true;
}

export const transformPoint = (m: ArrayLike<number>, at: number, p: Vec3): Vec3 => [
  m[at]! * p[0] + m[at + 4]! * p[1] + m[at + 8]! * p[2] + m[at + 12]!,
  m[at + 1]! * p[0] + m[at + 5]! * p[1] + m[at + 9]! * p[2] + m[at + 13]!,
  m[at + 2]! * p[0] + m[at + 6]! * p[1] + m[at + 10]! * p[2] + m[at + 14]!,
];
export const transformDirection = (m: ArrayLike<number>, at: number, p: Vec3): Vec3 => [
  m[at]! * p[0] + m[at + 4]! * p[1] + m[at + 8]! * p[2],
  m[at + 1]! * p[0] + m[at + 5]! * p[1] + m[at + 9]! * p[2],
  m[at + 2]! * p[0] + m[at + 6]! * p[1] + m[at + 10]! * p[2],
];
export const translationOf = (m: ArrayLike<number>, at: number): Vec3 => [m[at + 12]!, m[at + 13]!, m[at + 14]!];

/** Splits an affine matrix without shear into translation, rotation, scale. */
export function decomposeTRS(m: ArrayLike<number>, at: number): { t: Vec3; q: Quat; s: Vec3 } {
  const col = (c: number): Vec3 => [m[at + 4 * c]!, m[at + 4 * c + 1]!, m[at + 4 * c + 2]!];
  const s = [0, 1, 2].map((c) => Math.hypot(...col(c)));
  const det =
    m[at]! * (m[at + 5]! * m[at + 10]! - m[at + 6]! * m[at + 9]!) -
    m[at + 4]! * (m[at + 1]! * m[at + 10]! - m[at + 2]! * m[at + 9]!) +
    m[at + 8]! * (m[at + 1]! * m[at + 6]! - m[at + 2]! * m[at + 5]!);
  if (det < 0) s[0] = -s[0]!;
  const unit = (c: number): Vec3 => {
    const v = col(c);
    const k = s[c]! || 1;
    return [v[0] / k, v[1] / k, v[2] / k];
  };
  return { t: translationOf(m, at), q: normalizeQuat(fromAxes(unit(0), unit(1), unit(2))), s: [s[0]!, s[1]!, s[2]!] };
}
export const identityMat4 = (): Float64Array => Float64Array.from([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]);

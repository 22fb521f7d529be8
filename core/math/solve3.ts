import { cross, dot, type Vec3 } from "./vec3";

/** Solves a 3x3 system by Cramer's rule. @param m 9 numbers, column-major. */
export function solve3(m: ArrayLike<number>, b: Vec3): Vec3 {
  const [a0, a1, a2] = [
    [m[0]!, m[1]!, m[2]!],
    [m[3]!, m[4]!, m[5]!],
    [m[6]!, m[7]!, m[8]!],
  ] as [Vec3, Vec3, Vec3];
  const det = dot(a0, cross(a1, a2));
  return [dot(b, cross(a1, a2)) / det, dot(a0, cross(b, a2)) / det, dot(a0, cross(a1, b)) / det];
}

/**
 * Deformation gradient of every triangle: the 3x3 that carries its edges, and a normal as long as the root of its area,
 * from rest to moved (Sumner & Popovic 2004, equations 1 to 4). Identity where the triangle has no area.
 * @param triangles 3 x n. @param rest, moved 3 x vertexCount, metres. @returns 9 x n, column-major.
 */
export function deformationGradients(
  triangles: Uint32Array,
  rest: ArrayLike<number>,
  moved: ArrayLike<number>,
): Float64Array {
  const out = new Float64Array(3 * triangles.length);
  const a = new Float64Array(9);
  const b = new Float64Array(9);
  for (let t = 0; t < triangles.length; t += 3) {
    const inverse = frameOf(triangles, t, rest, a) && invert3(a);
    frameOf(triangles, t, moved, b);
    if (!inverse) {
      out.set([1, 0, 0, 0, 1, 0, 0, 0, 1], 3 * t);
      continue;
    }
    for (let i = 0; i < 3; i++)
      for (let j = 0; j < 3; j++)
        for (let k = 0; k < 3; k++) out[3 * t + 3 * j + i]! += b[3 * k + i]! * inverse[3 * j + k]!;
  }
  return out;
}

/** Two edges and the scaled normal as columns; false for a triangle without area. */
function frameOf(triangles: Uint32Array, t: number, P: ArrayLike<number>, out: Float64Array): boolean {
  const [a, b, c] = [3 * triangles[t]!, 3 * triangles[t + 1]!, 3 * triangles[t + 2]!];
  for (let k = 0; k < 3; k++) {
    out[k] = P[b + k]! - P[a + k]!;
    out[3 + k] = P[c + k]! - P[a + k]!;
  }
  const n = [
    out[1]! * out[5]! - out[2]! * out[4]!,
    out[2]! * out[3]! - out[0]! * out[5]!,
    out[0]! * out[4]! - out[1]! * out[3]!,
  ];
  const l = Math.hypot(...n);
  for (let k = 0; k < 3; k++) out[6 + k] = l > 0 ? n[k]! / Math.sqrt(l) : 0;
  return l > 1e-14;
}

const inverted = new Float64Array(9);
function invert3(m: Float64Array): Float64Array | null {
  inverted[0] = m[4]! * m[8]! - m[7]! * m[5]!;
  inverted[1] = m[7]! * m[2]! - m[1]! * m[8]!;
  inverted[2] = m[1]! * m[5]! - m[4]! * m[2]!;
  inverted[3] = m[6]! * m[5]! - m[3]! * m[8]!;
  inverted[4] = m[0]! * m[8]! - m[6]! * m[2]!;
  inverted[5] = m[3]! * m[2]! - m[0]! * m[5]!;
  inverted[6] = m[3]! * m[7]! - m[6]! * m[4]!;
  inverted[7] = m[6]! * m[1]! - m[0]! * m[7]!;
  inverted[8] = m[0]! * m[4]! - m[3]! * m[1]!;
  const det = m[0]! * inverted[0]! + m[3]! * inverted[1]! + m[6]! * inverted[2]!;
  if (Math.abs(det) < 1e-30) return null;
  for (let k = 0; k < 9; k++) inverted[k]! /= det;
  return inverted;
}

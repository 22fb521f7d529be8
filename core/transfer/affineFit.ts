/**
 * The affine map that carries points onto others in least squares: 3x3 column-major and a shift. Points in a plane get
 * the least change across it.
 */
export interface Affine {
  readonly linear: Float64Array;
  readonly shift: readonly [number, number, number];
}

/** @param from, to 3 x n, the same points. */
export function fitAffine(from: ArrayLike<number>, to: ArrayLike<number>): Affine {
  const n = from.length / 3;
  const mean = (P: ArrayLike<number>): number[] =>
    [0, 1, 2].map((c) => {
      let sum = 0;
      for (let i = c; i < P.length; i += 3) sum += P[i]!;
      return sum / n;
    });
  const [a, b] = [mean(from), mean(to)];
  const [xx, yx] = [new Float64Array(9), new Float64Array(9)];
  for (let i = 0; i < n; i++)
    for (let j = 0; j < 3; j++)
      for (let k = 0; k < 3; k++) {
        xx[3 * j + k]! += (from[3 * i + j]! - a[j]!) * (from[3 * i + k]! - a[k]!);
        yx[3 * j + k]! += (to[3 * i + k]! - b[k]!) * (from[3 * i + j]! - a[j]!);
      }
  // a trace of the identity keeps flat sets solvable
  const trace = (xx[0]! + xx[4]! + xx[8]!) * 1e-6 + 1e-18;
  for (let k = 0; k < 3; k++) {
    xx[4 * k]! += trace;
    yx[4 * k]! += trace;
  }
  const inverse = invertSymmetric(xx);
  const linear = new Float64Array(9);
  for (let j = 0; j < 3; j++)
    for (let i = 0; i < 3; i++) for (let k = 0; k < 3; k++) linear[3 * j + i]! += yx[3 * k + i]! * inverse[3 * j + k]!;
  const moved = applyLinear(linear, a[0]!, a[1]!, a[2]!);
  return { linear, shift: [b[0]! - moved[0], b[1]! - moved[1], b[2]! - moved[2]] };
}

export const applyLinear = (m: Float64Array, x: number, y: number, z: number): [number, number, number] => [
  m[0]! * x + m[3]! * y + m[6]! * z,
  m[1]! * x + m[4]! * y + m[7]! * z,
  m[2]! * x + m[5]! * y + m[8]! * z,
];

/** The box of points onto the box of others, axis by axis. */
export function fitBoxes(from: ArrayLike<number>, to: ArrayLike<number>): Affine {
  const box = (P: ArrayLike<number>, c: number): [number, number] => {
    let [low, high] = [Infinity, -Infinity];
    for (let i = c; i < P.length; i += 3) [low, high] = [Math.min(low, P[i]!), Math.max(high, P[i]!)];
    return [low, high];
  };
  const linear = new Float64Array(9);
  const shift = [0, 1, 2].map((c) => {
    const [[l0, h0], [l1, h1]] = [box(from, c), box(to, c)];
    linear[4 * c] = h0 - l0 > 1e-9 ? (h1 - l1) / (h0 - l0) : 1;
    return l1 - linear[4 * c]! * l0;
  }) as [number, number, number];
  return { linear, shift };
}

function invertSymmetric(m: Float64Array): Float64Array {
  const [a, b, c, d, e, f] = [m[0]!, m[1]!, m[2]!, m[4]!, m[5]!, m[8]!];
  const [A, B, C] = [d * f - e * e, c * e - b * f, b * e - c * d];
  const det = a * A + b * B + c * C;
  return Float64Array.from([A, B, C, B, a * f - c * c, b * c - a * e, C, b * c - a * e, a * d - b * b], (x) => x / det);
}

import type { SkinBinding } from "../model/character";
import { svd3 } from "../math/svd3";
import { blendedDual3, dualQuaternions } from "../deform/skinDual";
import { blendedLinear3 } from "../deform/skinLinear";
import type { SkinMethod } from "../evaluate/moment";

export interface InverseSkinOptions {
  /** A singular value under this share of a metre per metre counts as ill conditioned and is damped. */
  readonly smallestStretch: number;
}
export const INVERSE_SKIN_DEFAULTS: InverseSkinOptions = { smallestStretch: 0.2 };

export interface RestDeltas {
  /** 3 x posed.length / 3, metres, bind space. */
  readonly deltas: Float32Array;
  /** Vertices whose own skinning squashes space too far to be inverted well; their deltas are damped. */
  readonly ill: Uint32Array;
}

const m = new Float64Array(9);

/** Inverse of a well-conditioned 3x3 times a vector by cofactors. */
function solve3(a: Float64Array, x: number, y: number, z: number, out: Float32Array, at: number): void {
  const c0 = a[4]! * a[8]! - a[5]! * a[7]!;
  const c1 = a[5]! * a[6]! - a[3]! * a[8]!;
  const c2 = a[3]! * a[7]! - a[4]! * a[6]!;
  const d = 1 / (a[0]! * c0 + a[1]! * c1 + a[2]! * c2);
  out[at] = d * (c0 * x + c1 * y + c2 * z);
  out[at + 1] =
    d *
    ((a[2]! * a[7]! - a[1]! * a[8]!) * x + (a[0]! * a[8]! - a[2]! * a[6]!) * y + (a[1]! * a[6]! - a[0]! * a[7]!) * z);
  out[at + 2] =
    d *
    ((a[1]! * a[5]! - a[2]! * a[4]!) * x + (a[2]! * a[3]! - a[0]! * a[5]!) * y + (a[0]! * a[4]! - a[1]! * a[3]!) * z);
}

/**
 * Damped least squares, x = sum of sigma / (sigma^2 + lambda^2) v (u . d), with lambda rising as sigma falls under the
 * limit (Levenberg 1944; Nakamura & Hanafusa 1986).
 */
function solveDamped(
  a: Float64Array,
  sigma: readonly number[],
  v: Float64Array,
  limit: number,
  x: number,
  y: number,
  z: number,
  out: Float32Array,
  at: number,
): void {
  const lambda2 = limit * limit * (1 - Math.min(1, sigma[2]! / limit)) ** 2;
  out[at] = out[at + 1] = out[at + 2] = 0;
  for (let k = 0; k < 3; k++) {
    const vx = v[3 * k]!;
    const vy = v[3 * k + 1]!;
    const vz = v[3 * k + 2]!;
    const av = [
      a[0]! * vx + a[3]! * vy + a[6]! * vz,
      a[1]! * vx + a[4]! * vy + a[7]! * vz,
      a[2]! * vx + a[5]! * vy + a[8]! * vz,
    ];
    const share = (av[0]! * x + av[1]! * y + av[2]! * z) / (sigma[k]! ** 2 + lambda2 || 1);
    out[at]! += share * vx;
    out[at + 1]! += share * vy;
    out[at + 2]! += share * vz;
  }
}

/**
 * Returns differences made in a pose to bind space by inverting each vertex's own skinning.
 * Where the blended matrix squashes space in a direction (singular value under `smallestStretch`), the answer is damped
 * and the vertex is listed in `ill`.
 * @param posedDeltas 3 x vertexCount, metres, character space: sculpted minus posed.
 * @param matrices 16 x jointCount skinning matrices of the pose, or null for an unbound part (deltas pass through).
 */
export function inverseSkin(
  posedDeltas: Float32Array,
  skin: SkinBinding | null,
  matrices: ArrayLike<number> | null,
  method: SkinMethod,
  options: InverseSkinOptions = INVERSE_SKIN_DEFAULTS,
): RestDeltas {
  const deltas = new Float32Array(posedDeltas.length);
  if (!skin || !matrices) {
    deltas.set(posedDeltas);
    return { deltas, ill: new Uint32Array(0) };
  }
  const dual = method === "dual" ? dualQuaternions(matrices) : null;
  const ill: number[] = [];
  const limit = options.smallestStretch;
  for (let i = 0, vertex = 0; i < posedDeltas.length; i += 3, vertex++) {
    const x = posedDeltas[i]!;
    const y = posedDeltas[i + 1]!;
    const z = posedDeltas[i + 2]!;
    if (x === 0 && y === 0 && z === 0) continue;
    if (dual) {
      // a unit dual quaternion turns without stretch: its inverse is the transpose, trustworthy while the blend is long
      // enough
      const norm = blendedDual3(skin, dual, vertex, m);
      const damp = norm < limit ? norm / limit : 1;
      if (damp < 1) ill.push(vertex);
      deltas[i] = damp * (m[0]! * x + m[1]! * y + m[2]! * z);
      deltas[i + 1] = damp * (m[3]! * x + m[4]! * y + m[5]! * z);
      deltas[i + 2] = damp * (m[6]! * x + m[7]! * y + m[8]! * z);
      continue;
    }
    blendedLinear3(skin, matrices, vertex, m);
    // det and Frobenius norm bound the smallest singular value from below: sigma3 >= |det| / (norm^2 / 2)
    const det =
      m[0]! * (m[4]! * m[8]! - m[5]! * m[7]!) -
      m[3]! * (m[1]! * m[8]! - m[2]! * m[7]!) +
      m[6]! * (m[1]! * m[5]! - m[2]! * m[4]!);
    let norm2 = 0;
    for (let k = 0; k < 9; k++) norm2 += m[k]! * m[k]!;
    if ((2 * Math.abs(det)) / norm2 >= limit) {
      solve3(m, x, y, z, deltas, i);
      continue;
    }
    const { sigma, v } = svd3(m);
    if (sigma[2] >= limit) solve3(m, x, y, z, deltas, i);
    else {
      ill.push(vertex);
      solveDamped(m, sigma, v, limit, x, y, z, deltas, i);
    }
  }
  return { deltas, ill: Uint32Array.from(ill) };
}

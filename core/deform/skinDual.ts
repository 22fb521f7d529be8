import type { SkinBinding } from "../model/character";
import { decomposeTRS } from "../math/mat4";

/**
 * Unit dual quaternions of rigid joint matrices: 8 numbers a joint, real part xyzw then dual part xyzw.
 * Scale in a matrix is left out: dual quaternions hold turns and moves only.
 */
export function dualQuaternions(matrices: ArrayLike<number>): Float64Array {
  const count = matrices.length / 16;
  const out = new Float64Array(8 * count);
  for (let j = 0; j < count; j++) {
    const { t, q } = decomposeTRS(matrices, 16 * j);
    const [x, y, z, w] = q;
    out.set(
      [
        x,
        y,
        z,
        w,
        0.5 * (t[0] * w + t[1] * z - t[2] * y),
        0.5 * (-t[0] * z + t[1] * w + t[2] * x),
        0.5 * (t[0] * y - t[1] * x + t[2] * w),
        -0.5 * (t[0] * x + t[1] * y + t[2] * z),
      ],
      8 * j,
    );
  }
  return out;
}

const blend = new Float64Array(8);

/**
 * Dual quaternion linear blending for one vertex, signs made to agree with its first weighted influence
 * (Kavan et al. 2007, "Skinning with dual quaternions", section 4, antipodality).
 * Fills `blend` normalised and returns the length of the real part before normalising: near 0 the blend is ill defined.
 */
export function blendDual(skin: SkinBinding, dual: Float64Array, vertex: number, out: Float64Array = blend): number {
  out.fill(0);
  let first = -1;
  for (let n = vertex * skin.influenceCount, end = n + skin.influenceCount; n < end; n++) {
    let w = skin.weights[n]!;
    if (w === 0) continue;
    const a = 8 * skin.joints[n]!;
    if (first < 0) first = a;
    else if (
      dual[a]! * dual[first]! +
        dual[a + 1]! * dual[first + 1]! +
        dual[a + 2]! * dual[first + 2]! +
        dual[a + 3]! * dual[first + 3]! <
      0
    )
      w = -w;
    for (let k = 0; k < 8; k++) out[k]! += w * dual[a + k]!;
  }
  const norm = Math.hypot(out[0]!, out[1]!, out[2]!, out[3]!);
  if (norm > 1e-9) for (let k = 0; k < 8; k++) out[k]! /= norm;
  return norm;
}

/** Dual quaternion skinning of all vertices; arguments as for skinLinear. */
export function skinDual(
  positions: Float32Array,
  skin: SkinBinding,
  matrices: ArrayLike<number>,
  out: Float32Array,
): void {
  const dual = dualQuaternions(matrices);
  const b = blend;
  for (let v = 0, i = 0; i < positions.length; v++, i += 3) {
    blendDual(skin, dual, v, b);
    const [qx, qy, qz, qw, ex, ey, ez, ew] = b as unknown as [
      number,
      number,
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    const x = positions[i]!;
    const y = positions[i + 1]!;
    const z = positions[i + 2]!;
    const tx = qy * z - qz * y + qw * x;
    const ty = qz * x - qx * z + qw * y;
    const tz = qx * y - qy * x + qw * z;
    out[i] = x + 2 * (qy * tz - qz * ty) + 2 * (qw * ex - ew * qx + qy * ez - qz * ey);
    out[i + 1] = y + 2 * (qz * tx - qx * tz) + 2 * (qw * ey - ew * qy + qz * ex - qx * ez);
    out[i + 2] = z + 2 * (qx * ty - qy * tx) + 2 * (qw * ez - ew * qz + qx * ey - qy * ex);
  }
}

/** Rotation matrix (column-major 3x3) of one vertex's blended dual quaternion, and the norm before normalising. */
export function blendedDual3(skin: SkinBinding, dual: Float64Array, vertex: number, out: Float64Array): number {
  const norm = blendDual(skin, dual, vertex, blend);
  const [x, y, z, w] = blend as unknown as [number, number, number, number];
  out.set([
    1 - 2 * (y * y + z * z),
    2 * (x * y + w * z),
    2 * (x * z - w * y),
    2 * (x * y - w * z),
    1 - 2 * (x * x + z * z),
    2 * (y * z + w * x),
    2 * (x * z + w * y),
    2 * (y * z - w * x),
    1 - 2 * (x * x + y * y),
  ]);
  return norm;
}

import { blendedDual3, dualQuaternions } from "../core/deform/skinDual";
import type { SkinBinding } from "../core/model/character";
import type { Neighbours } from "../core/model/neighbours";
import { relaxOnce, turnedOffsets } from "../core/correctives/restOffsets";

/** Ways to bend skin that are known from papers, to be compared with proposals on the same poses. */

/** Weights of a vertex by joint, without the empty ones. */
function weightsAt({ joints, weights, influenceCount }: SkinBinding, v: number): Map<number, number> {
  const out = new Map<number, number>();
  for (let k = 0; k < influenceCount; k++) {
    const [j, w] = [joints[v * influenceCount + k]!, weights[v * influenceCount + k]!];
    if (w > 0) out.set(j, (out.get(j) ?? 0) + w);
  }
  return out;
}

const WIDTH = 0.1;
/** How alike two vertices are held (Le & Hodgins 2016, equation 4). */
export function likeness(p: ReadonlyMap<number, number>, q: ReadonlyMap<number, number>): number {
  const shared = [...p.keys()].filter((j) => q.has(j));
  let sum = 0;
  for (const j of shared)
    for (const k of shared) {
      if (j === k) continue;
      const [pj, pk, qj, qk] = [p.get(j)!, p.get(k)!, q.get(j)!, q.get(k)!];
      sum += pj * pk * qj * qk * Math.exp(-((pj * qk - pk * qj) ** 2) / WIDTH ** 2);
    }
  return sum;
}

/**
 * Centres of rotation of vertices (Le & Hodgins 2016, equation 1): the mean place of skin that is held alike, by area;
 * null for those held by one joint alone. @param bound 3 x vertexCount, metres. @param chosen triangles that count.
 */
export function rotationCentres(
  bound: Float32Array,
  triangles: Uint32Array,
  chosen: Uint32Array,
  skin: SkinBinding,
  vertices: Iterable<number>,
): Map<number, [number, number, number] | null> {
  const faces = Array.from(chosen, (t) => {
    const corners = [triangles[3 * t]!, triangles[3 * t + 1]!, triangles[3 * t + 2]!];
    const at = (v: number): number[] => [bound[3 * v]!, bound[3 * v + 1]!, bound[3 * v + 2]!];
    const [a, b, c] = corners.map(at) as [number[], number[], number[]];
    const [u, w] = [b.map((x, k) => x - a[k]!), c.map((x, k) => x - a[k]!)];
    const area = Math.hypot(
      u[1]! * w[2]! - u[2]! * w[1]!,
      u[2]! * w[0]! - u[0]! * w[2]!,
      u[0]! * w[1]! - u[1]! * w[0]!,
    );
    const held = new Map<number, number>();
    for (const v of corners) for (const [j, x] of weightsAt(skin, v)) held.set(j, (held.get(j) ?? 0) + x / 3);
    return { place: a.map((x, k) => (x + b[k]! + c[k]!) / 3), area: area / 2, held };
  }).filter((f) => f.held.size > 1);
  const out = new Map<number, [number, number, number] | null>();
  for (const v of vertices) {
    const own = weightsAt(skin, v);
    let total = 0;
    const centre: [number, number, number] = [0, 0, 0];
    if (own.size > 1)
      for (const { place, area, held } of faces) {
        const by = area * likeness(own, held);
        total += by;
        for (let k = 0; k < 3; k++) centre[k]! += by * place[k]!;
      }
    out.set(v, total > 1e-12 ? [centre[0] / total, centre[1] / total, centre[2] / total] : null);
  }
  return out;
}

/** Skin turned by blended rotations about those centres. @param posed linear skinning of the pose, changed in place. */
export function turnAboutCentres(
  posed: Float32Array,
  bound: Float32Array,
  skin: SkinBinding,
  matrices: ArrayLike<number>,
  centres: ReadonlyMap<number, readonly [number, number, number] | null>,
): void {
  const dual = dualQuaternions(matrices);
  const m = new Float64Array(9);
  for (const [v, centre] of centres) {
    if (!centre) continue;
    blendedDual3(skin, dual, v, m);
    const at: [number, number, number] = [0, 0, 0];
    for (const [j, w] of weightsAt(skin, v))
      for (let r = 0; r < 3; r++)
        at[r]! +=
          w *
          (matrices[16 * j + r]! * centre[0] +
            matrices[16 * j + 4 + r]! * centre[1] +
            matrices[16 * j + 8 + r]! * centre[2] +
            matrices[16 * j + 12 + r]!);
    for (let r = 0; r < 3; r++)
      posed[3 * v + r] =
        at[r]! + [0, 1, 2].reduce((sum, k) => sum + m[3 * k + r]! * (bound[3 * v + k]! - centre[k]!), 0);
  }
}

/** Rest offsets smoothed in the pose ("delta mush", Mancewicz et al. 2014). @param posed changed in place. */
export function mushed(
  posed: Float32Array,
  bound: Float32Array,
  skin: SkinBinding,
  matrices: ArrayLike<number>,
  vertices: Uint32Array,
  neighbours: Neighbours,
  rounds = 20,
): void {
  const offsets = turnedOffsets(bound, skin, matrices, vertices, neighbours);
  const strength = new Float32Array(posed.length / 3).fill(0.5);
  const room = new Float32Array(posed.length);
  for (let round = 0; round < rounds; round++) relaxOnce(posed, offsets, vertices, strength, neighbours, room);
}

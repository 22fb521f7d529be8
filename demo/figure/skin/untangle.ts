import { cross, dot, lerp, normalize, sub, type Vec3 } from "../../../core/math/vec3";
import { meanOf, type Quads } from "../../modelling/quadMesh";
import { mirrored } from "../placement";

/** Least cosine between the four corner normals of a quad: negative when it is folded. */
export function flatness(points: readonly Vec3[], quad: readonly number[]): number {
  const p = quad.map((v) => points[v]!);
  const normals = p.map((at, k) => normalize(cross(sub(p[(k + 1) % 4]!, at), sub(p[(k + 3) % 4]!, at))));
  let least = 1;
  for (let a = 0; a < 4; a++) for (let b = a + 1; b < 4; b++) least = Math.min(least, dot(normals[a]!, normals[b]!));
  return least;
}

interface Tangled {
  readonly points: Vec3[];
  readonly quads: Quads;
  readonly mirror: readonly number[];
  readonly neighbours: readonly ReadonlySet<number>[];
}
const ROUNDS = 200;
const STEP = 0.12;
/** Quads whose corner normals agree less than this are worked on. */
const FLAT_ENOUGH = 0.05;

/**
 * Nudges the vertices of folded quads toward their neighbours' mean until none is left, both sides alike. Changes
 * `points`.
 */
export function untangle({ points, quads, mirror, neighbours }: Tangled): void {
  for (let round = 0; round < ROUNDS; round++) {
    const folded = quads.filter((q) => flatness(points, q) < FLAT_ENOUGH);
    if (folded.length === 0) return;
    const moved = new Map<number, Vec3>();
    for (const v of folded.flat()) {
      const isLeft = mirror[v] === v || points[v]![0] > 0;
      if (isLeft && !moved.has(v)) moved.set(v, lerp(points[v]!, meanOf(points, neighbours[v]!), STEP));
    }
    for (const [v, p] of moved) {
      points[v] = mirror[v] === v ? [0, p[1], p[2]] : p;
      if (mirror[v] !== v) points[mirror[v]!] = mirrored(p);
    }
  }
}

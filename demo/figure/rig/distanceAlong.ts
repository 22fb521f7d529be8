import type { Vec3 } from "../../../core/math/vec3";
import type { Quads } from "../../modelling/quadMesh";

interface Surface {
  readonly points: readonly Vec3[];
  readonly quads: Quads;
  readonly neighbours: readonly ReadonlySet<number>[];
}

/**
 * Distance along the surface from a set of vertices to every other one, over sides and diagonals of the quads. Metres;
 * Infinity where nothing leads.
 */
export function distanceAlong({ points, quads, neighbours }: Surface, sources: readonly number[]): Float64Array {
  const links = neighbours.map((set) => [...set]);
  for (const [a, b, c, d] of quads as readonly (readonly [number, number, number, number])[]) {
    links[a]!.push(c);
    links[c]!.push(a);
    links[b]!.push(d);
    links[d]!.push(b);
  }
  const distance = new Float64Array(points.length).fill(Infinity);
  for (const v of sources) distance[v] = 0;
  let front = [...sources];
  while (front.length) {
    const reached = new Set<number>();
    for (const v of front) {
      const p = points[v]!;
      for (const n of links[v]!) {
        const q = points[n]!;
        const through = distance[v]! + Math.sqrt((p[0] - q[0]) ** 2 + (p[1] - q[1]) ** 2 + (p[2] - q[2]) ** 2);
        if (through >= distance[n]! - 1e-9) continue;
        distance[n] = through;
        reached.add(n);
      }
    }
    front = [...reached];
  }
  return distance;
}

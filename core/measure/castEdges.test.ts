import fc from "fast-check";
import { boxPart } from "../../tests/helpers/characters";
import { triangulate } from "../model/character";
import { buildBvh, castRay, refitBvh } from "../math/bvh";
import { castEdges, groupEdges } from "./castEdges";

type Crossing = [a: number, b: number, distance: number, sign: number];
/** Rolling ground of n x n squares over 1 x 1 m. */
function ground(n: number): { P: Float32Array; triangles: Uint32Array } {
  const P = Float32Array.from({ length: 3 * (n + 1) ** 2 }, (_, i) => {
    const v = Math.floor(i / 3);
    const [x, y] = [(v % (n + 1)) / n, Math.floor(v / (n + 1)) / n];
    return [x, y, 0.1 * Math.sin(7 * x) * Math.cos(5 * y)][i % 3]!;
  });
  const triangles: number[] = [];
  for (let j = 0; j < n; j++)
    for (let i = 0; i < n; i++) {
      const a = j * (n + 1) + i;
      triangles.push(a, a + 1, a + n + 2, a, a + n + 2, a + n + 1);
    }
  return { P, triangles: Uint32Array.from(triangles) };
}
const { P, triangles } = ground(20);
const tree = buildBvh(triangles, P);
const sorted = (list: Crossing[]): Crossing[] => list.sort((p, q) => p[0] - q[0] || p[1] - q[1] || p[2] - q[2]);

/** The plain way: a ray for each edge. */
function oneByOne(edges: readonly (readonly [number, number])[], Q: Float32Array, skin: Float32Array): Crossing[] {
  const out: Crossing[] = [];
  refitBvh(tree, skin);
  for (const [a, b] of edges) {
    const d = [0, 1, 2].map((c) => Q[3 * b + c]! - Q[3 * a + c]!) as [number, number, number];
    const l = Math.sqrt(d[0] ** 2 + d[1] ** 2 + d[2] ** 2);
    if (l > 1e-9)
      castRay(
        tree,
        skin,
        Q[3 * a]!,
        Q[3 * a + 1]!,
        Q[3 * a + 2]!,
        d[0] / l,
        d[1] / l,
        d[2] / l,
        (_, distance, sign) => void out.push([a, b, distance, sign]),
        l,
      );
  }
  return sorted(out);
}
function together(
  edges: readonly (readonly [number, number])[],
  Q: Float32Array,
  skin: Float32Array,
  groupedAt = Q,
): Crossing[] {
  const out: Crossing[] = [];
  refitBvh(tree, skin);
  castEdges(
    tree,
    skin,
    groupEdges(edges, groupedAt),
    Q,
    (a, b, _, distance, sign) => void out.push([a, b, distance, sign]),
  );
  return sorted(out);
}

describe("edges through a surface", () => {
  it("are the same as a ray for each, wherever edges and surface have moved since they were grouped", () => {
    const point = fc.tuple(
      ...[0, 1, 2].map((c) => fc.double({ min: c === 2 ? -0.3 : -0.1, max: c === 2 ? 0.3 : 1.1, noNaN: true })),
    );
    fc.assert(
      fc.property(
        fc.array(fc.tuple(point, point), { minLength: 1, maxLength: 60 }),
        fc.double({ min: -0.1, max: 0.1, noNaN: true }),
        (segments, rise) => {
          // off the planes of the ground's own boxes, where a ray along a plane is in it or not by rounding
          const Q = Float32Array.from(segments.flat(2) as number[], (x, i) => 0.9873 * x + 0.00417 * (1 + (i % 3)));
          const edges = segments.map((_, i): [number, number] => [2 * i, 2 * i + 1]);
          const skin = P.map((x, i) => (i % 3 === 2 ? x + rise : x));
          expect(together(edges, Q, skin)).toEqual(oneByOne(edges, Q, skin));
          expect(
            together(
              edges,
              Q,
              skin,
              Q.map((x) => -x),
            ),
          ).toEqual(oneByOne(edges, Q, skin));
        },
      ),
      { numRuns: 200 },
    );
  });
  it("tell from which side they come, and how far along", () => {
    const Q = Float32Array.of(0.33, 0.41, 1, 0.33, 0.41, -1);
    const [down] = together([[0, 1]], Q, P);
    const [up] = together([[1, 0]], Q, P);
    expect(down![3]).toBe(-1);
    expect(up![3]).toBe(1);
    expect(down![2] + up![2]).toBeCloseTo(2, 6);
  });
  it("of no length, of none at all, and over an empty surface are nothing", () => {
    expect(together([[0, 0]], Float32Array.of(0.5, 0.5, 0), P)).toEqual([]);
    expect(together([], new Float32Array(0), P)).toEqual([]);
    castEdges(buildBvh(new Uint32Array(0), P), P, groupEdges([[0, 1]], P), P, () => {
      throw new Error("nothing is there");
    });
  });
  it("are found even when a group meets more of the surface than is kept: it is asked ray by ray", () => {
    const fine = ground(170);
    const wide = buildBvh(fine.triangles, fine.P);
    expect(wide.right.filter((r) => r < 0).length).toBeGreaterThan(4096);
    const Q = Float32Array.of(0.51, 0.51, 2, 0.512, 0.511, -2, -1, -1, 0.5, 2, 2, 0.5);
    let found = 0;
    castEdges(
      wide,
      fine.P,
      groupEdges(
        [
          [0, 1],
          [2, 3],
        ],
        Q,
      ),
      Q,
      () => found++,
    );
    expect(found).toBe(1);
  });
  it("of a closed box through itself moved aside stand in pairs: in and out", () => {
    const box = boxPart();
    const list = triangulate(box).triangles;
    const bvh = buildBvh(list, box.positions);
    const aside = box.positions.map((x, i) => x + [0.3, 0.2, 0.1][i % 3]!);
    const signs = new Map<number, number>();
    const edges = [...box.corners.keys()]
      .filter((k) => k % 4 !== 3)
      .map((k): [number, number] => [box.corners[k]!, box.corners[k + 1]!]);
    castEdges(
      bvh,
      box.positions,
      groupEdges(edges, box.positions),
      aside,
      (a, b, _l, _d, sign) => void signs.set(100 * a + b, (signs.get(100 * a + b) ?? 0) + sign),
    );
    const inside = (v: number): boolean => [0, 1, 2].every((c) => Math.abs(aside[3 * v + c]!) < 0.5);
    // an edge that leaves the box ends outside it, one that comes in ends inside
    for (const [a, b] of edges) if (inside(a) !== inside(b)) expect(signs.get(100 * a + b)).toBe(inside(a) ? 1 : -1);
  });
});

import fc from "fast-check";
import { vertexCountOf } from "../../core/model/character";
import { bindAfresh } from "../../core/weights/bindAfresh";
import { characterWith, partOf, skeletonOf } from "../helpers/characters";

/**
 * Bindings whose result is known in closed form.
 * Evening out half-way to the mean of four neighbours, two of them along a tube, is a lazy random walk along it: it
 * stays with 3/4 and steps each way with 1/8. After n rounds the share of what lay at distance k is the coefficient of
 * x^k in (x^-1 / 8 + 3/4 + x / 8)^n (generating function of a sum of independent steps; Feller, "An Introduction to
 * Probability Theory and Its Applications" I, chapter XI, from memory).
 */
function walk(rounds: number): (k: number) => number {
  let row = new Map([[0, 1]]);
  for (let i = 0; i < rounds; i++) {
    const next = new Map<number, number>();
    for (const [k, p] of row)
      for (const [step, share] of [
        [-1, 1 / 8],
        [0, 3 / 4],
        [1, 1 / 8],
      ] as const)
        next.set(k + step, (next.get(k + step) ?? 0) + p * share);
    row = next;
  }
  return (k) => row.get(k) ?? 0;
}

const SIDES = 8;
/** A tube of rings along y, a metre long, open at its ends. */
const tubeOf = (rings: number): ReturnType<typeof partOf> =>
  partOf(
    "tube",
    Array.from({ length: rings * SIDES }, (_, v): [number, number, number] => {
      const turn = (2 * Math.PI * (v % SIDES)) / SIDES;
      return [0.05 * Math.cos(turn), Math.floor(v / SIDES) / (rings - 1), 0.05 * Math.sin(turn)];
    }),
    Array.from({ length: (rings - 1) * SIDES }, (_, f) => {
      const [ring, side] = [Math.floor(f / SIDES), f % SIDES];
      const at = (r: number, s: number): number => r * SIDES + (s % SIDES);
      return [at(ring, side), at(ring + 1, side), at(ring + 1, side + 1), at(ring, side + 1)];
    }),
  );

describe("a binding evened out over a tube", () => {
  it("is the lazy random walk's share of what lay on either side of the joint", () => {
    const rings = 40;
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 12 }), fc.integer({ min: 15, max: 24 }), (rounds, ring) => {
        // the second joint stands between two rings, and each vertex's nearest bone is the one on its side of it
        const middle = (ring - 0.5) / (rings - 1);
        const part = tubeOf(rings);
        const character = characterWith({
          parts: [part],
          skeleton: skeletonOf([
            { name: "lower", parent: -1, translation: [0, 0, 0] },
            { name: "upper", parent: 0, translation: [0, middle, 0] },
            { name: "tip", parent: 1, translation: [0, 1 - middle, 0] },
          ]),
        });
        const dense = bindAfresh(character, part, "surface", rounds);
        const share = walk(rounds);
        for (let r = rounds; r < rings - rounds; r++) {
          let lower = 0;
          for (let k = -rounds; k <= rounds; k++) if (r + k < ring) lower += share(k);
          for (let s = 0; s < SIDES; s++) expect(dense[3 * (r * SIDES + s)]).toBeCloseTo(lower, 6);
        }
      }),
      { numRuns: 25 },
    );
  });
});

/** A closed box as six quads with its own eight corners, cut into layers along y. */
function box(x0: number, x1: number, layers: number): { points: [number, number, number][]; quads: number[][] } {
  const ring = [
    [x0, -0.05],
    [x1, -0.05],
    [x1, 0.05],
    [x0, 0.05],
  ] as const;
  const points = Array.from({ length: layers + 1 }, (_, l) =>
    ring.map(([x, z]): [number, number, number] => [x, l / layers, z]),
  ).flat();
  const sides = Array.from({ length: layers }, (_, l) =>
    [0, 1, 2, 3].map((k) => [4 * l + k, 4 * (l + 1) + k, 4 * (l + 1) + ((k + 1) % 4), 4 * l + ((k + 1) % 4)]),
  ).flat();
  const top = 4 * layers;
  return { points, quads: [...sides, [0, 1, 2, 3], [top + 3, top + 2, top + 1, top]] };
}

describe("a binding through the volume", () => {
  it("never takes a bone beyond a gap, however near it is: each of two boxes stays with its own", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 0.04, noNaN: true }),
        fc.double({ min: 0.02, max: 0.18, noNaN: true }),
        (gap, own) => {
          const a = box(0, 0.2, 6);
          const b = box(0.2 + gap, 0.4 + gap, 6);
          const part = partOf(
            "boxes",
            [...a.points, ...b.points],
            [...a.quads, ...b.quads.map((q) => q.map((v) => v + a.points.length))],
          );
          // the second box's bone stands close to the first one's wall
          const bone = (name: string, x: number, parent: number): Parameters<typeof skeletonOf>[0] => [
            { name, parent: -1, translation: [x, 0.02, 0] },
            { name: `${name} tip`, parent, translation: [0, 0.96, 0] },
          ];
          const character = characterWith({
            parts: [part],
            skeleton: skeletonOf([...bone("a", own, 0), ...bone("b", 0.2 + gap + 0.01, 2)]),
          });
          const dense = bindAfresh(character, part, "volume", 0);
          for (let v = 0; v < vertexCountOf(part); v++) {
            const inFirst = v < a.points.length;
            expect(dense[4 * v]! + dense[4 * v + 1]!).toBe(inFirst ? 1 : 0);
          }
        },
      ),
      { numRuns: 40 },
    );
  });
});

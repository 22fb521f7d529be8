import fc from "fast-check";
import { between, randomFrom } from "../../tests/helpers/random";
import { fromEulerXYZ, rotate } from "./quat";
import { applySimilarity, determinant, fitSimilarity } from "./similarity";

const cloud = (seed: number, n = 60): Float64Array => {
  const random = randomFrom(seed);
  return Float64Array.from({ length: 3 * n }, () => between(random, -1, 1));
};
const each = (P: Float64Array, map: (p: [number, number, number]) => readonly number[]): Float64Array =>
  Float64Array.from(
    Array.from({ length: P.length / 3 }, (_, i) => [...map([P[3 * i]!, P[3 * i + 1]!, P[3 * i + 2]!])]).flat(),
  );

describe("the similarity that carries points onto others", () => {
  it("is found exactly, mirrored or not, for any turn, size and place", () => {
    const angle = fc.integer({ min: -180, max: 180 });
    fc.assert(
      fc.property(
        angle,
        angle,
        angle,
        fc.double({ min: 0.01, max: 50, noNaN: true }),
        fc.tuple(angle, angle, angle),
        fc.boolean(),
        (x, y, z, scale, [tx, ty, tz], mirror) => {
          const q = fromEulerXYZ(x, y, z);
          const P = cloud(3);
          const to = each(P, (p) =>
            rotate(q, mirror ? [-p[0], p[1], p[2]] : p).map((v, c) => scale * v + [tx, ty, tz][c]!),
          );
          const fit = fitSimilarity(P, to, { rounds: 1 });
          expect(fit.scale / scale).toBeCloseTo(1, 6);
          expect(determinant(fit.rotation)).toBeCloseTo(mirror ? -1 : 1, 6);
          for (let i = 0; i < P.length; i += 3)
            applySimilarity(fit, P[i]!, P[i + 1]!, P[i + 2]!).forEach((v, c) =>
              expect(Math.abs(v - to[i + c]!)).toBeLessThan(1e-5 * (1 + scale)),
            );
        },
      ),
      { numRuns: 40 },
    );
  });
  it("is not led astray by a third of the points that moved by themselves", () => {
    const P = cloud(5, 300);
    const to = each(P, (p) => [2 * p[0] + 0.3, 2 * p[1], 2 * p[2]]);
    for (let i = 0; i < 100; i++) to[3 * i + 1]! -= 0.8;
    const once = fitSimilarity(P, to, { rounds: 1 });
    const fit = fitSimilarity(P, to);
    expect(Math.abs(once.offset[1])).toBeGreaterThan(0.1);
    expect(fit.scale).toBeCloseTo(2, 2);
    fit.offset.forEach((v, c) => expect(v).toBeCloseTo([0.3, 0, 0][c]!, 2));
  });
  it("of points in a plane turns the plane", () => {
    const flat = each(cloud(7), (p) => [p[0], p[1], 0]);
    const to = each(flat, (p) => [p[0], 0, p[1]]);
    const fit = fitSimilarity(flat, to, { rounds: 1 });
    for (let i = 0; i < flat.length; i += 3)
      applySimilarity(fit, flat[i]!, flat[i + 1]!, flat[i + 2]!).forEach((v, c) =>
        expect(v).toBeCloseTo(to[i + c]!, 6),
      );
  });
});

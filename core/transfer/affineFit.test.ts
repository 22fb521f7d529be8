import { between, randomFrom } from "../../tests/helpers/random";
import { applyLinear, fitAffine, fitBoxes } from "./affineFit";

const random = randomFrom(11);
const cloud = Float64Array.from({ length: 180 }, () => between(random, -0.2, 0.3));
const M = Float64Array.of(1.2, 0.1, 0, -0.3, 0.9, 0.2, 0.05, 0, 1.1);
const mapped = (P: ArrayLike<number>): Float64Array =>
  Float64Array.from(
    Array.from({ length: P.length / 3 }, (_, i) =>
      applyLinear(M, P[3 * i]!, P[3 * i + 1]!, P[3 * i + 2]!).map((x, c) => x + [0.4, -1, 2][c]!),
    ).flat(),
  );

describe("an affine fit", () => {
  it("finds a stretch, shear and shift from its points", () => {
    const { linear, shift } = fitAffine(cloud, mapped(cloud));
    M.forEach((x, i) => expect(linear[i]).toBeCloseTo(x, 4));
    [0.4, -1, 2].forEach((x, c) => expect(shift[c]).toBeCloseTo(x, 4));
  });
  it("of points in a plane leaves what lies across it as it is", () => {
    const flat = cloud.map((x, i) => (i % 3 === 2 ? 0 : x));
    const { linear } = fitAffine(
      flat,
      flat.map((x) => 2 * x),
    );
    expect(linear[0]).toBeCloseTo(2, 4);
    expect(linear[8]).toBeCloseTo(1, 4);
  });
});

describe("one box on another", () => {
  it("stretches each axis by itself, and leaves an axis without extent alone", () => {
    const { linear, shift } = fitBoxes([0, 0, 5, 1, 2, 5], [10, 0, 7, 12, 1, 7]);
    expect([linear[0], linear[4], linear[8]]).toEqual([2, 0.5, 1]);
    expect(shift).toEqual([10, 0, 2]);
  });
});

import { randomFrom } from "../math/random";
import { warp, warpedTime, type Features } from "./warp";

/** A slow wandering in four dimensions, read at given times. */
const wander = (times: readonly number[], seed: number): Features => {
  const random = randomFrom(seed);
  const knots = Array.from({ length: 4 * 40 }, () => 2 * random() - 1);
  const values = new Float32Array(4 * times.length);
  times.forEach((t, i) => {
    const k = Math.min(38, Math.floor(t));
    for (let c = 0; c < 4; c++) values[4 * i + c] = (1 - (t - k)) * knots[4 * k + c]! + (t - k) * knots[4 * k + 4 + c]!;
  });
  return { width: 4, values };
};
const even = Array.from({ length: 300 }, (_, i) => i / 10);
/** The same way, quicker in its first half. */
const uneven = even.map((t) => (t < 15 ? t * 1.2 : 18 + (t - 15) * 0.8));

describe("laying one sound on another", () => {
  it("is the identity for the same sound, at no distance", () => {
    const found = warp(wander(even, 1), wander(even, 1));
    expect(found.distance).toBe(0);
    expect(Math.max(...Array.from(found.at, (a, i) => Math.abs(a - i)))).toBe(0);
  });
  it("finds where a sound is quicker and where slower", () => {
    const found = warp(wander(uneven, 3), wander(even, 3));
    const off = uneven.map((t, i) => Math.abs(warpedTime(found, i / 10, 0.1) - t)).filter((_, i) => i < 290);
    expect(off.sort((a, b) => a - b)[off.length >> 1]).toBeLessThan(0.1);
    expect(Math.max(...off)).toBeLessThan(0.5);
  });
  it("goes on only, and tells two that have nothing in common by their distance", () => {
    const [fit, misfit] = [warp(wander(uneven, 3), wander(even, 3)), warp(wander(uneven, 3), wander(even, 4))];
    for (const { at } of [fit, misfit])
      for (let i = 1; i < at.length; i++) expect(at[i]!).toBeGreaterThanOrEqual(at[i - 1]!);
    expect(misfit.distance).toBeGreaterThan(4 * fit.distance);
  });
});

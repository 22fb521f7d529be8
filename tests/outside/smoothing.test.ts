import { partOf } from "../helpers/characters";
import { neighboursOf } from "../../core/model/neighbours";
import { smoothDelta } from "../../core/shapes/smoothDelta";

/**
 * Taubin 1995, A signal processing approach to fair surface design: on a closed ring of n vertices the waves cos(2 pi k
 * i / n) are eigenvectors of the uniform Laplacian, with the mean of a vertex's neighbours cos(2 pi k / n) times its
 * own value. One round of smoothing with strength s therefore scales wave k by (1 + s cos(2 pi k / n)) / (1 + s).
 */
const n = 24;
const ring = partOf(
  "ring",
  Array.from(
    { length: n },
    (_, i) => [Math.cos((2 * Math.PI * i) / n), Math.sin((2 * Math.PI * i) / n), 0] as [number, number, number],
  ),
  [Array.from({ length: n }, (_, i) => i)],
);
const wave = (k: number): Float32Array =>
  Float32Array.from(Array.from({ length: n }, (_, i) => [0, 0, Math.cos((2 * Math.PI * k * i) / n)]).flat());

describe("smoothing of a movement against the closed form", () => {
  const all = Uint32Array.from({ length: n }, (_, v) => v);
  for (const strength of [0.5, 1, 1.2, 4])
    it.each([0, 1, 3, 8, 12])(`strength ${strength}: wave %d fades as its eigenvalue says`, (k) => {
      const rounds = 5;
      const out = smoothDelta({ part: 0, vertices: all, deltas: wave(k) }, neighboursOf(ring), rounds, strength).deltas;
      const factor = ((1 + strength * Math.cos((2 * Math.PI * k) / n)) / (1 + strength)) ** rounds;
      wave(k).forEach((x, i) => expect(out[i]).toBeCloseTo(factor * x, 5));
      // whatever the strength, nothing grows
      expect(Math.abs(factor)).toBeLessThanOrEqual(1);
    });
});

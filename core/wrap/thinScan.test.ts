import { buildBvh, closestPoint } from "../math/bvh";
import type { PlainMesh } from "../formats/readPly";
import { thinScan } from "./thinScan";

/** A ball of radius 1, every triangle with corners of its own, as scanners write it. */
function ball(n: number): PlainMesh {
  const at = (i: number, j: number): number[] => {
    const [a, b] = [(Math.PI * i) / n, (2 * Math.PI * (j % (2 * n))) / (2 * n)];
    return [Math.sin(a) * Math.cos(b), Math.cos(a), Math.sin(a) * Math.sin(b)];
  };
  const points: number[] = [];
  for (let i = 0; i < n; i++)
    for (let j = 0; j < 2 * n; j++) {
      if (i > 0) points.push(...at(i, j), ...at(i + 1, j + 1), ...at(i, j + 1));
      if (i < n - 1) points.push(...at(i, j), ...at(i + 1, j), ...at(i + 1, j + 1));
    }
  const count = points.length / 3;
  return {
    positions: Float32Array.from(points),
    corners: Uint32Array.from({ length: count }, (_, v) => v),
    faceStarts: Uint32Array.from({ length: count / 3 + 1 }, (_, f) => 3 * f),
  };
}

describe("a scan of many triangles", () => {
  const fine = ball(60);
  it("is brought to as many as are of use, and lies where it lay", () => {
    expect(fine.faceStarts.length).toBeGreaterThan(14_000);
    const thin = thinScan(fine, 3000);
    const faces = thin.faceStarts.length - 1;
    expect(faces).toBeLessThanOrEqual(3000);
    expect(faces).toBeGreaterThan(2000);
    expect(Math.max(...thin.corners)).toBe(thin.positions.length / 3 - 1);
    // vertices are those of the scan
    for (let i = 0; i < thin.positions.length; i += 3)
      expect(Math.hypot(thin.positions[i]!, thin.positions[i + 1]!, thin.positions[i + 2]!)).toBeCloseTo(1, 5);
    const tree = buildBvh(thin.corners, thin.positions);
    let worst = 0;
    for (let i = 0; i < fine.positions.length; i += 3)
      worst = Math.max(
        worst,
        closestPoint(tree, thin.positions, fine.positions[i]!, fine.positions[i + 1]!, fine.positions[i + 2]!).distance,
      );
    expect(worst).toBeLessThan(0.01);
  });
  it("is left as it is when it is small enough", () => expect(thinScan(fine)).toBe(fine));
});

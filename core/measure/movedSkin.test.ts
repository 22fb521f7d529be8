import { tube } from "../../tests/helpers/characters";
import { randomFrom } from "../math/random";
import { edgeStretch, percentile } from "./edgeStretch";
import { faceVector } from "./faceArea";
import { readMovedSkin, skinTables } from "./movedSkin";

/** The same reading the plain way: all faces are asked whether a corner of theirs moved. */
function plainly(
  part: ReturnType<typeof tube>["parts"][number],
  moved: Float32Array,
  touched: ReadonlySet<number>,
): { stretch: number; flips: number } {
  const edges: number[] = [];
  let flips = 0;
  for (let f = 0; f + 1 < part.faceStarts.length; f++) {
    const corners = Array.from(part.corners.subarray(part.faceStarts[f]!, part.faceStarts[f + 1]!));
    if (!corners.some((v) => touched.has(v))) continue;
    corners.forEach((v, k) => edges.push(v, corners[(k + 1) % corners.length]!));
    const [n, m] = [faceVector(part.positions, corners), faceVector(moved, corners)];
    const along = n[0] * m[0] + n[1] * m[1] + n[2] * m[2];
    if (along < 0 || Math.hypot(...m) < 0.05 * Math.hypot(...n)) flips++;
  }
  const ratios = edgeStretch(Uint32Array.from(edges), part.positions, moved);
  return { stretch: edges.length ? percentile(ratios, 0.99) : 1, flips };
}

test("faces round what moved are read as all faces are read that have a corner which moved", () => {
  const part = tube({ rings: 9, sides: 8, radius: 0.1, length: 0.5 }).parts[0]!;
  const tables = skinTables(part);
  const random = randomFrom(7);
  let turned = 0;
  for (let round = 0; round < 30; round++) {
    const moved = part.positions.slice();
    const touched = new Set<number>();
    for (let n = 0; n < round; n++) {
      const v = Math.floor(random() * (moved.length / 3));
      touched.add(v);
      for (let c = 0; c < 3; c++) moved[3 * v + c]! += 0.2 * (random() - 0.5);
    }
    const read = readMovedSkin(tables, moved, Uint32Array.from(touched));
    const plain = plainly(part, moved, touched);
    expect(read.flips).toBe(plain.flips);
    expect(read.stretch).toBeCloseTo(plain.stretch, 5);
    turned += read.flips;
  }
  expect(turned).toBeGreaterThan(20);
});

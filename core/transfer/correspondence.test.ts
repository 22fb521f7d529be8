import { partOf, characterWith, boxPart } from "../../tests/helpers/characters";
import { placeNormals } from "../deform/placeNormals";
import { triangulate, type Part } from "../model/character";
import { contactsLike, contactsOf, tiesAt } from "./contacts";
import { correspondence, knownPlaces, sameNet } from "./correspondence";
import type { LandmarkPair } from "./layOn";

/** A dome of n x n quads over 20 x 20 cm, rising 5 cm in the middle, scaled and moved. */
function dome(n: number, scale = 1, at: readonly [number, number, number] = [0, 0, 0]): Part {
  const points: [number, number, number][] = [];
  for (let j = 0; j <= n; j++)
    for (let i = 0; i <= n; i++) {
      const [x, y] = [(0.2 * i) / n - 0.1, (0.2 * j) / n - 0.1];
      points.push([
        at[0] + scale * x,
        at[1] + scale * y,
        at[2] + scale * 0.05 * Math.cos((Math.PI * x) / 0.2) * Math.cos((Math.PI * y) / 0.2),
      ]);
    }
  const faces: number[][] = [];
  for (let j = 0; j < n; j++)
    for (let i = 0; i < n; i++)
      faces.push([j * (n + 1) + i, j * (n + 1) + i + 1, (j + 1) * (n + 1) + i + 1, (j + 1) * (n + 1) + i]);
  return partOf("skin", points, faces);
}
const everywhere = (part: Part): Uint8Array => new Uint8Array(part.positions.length / 3).fill(1);
/** Corners and middle of both domes. */
const marks = (scale: number, at: readonly [number, number, number]): LandmarkPair[] =>
  [
    [-0.1, -0.1, 0],
    [0.1, -0.1, 0],
    [0.1, 0.1, 0],
    [-0.1, 0.1, 0],
    [0, 0, 0.05],
    [0, 0.1, 0],
  ].map((p) => ({
    from: p as [number, number, number],
    to: p.map((x, c) => scale * x + at[c]!) as [number, number, number],
  }));

describe("which triangle stands for which", () => {
  it("on one net is each for itself, with no landmark", async () => {
    const [a, b] = [dome(6), dome(6, 1.2, [0, 0.3, 0])];
    expect(sameNet(a, b)).toBe(true);
    const c = await correspondence(a, b, everywhere(a), []);
    expect(c.triangleOf).toBeNull();
    const full = Float32Array.from(a.positions, (_, i) => i);
    expect(c.guess(full)).toBe(full);
    expect(c.how).toContain("one net");
  });
  it("on a finer net of another size and place is the one that lies there, and a movement is handed on", async () => {
    const [scale, at] = [1.3, [0.4, 1, -0.2] as const];
    const [a, b] = [dome(10), dome(17, scale, at)];
    const c = await correspondence(a, b, everywhere(a), marks(scale, at));
    const from = triangulate(a).triangles;
    const onto = triangulate(b).triangles;
    let off = 0;
    c.triangleOf!.forEach((s, t) => {
      expect(s).toBeGreaterThanOrEqual(0);
      const middle = (P: Float32Array, list: Uint32Array, k: number): number[] =>
        [0, 1, 2].map((x) => [0, 1, 2].reduce((sum, q) => sum + P[3 * list[3 * k + q]! + x]! / 3, 0));
      const here = middle(b.positions, onto, t);
      const there = middle(a.positions, from, s).map((x, k) => scale * x + at[k]!);
      off = Math.max(off, Math.hypot(...here.map((x, k) => x - there[k]!)));
    });
    // quads of 20 mm, made 26 mm: the middle of the triangle that holds a point is nearer than one of its edges
    expect(off).toBeLessThan(0.02);
    // the source is laid within a millimetre of the target's dome
    const shown = (P: Float32Array, v: number): number =>
      (P[3 * v + 2]! - at[2]) / scale -
      0.05 *
        Math.cos((Math.PI * ((P[3 * v]! - at[0]) / scale)) / 0.2) *
        Math.cos((Math.PI * ((P[3 * v + 1]! - at[1]) / scale)) / 0.2);
    for (let v = 0; v < a.positions.length / 3; v++) expect(Math.abs(shown(c.laid, v))).toBeLessThan(0.001);
    const up = Float32Array.from({ length: a.positions.length }, (_, i) => (i % 3 === 1 ? 0.01 : 0));
    const guess = c.guess(up);
    for (let v = 0; v < b.positions.length / 3; v++) expect(Math.abs(guess[3 * v + 1]! - 0.01)).toBeLessThan(0.0003);
  });
  it("is refused where the nets differ and too few places are known", async () => {
    await expect(
      correspondence(dome(6), dome(7), everywhere(dome(6)), marks(1, [0, 0, 0]).slice(0, 3)),
    ).rejects.toThrow(/other nets of faces/);
  });
  it("is anchored by eyes, teeth and the like that both have", () => {
    const eye = (x: number): Part => boxPart("eye", [0.012, 0.012, 0.012], [x, 0.1, 0], "eye");
    const teeth = boxPart("teeth", [0.02, 0.01, 0.005], [0, 0, 0.02], "teeth");
    const a = characterWith({ parts: [dome(4), eye(0.03), teeth] });
    const b = characterWith({
      parts: [eye(0.05), { ...teeth, positions: teeth.positions.map((x) => 2 * x) }, dome(4)],
    });
    const pairs = knownPlaces(
      a,
      b,
      new Map([
        [0, 1],
        [1, 2],
        [2, 0],
      ]),
    );
    // an eye gives its middle, teeth their middle and three ends, skin nothing
    expect(pairs.length).toBe(5);
    expect(pairs[0]!.from[0]).toBeCloseTo(0.03, 6);
    expect(pairs[0]!.to[0]).toBeCloseTo(0.05, 6);
    expect(pairs.slice(1).every(({ from, to }) => from.every((x, c) => Math.abs(2 * x - to[c]!) < 1e-6))).toBe(true);
  });
});

/** Two lids: quads of 4 cm that face each other across a gap. */
const lids = (gap: number): Part =>
  partOf(
    "lids",
    [
      [0, 0, 0],
      [0.04, 0, 0],
      [0.04, 0, 0.04],
      [0, 0, 0.04],
      [0.01, gap, 0.01],
      [0.03, gap, 0.01],
      [0.03, gap, 0.03],
      [0.01, gap, 0.03],
    ],
    [
      [0, 3, 2, 1],
      [4, 5, 6, 7],
    ],
  );
const contactsAt = (gap: number, asked = [4, 5, 6, 7]): ReturnType<typeof contactsOf> => {
  const part = lids(gap);
  return contactsOf(triangulate(part).triangles, part.positions, placeNormals(part)(part.positions), asked);
};

describe("contacts of two sides of the skin", () => {
  it("are where they come within a millimetre, facing each other, with the gap between them", () => {
    const found = contactsAt(0.0005);
    expect(found.map((c) => c.vertex)).toEqual([4, 5, 6, 7]);
    for (const c of found) {
      expect(Math.max(...c.corners)).toBeLessThan(4);
      expect(c.gap.map((x) => Number(x.toFixed(6)) + 0)).toEqual([0, 0.0005, 0]);
      expect(c.share.reduce((a, b) => a + b)).toBeCloseTo(1, 6);
    }
  });
  it("are none farther apart, and none between sides that face the same way", () => {
    expect(contactsAt(0.002)).toEqual([]);
    const part = {
      ...lids(0.0005),
      corners: lids(0.0005).corners.map((v, k, all) => (k < 4 ? v : all[4 + ((7 - k) % 4)]!)),
    };
    expect(contactsOf(triangulate(part).triangles, part.positions, placeNormals(part)(part.positions), [4, 5])).toEqual(
      [],
    );
  });
  it("are looked for on another net where its vertices stand for those in contact, and ask for the same gap", () => {
    const there = contactsAt(0.0005);
    const here = lids(0.004);
    const kept = contactsLike(
      there,
      Int32Array.of(0, 1, 2, 3, 4, -1, 6, 7),
      triangulate(here).triangles,
      here.positions,
      placeNormals(here)(here.positions),
    );
    expect(kept.map((c) => c.vertex)).toEqual([4, 6, 7]);
    const ties = tiesAt(kept, here.positions);
    // moved by what the ties ask, the lids are half a millimetre apart
    for (const tie of ties) {
      expect(tie.terms.reduce((sum, [, w]) => sum + w, 0)).toBeCloseTo(0, 6);
      expect(tie.value[1]).toBeCloseTo(0.0005 - 0.004, 6);
    }
  });
});

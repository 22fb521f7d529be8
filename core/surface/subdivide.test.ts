import fc from "fast-check";
import { coarseMovement, fineRows, subdivide, subdivideTimes, type Net } from "./subdivide";

/** A cube of side 2 about the middle, faces outward. */
const corner = (v: number): number[] => [0, 1, 2].map((c) => ((v >> c) & 1 ? 1 : -1));
const cube: Net = {
  vertexCount: 8,
  corners: Uint32Array.from([0, 4, 6, 2, 1, 3, 7, 5, 0, 1, 5, 4, 2, 6, 7, 3, 0, 2, 3, 1, 4, 5, 7, 6]),
  faceStarts: Uint32Array.from([0, 4, 8, 12, 16, 20, 24]),
};
const places = Float32Array.from({ length: 8 }, (_, v) => v).reduce<number[]>((all, v) => [...all, ...corner(v)], []);
/** A row of three quads with open borders. */
const strip: Net = {
  vertexCount: 8,
  corners: Uint32Array.from([0, 1, 5, 4, 1, 2, 6, 5, 2, 3, 7, 6]),
  faceStarts: Uint32Array.from([0, 4, 8, 12]),
};
const at = (rows: ArrayLike<number>, r: number): number[] => [rows[3 * r]!, rows[3 * r + 1]!, rows[3 * r + 2]!];

describe("a net subdivided by Catmull and Clark's rules", () => {
  it("gives the cube what the rules say: 5/9, 3/4 and the faces' middles", () => {
    // Catmull & Clark 1978, worked by hand: corner (1,1,1): faces' mean 1/3, edges' mean 2/3, (1/3 + 2 x 2/3) / 3 = 5/9
    const fine = subdivide(cube);
    const rows = fineRows(fine.stencils, places, new Float64Array(3 * fine.vertexCount));
    expect([fine.vertexCount, fine.faceStarts.length - 1]).toEqual([8 + 12 + 6, 24]);
    for (let v = 0; v < 8; v++) corner(v).forEach((x, c) => expect(at(rows, v)[c]).toBeCloseTo((5 / 9) * x, 12));
    for (let e = 8; e < 20; e++)
      expect(
        at(rows, e)
          .map(Math.abs)
          .sort((a, b) => a - b),
      ).toEqual([0, 0.75, 0.75]);
    for (let f = 20; f < 26; f++)
      expect(
        at(rows, f)
          .map(Math.abs)
          .sort((a, b) => a - b),
      ).toEqual([0, 0, 1]);
  });
  it("keeps open borders as curves and lone corners of them where they are", () => {
    const fine = subdivide(strip);
    const rows = fineRows(
      fine.stencils,
      [0, 1, 2, 3].flatMap((x) => [x, 0, 0]).concat([0, 1, 2, 3].flatMap((x) => [x, 1, 0])),
      new Float64Array(3 * fine.vertexCount),
    );
    // a cubic B-spline's mask for a border vertex: 1/8, 3/4, 1/8
    expect(at(rows, 1)).toEqual([1, 0, 0]);
    expect(at(rows, 0)).toEqual([0.125, 0.125, 0]);
  });
  it("leaves flat subdivision on the coarse faces", () => {
    const fine = subdivideTimes(cube, 2, "flat");
    const rows = fineRows(fine.stencils, places, new Float64Array(3 * fine.vertexCount));
    expect(fine.faceStarts.length - 1).toBe(96);
    for (let r = 0; r < fine.vertexCount; r++) expect(Math.max(...at(rows, r).map(Math.abs))).toBeCloseTo(1, 12);
  });
  it.each(["smooth", "flat"] as const)(
    "makes every fine vertex a mean of coarse ones, turned as they are: %s",
    (rule) => {
      const { stencils, faceOf } = subdivideTimes(cube, 2, rule);
      for (let r = 0; r + 1 < stencils.start.length; r++) {
        let sum = 0;
        for (let i = stencils.start[r]!; i < stencils.start[r + 1]!; i++) sum += stencils.weights[i]!;
        expect(sum).toBeCloseTo(1, 12);
      }
      expect(new Set(faceOf)).toEqual(new Set([0, 1, 2, 3, 4, 5]));
    },
  );
});

describe("the coarse movement behind a fine one", () => {
  it("is found again where the fine one is a subdivided one", () => {
    // a net of valence 4 inside; where all vertices have valence 3 a movement to and fro leaves no trace
    const across = [0, 1, 2, 3, 4].flatMap((y) => [0, 1, 2, 3, 4].map((x) => 6 * y + x));
    const grid: Net = {
      vertexCount: 36,
      corners: Uint32Array.from(across.flatMap((v) => [v, v + 1, v + 7, v + 6])),
      faceStarts: Uint32Array.from({ length: 26 }, (_, f) => 4 * f),
    };
    const fine = subdivideTimes(grid, 2);
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -0.01, max: 0.01, noNaN: true }), { minLength: 108, maxLength: 108 }),
        (moves) => {
          const rows = fineRows(fine.stencils, moves, new Float64Array(3 * fine.vertexCount));
          const back = coarseMovement(fine.stencils, rows, 36);
          expect(Math.max(...back.map((x, i) => Math.abs(x - moves[i]!)))).toBeLessThan(1e-6);
        },
      ),
      { numRuns: 30 },
    );
  });
  it("leaves what nothing moved", () => {
    const fine = subdivide(strip);
    const rows = new Float64Array(3 * fine.vertexCount);
    const moved = fineRows(fine.stencils, [0.01, ...Array<number>(23).fill(0)], new Float64Array(rows.length));
    const back = coarseMovement(fine.stencils, moved, 8);
    expect(at(back, 0)[0]).toBeCloseTo(0.01, 6);
    expect([...at(back, 3), ...at(back, 7)]).toEqual([0, 0, 0, 0, 0, 0]);
  });
});

import type { Vec3 } from "../../core/math/vec3";
import {
  coonsPoint,
  isCellInside,
  isInside,
  meanOf,
  neighbourSets,
  orientOutward,
  QuadMesh,
  sixVolumes,
  windowRing,
  type Quad,
} from "./quadMesh";

const WINDOW = { columns: [1, 3], rows: [1, 4] } as const;

/** A tube of square rings along z, closed at both ends. */
function box(rings = 3): QuadMesh<string> {
  const mesh = new QuadMesh<string>();
  const all = Array.from({ length: rings }, (_, r) =>
    (
      [
        [0, 0],
        [1, 0],
        [1, 1],
        [0, 1],
      ] as const
    ).map(([x, y]) => mesh.add([x, y, r], `ring ${r}`)),
  );
  for (let r = 0; r + 1 < rings; r++) mesh.bridge(all[r]!, all[r + 1]!);
  mesh.capRing(all[0]!);
  mesh.capRing(all[rings - 1]!, { flip: true });
  return mesh;
}

describe("quad meshes", () => {
  it("bridge rings all round, or leave them open", () => {
    const mesh = new QuadMesh<number>();
    const a = [0, 1, 2].map((i) => mesh.add([i, 0, 0], i));
    const b = [0, 1, 2].map((i) => mesh.add([i, 1, 0], i));
    mesh.bridge(a, b, { closed: false });
    expect(mesh.quads).toEqual([
      [0, 3, 4, 1],
      [1, 4, 5, 2],
    ]);
    mesh.bridge(a, b, { flip: true });
    expect(mesh.quads.at(-1)).toEqual([2, 0, 3, 5]);
    expect(() => mesh.bridge(a, b.slice(1))).toThrow(/rings of 3 and 2/);
  });
  it("fill a grid row by row and keep their tags", () => {
    const mesh = new QuadMesh<string>();
    const rows = [0, 1, 2].map((y) => [0, 1, 2, 3].map((x) => mesh.add([x, y, 0], `${x} ${y}`)));
    mesh.fill(rows);
    expect(mesh.quads.length).toBe(6);
    expect(mesh.tags[rows[1]![2]!]).toBe("2 1");
  });
  it("close an even ring with a strip", () => {
    const mesh = new QuadMesh<number>();
    mesh.capRing([0, 1, 2, 3, 4, 5]);
    expect(mesh.quads).toEqual([
      [0, 1, 4, 5],
      [1, 2, 3, 4],
    ]);
  });
  it("are turned outward whatever way their quads were written", () => {
    const mesh = box();
    mesh.quads[0]!.reverse();
    mesh.quads[3]!.reverse();
    orientOutward(mesh.points, mesh.quads);
    expect(sixVolumes(mesh.points, mesh.quads)).toBeCloseTo(12, 9);
  });
  it("refuse an edge with three faces, by name", () => {
    const mesh = box();
    mesh.quads.push([...mesh.quads[0]!] as Quad);
    expect(() => orientOutward(mesh.points, mesh.quads)).toThrow(/edge \d+-\d+ has 3 faces/);
  });
  it("know their neighbours", () => {
    const sets = neighbourSets(box(2).quads, 8);
    expect(sets.every((s) => s.size === 3)).toBe(true);
    expect(
      meanOf(
        [
          [0, 0, 0],
          [2, 4, 6],
        ],
        [0, 1],
      ),
    ).toEqual([1, 2, 3]);
  });
});

describe("windows of a grid", () => {
  it("are ringed once round", () => {
    const ring = windowRing(WINDOW);
    expect(ring.length).toBe(2 * (2 + 3));
    expect(ring.slice(0, 4)).toEqual([
      [1, 1],
      [2, 1],
      [3, 1],
      [3, 2],
    ]);
    expect(new Set(ring.map(String)).size).toBe(ring.length);
  });
  it("hold the cells between their lines and the vertices inside them", () => {
    expect([
      isCellInside(1, 1, WINDOW),
      isCellInside(3, 1, WINDOW),
      isInside(2, 2, WINDOW),
      isInside(1, 2, WINDOW),
    ]).toEqual([true, false, true, false]);
  });
});

describe("Coons patches", () => {
  const corner = {
    topLeft: [0, 0, 0] as Vec3,
    topRight: [1, 0, 0] as Vec3,
    bottomLeft: [0, 1, 0] as Vec3,
    bottomRight: [1, 1, 0] as Vec3,
  };
  it("of straight borders are flat", () => {
    expect(
      coonsPoint(0.25, 0.5, { top: [0.5, 0, 0], bottom: [0.5, 1, 0], left: [0, 0.25, 0], right: [1, 0.25, 0] }, corner),
    ).toEqual([0.5, 0.25, 0]);
  });
  it("pass through their borders (Coons 1967)", () => {
    const arch: Vec3 = [0.5, 0, 0.7];
    expect(coonsPoint(0, 0.5, { top: arch, bottom: [0.5, 1, 0], left: [0, 0, 0], right: [1, 0, 0] }, corner)).toEqual(
      arch,
    );
  });
});

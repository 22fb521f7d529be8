import { loadMember } from "../../../demo/cast";
import { PROFILES } from "../../checks/profile";
import { runChecks } from "../../checks/runChecks";
import { boxPart, characterWith, partOf, shapeOf, tube } from "../../../tests/helpers/characters";
import { assertCharacter } from "../../model/assertCharacter";
import { triangleCountOf, type Character } from "../../model/character";
import { renumberShapes, withFaces } from "../../model/withFaces";
import { reduceCharacter } from "./reduceCharacter";

const limb = tube({ rings: 60, sides: 40 });
const withShape: Character = {
  ...limb,
  shapes: [
    shapeOf(
      "bulge",
      Object.fromEntries(Array.from({ length: 600 }, (_, i) => [i + 600, [0, 0, 0.001 * (1 + (i % 7))] as const])),
    ),
  ],
};
const total = (c: Character): number => c.parts.reduce((n, p) => n + triangleCountOf(p), 0);

describe("other faces on a part's own vertices", () => {
  const part = partOf(
    "two",
    [
      [0, 0, 0],
      [1, 0, 0],
      [1, 1, 0],
      [0, 1, 0],
      [2, 0, 0],
      [2, 1, 0],
    ],
    [
      [0, 1, 2, 3],
      [1, 4, 5, 2],
    ],
    {
      groups: [
        { material: 0, faceStart: 0, faceCount: 1 },
        { material: 1, faceStart: 1, faceCount: 1 },
      ],
    },
  );
  it("drop what is not used, keep order and groups", () => {
    const { part: kept, newFromOld } = withFaces(part, [{ corners: [1, 4, 5, 2], from: -1 }], () => 1);
    expect([...newFromOld]).toEqual([-1, 0, 1, -1, 2, 3]);
    expect([...kept.positions.subarray(0, 3)]).toEqual([1, 0, 0]);
    expect([...kept.corners]).toEqual([0, 2, 3, 1]);
    expect(kept.groups).toEqual([{ material: 1, faceStart: 0, faceCount: 1 }]);
  });
  it("carry shapes along and drop those that moved only what went", () => {
    const { newFromOld } = withFaces(part, [{ corners: [1, 4, 5, 2], from: -1 }], () => 1);
    const [a, b] = renumberShapes(
      [shapeOf("a", { 0: [1, 0, 0], 4: [0, 1, 0] }), shapeOf("b", { 0: [1, 0, 0] })],
      [newFromOld],
    );
    expect([...a!.deltas[0]!.vertices]).toEqual([2]);
    expect([...a!.deltas[0]!.deltas]).toEqual([0, 1, 0]);
    expect(b!.deltas).toEqual([]);
    expect(renumberShapes([shapeOf("c", { 3: [1, 0, 0] })], [null])[0]!.deltas[0]!.vertices[0]).toBe(3);
  });
});

describe("reducing triangles", () => {
  it("comes under the budget with vertices, weights and shapes that were there before", async () => {
    const { character, trianglesBefore, trianglesAfter } = reduceCharacter(withShape, 1500);
    expect(trianglesBefore).toBe(total(withShape));
    expect(trianglesAfter).toBe(total(character));
    expect(trianglesAfter).toBeLessThanOrEqual(1500);
    expect(trianglesAfter).toBeGreaterThan(700);
    expect(() => assertCharacter(character)).not.toThrow();
    const [before, after] = [withShape.parts[0]!, character.parts[0]!];
    const key = (P: Float32Array, v: number): string => `${P[3 * v]} ${P[3 * v + 1]} ${P[3 * v + 2]}`;
    const old = new Map(Array.from({ length: before.positions.length / 3 }, (_, v) => [key(before.positions, v), v]));
    const delta = { before: withShape.shapes[0]!.deltas[0]!, after: character.shapes[0]!.deltas[0]! };
    for (let v = 0; v < after.positions.length / 3; v++) {
      const o = old.get(key(after.positions, v))!;
      expect(o).toBeDefined();
      expect([...after.skin!.weights.subarray(2 * v, 2 * v + 2)]).toEqual([
        ...before.skin!.weights.subarray(2 * o, 2 * o + 2),
      ]);
      const [k, ko] = [delta.after.vertices.indexOf(v), delta.before.vertices.indexOf(o)];
      expect(k >= 0).toBe(ko >= 0);
      if (k >= 0)
        expect([...delta.after.deltas.subarray(3 * k, 3 * k + 3)]).toEqual([
          ...delta.before.deltas.subarray(3 * ko, 3 * ko + 3),
        ]);
    }
  });
  it("keeps a flat sheet flat and its border where it was", async () => {
    const n = 20;
    const sheet = partOf(
      "sheet",
      Array.from({ length: n * n }, (_, i): [number, number, number] => [i % n, Math.floor(i / n), 0]),
      Array.from({ length: (n - 1) * (n - 1) }, (_, f) => {
        const v = Math.floor(f / (n - 1)) * n + (f % (n - 1));
        return [v, v + 1, v + n + 1, v + n];
      }),
    );
    const { character } = reduceCharacter(characterWith({ parts: [sheet] }), 200);
    const P = character.parts[0]!.positions;
    const border = Array.from({ length: P.length / 3 }, (_, v) => v).filter(
      (v) => [0, n - 1].includes(P[3 * v]!) || [0, n - 1].includes(P[3 * v + 1]!),
    );
    expect(border.length).toBe(4 * (n - 1));
    expect(P.filter((_, i) => i % 3 === 2).every((z) => z === 0)).toBe(true);
  });
  it("leaves a character under the budget as it is, and says when a budget cannot be reached", async () => {
    expect(reduceCharacter(withShape, 1e6).character).toBe(withShape);
    expect(() =>
      reduceCharacter(characterWith({ parts: Array.from({ length: 20 }, (_, i) => boxPart(`box ${i}`)) }), 100),
    ).toThrow(/cannot be brought under 100 triangles; 240 remain/);
  });
});

it.each(["oda", "tarn"] as const)("%s with fewer triangles has no surface that is not manifold", async (who) => {
  const character = await loadMember(who);
  for (const budget of [20_000, 15_000])
    expect(
      (
        await runChecks(reduceCharacter(character, budget).character, PROFILES.realtime, {
          only: ["mesh.non-manifold"],
        })
      ).findings,
    ).toEqual([]);
});

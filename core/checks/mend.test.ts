import { boxPart, characterWith, partOf, rigidSkin, shapeOf, tube } from "../../tests/helpers/characters";
import { PROFILES } from "./profile";
import { runChecks } from "./runChecks";
import { applyStep } from "../ledger/applyStep";
import { stepSchema } from "../ledger/steps";
import { assertCharacter } from "../model/assertCharacter";
import { DEFAULT_MATERIAL, faceCountOf, type Character } from "../model/character";
import { mend, mendSentence, type MendPlace } from "./mend";

const at = (check: string, place: Partial<MendPlace> = {}): MendPlace => ({
  check,
  part: null,
  joint: null,
  shape: null,
  clip: null,
  limit: null,
  ...place,
});
const square = partOf(
  "sheet",
  [
    [0, 0, 0],
    [1, 0, 0],
    [1, 1, 0],
    [0, 1, 0],
    [5, 5, 5],
    [2, 0, 0],
  ],
  [
    [0, 1, 2, 3],
    [1, 5, 5, 2],
    [0, 1, 2, 3],
  ],
);
const sheet = characterWith({
  parts: [square, boxPart("lashes", [0.1, 0.1, 0.1], [0, 0, 0], "lash")],
  shapes: [shapeOf("up", { 4: [0, 0, 1], 5: [0, 0, 2] }), shapeOf("lash", { 0: [1, 0, 0] }, 1)],
});

describe("repairs of meshes", () => {
  it("loose vertices go, shapes follow the new numbers", () => {
    const { parts, shapes } = mend(sheet, at("mesh.loose", { part: "sheet" }));
    expect(parts[0]!.positions.length / 3).toBe(5);
    expect([...shapes[0]!.deltas[0]!.vertices]).toEqual([4]);
    expect([...shapes[0]!.deltas[0]!.deltas]).toEqual([0, 0, 2]);
    expect(shapes[1]).toEqual(sheet.shapes[1]);
    expect(parts[1]).toBe(sheet.parts[1]);
  });
  it("a quad with one corner twice becomes a triangle, a face without area goes", () => {
    expect(Array.from(mend(sheet, at("mesh.degenerate", { part: "sheet" })).parts[0]!.faceStarts)).toEqual([
      0, 4, 7, 11,
    ]);
    const flat = characterWith({
      parts: [
        partOf(
          "flat",
          [
            [0, 0, 0],
            [1, 0, 0],
            [2, 0, 0],
            [0, 1, 0],
          ],
          [
            [0, 1, 2],
            [0, 1, 3],
          ],
        ),
      ],
    });
    expect(faceCountOf(mend(flat, at("mesh.degenerate", { part: "flat" })).parts[0]!)).toBe(1);
  });
  it("copies of faces go", () =>
    expect(faceCountOf(mend(sheet, at("mesh.doubled", { part: "sheet" })).parts[0]!)).toBe(2));
  it("an inward box is turned round, and only it", () => {
    const box = boxPart("box");
    const inward = { ...box, corners: box.corners.map((_, i) => box.corners[4 * Math.floor(i / 4) + 3 - (i % 4)]!) };
    const mended = mend(characterWith({ parts: [inward] }), at("mesh.inside-out", { part: "box" })).parts[0]!;
    expect([...mended.corners.subarray(0, 4)].sort()).toEqual([...box.corners.subarray(0, 4)].sort());
    expect(mend(characterWith({ parts: [mended] }), at("mesh.inside-out", { part: "box" })).parts[0]!.corners).toEqual(
      mended.corners,
    );
  });
});

describe("repairs of parts and materials", () => {
  it("opaque lashes become see-through; other materials stay", () => {
    const two = { ...sheet, materials: [DEFAULT_MATERIAL, { ...DEFAULT_MATERIAL, name: "other" }] };
    expect(mend(two, at("parts.material-opacity", { part: "lashes" })).materials.map((m) => m.opacity)).toEqual([
      "blend",
      "opaque",
    ]);
  });
  it("a part that is left out takes its share of the shapes along", () => {
    const { parts, shapes } = mend(sheet, at("parts.unplaced", { part: "sheet" }));
    expect(parts.map((p) => p.name)).toEqual(["lashes"]);
    expect(shapes.map((s) => s.deltas.map((d) => d.part))).toEqual([[], [0]]);
    expect(() => assertCharacter(characterWith({ parts, shapes }))).not.toThrow();
  });
});

describe("repairs of weights", () => {
  const limb = tube();
  const scaled = (factor: number): Character => ({
    ...limb,
    parts: [
      {
        ...limb.parts[0]!,
        skin: { ...limb.parts[0]!.skin!, weights: limb.parts[0]!.skin!.weights.map((w) => w * factor) },
      },
    ],
  });
  it("are scaled to a sum of one, and refused where nothing holds a vertex", () => {
    const { weights } = mend(scaled(0.5), at("weights.sum", { part: "limb" })).parts[0]!.skin!;
    for (let v = 0; v < weights.length / 2; v++) expect(weights[2 * v]! + weights[2 * v + 1]!).toBeCloseTo(1, 6);
    expect(() => mend(scaled(0), at("weights.sum", { part: "limb" }))).toThrow(/no weight at all/);
  });
  it("keep the heaviest joints", () => {
    const skin = {
      influenceCount: 3,
      joints: Uint16Array.of(0, 1, 2),
      weights: Float32Array.of(0.2, 0.5, 0.3),
      inverseBinds: null,
    };
    const one = characterWith({ parts: [partOf("p", [[0, 0, 0]], [], { skin })] });
    const mended = mend(one, at("weights.count", { part: "p", limit: 2 })).parts[0]!.skin!;
    expect([...mended.joints]).toEqual([1, 2]);
    expect(mended.weights[0]).toBeCloseTo(0.625, 6);
  });
  it("bind a rigid part to its main joint", () => {
    const mended = mend(limb, at("weights.rigid-parts", { part: "limb" })).parts[0]!.skin!;
    expect(mended.influenceCount).toBe(1);
    expect(new Set(mended.joints).size).toBe(1);
  });
  it("of an unbound part are refused by name", () =>
    expect(() => mend(sheet, at("weights.sum", { part: "sheet" }))).toThrow(/sheet is not bound/));
});

describe("repairs of shapes and clips", () => {
  it("an empty shape goes, with what drove it", () =>
    expect(mend(sheet, at("shapes.empty", { shape: "up" })).shapes.map((s) => s.name)).toEqual(["lash"]));
  it("a leak is cut with a soft seam: half in the middle, all and nothing from 1 cm on", () => {
    const row = characterWith({
      parts: [
        partOf(
          "body",
          [
            [-0.02, 0, 0],
            [0, 0, 0],
            [0.02, 0, 0],
          ],
          [[0, 1, 2]],
        ),
      ],
      shapes: [shapeOf("up_left", { 0: [0, 1, 0], 1: [0, 1, 0], 2: [0, 1, 0] })],
    });
    const [delta] = mend(row, at("shapes.side-leak", { shape: "up_left" })).shapes[0]!.deltas;
    expect([...delta!.vertices]).toEqual([1, 2]);
    expect([...delta!.deltas]).toEqual([0, 0.5, 0, 0, 1, 0]);
    expect(() => mend(sheet, at("shapes.side-leak", { shape: "up" }))).toThrow(/which side/);
  });
  it("a follower takes the movement of the skin's triangle under it", () => {
    const skin = partOf(
      "body",
      [
        [0, 0, 0],
        [1, 0, 0],
        [0, 1, 0],
      ],
      [[0, 1, 2]],
    );
    const lash = partOf(
      "lash",
      [
        [0.25, 0.25, 0.01],
        [0, 0, 0.5],
      ],
      [],
      { kind: "lash" },
    );
    const left = characterWith({ parts: [skin, lash], shapes: [shapeOf("blink", { 0: [0, 0, 4], 1: [0, 0, 8] })] });
    const carried = mend(left, at("shapes.followers", { part: "lash", shape: "blink" })).shapes[0]!.deltas[1]!;
    expect([...carried.vertices]).toEqual([0]);
    expect([...carried.deltas].map((x) => Math.round(1e5 * x) / 1e5)).toEqual([0, 0, 4]); // 0.5 x 4 + 0.25 x 8
  });
  it("scale keys go, the rest of the clip stays", () => {
    const track = (path: "scale" | "rotation") => ({
      joint: "head",
      path,
      interpolation: "LINEAR" as const,
      times: Float32Array.of(0),
      values: Float32Array.of(1, 1, 1),
    });
    const clipped = characterWith({ clips: [{ name: "nod", tracks: [track("scale"), track("rotation")] }] });
    expect(
      mend(clipped, at("clip.scale-keys", { clip: "nod", joint: "head" })).clips[0]!.tracks.map((t) => t.path),
    ).toEqual(["rotation"]);
  });
});

describe("repairs as steps", () => {
  it("are said before they are done, and only where there is one", () => {
    expect(mendSentence(at("mesh.loose", { part: "sheet" }))).toMatch(/sheet/);
    expect(mendSentence(at("skeleton.required"))).toBeNull();
    expect(() => mend(sheet, at("skeleton.required"))).toThrow(/no safe repair/);
    expect(() => mend(sheet, at("mesh.loose", { part: "gone" }))).toThrow(/no part named gone/);
  });
  it("go through the ledger and leave the base untouched", () => {
    const step = stepSchema.parse({
      op: "mend",
      check: "mesh.loose",
      part: "sheet",
      joint: null,
      shape: null,
      limit: 0,
    });
    expect(applyStep(sheet, step, () => undefined).parts[0]!.positions.length).toBe(15);
    expect(sheet.parts[0]!.positions.length).toBe(18);
  });
  it("keep a bound part bound: weights move with their vertices", () => {
    const bound = {
      ...sheet,
      parts: [{ ...square, skin: { ...rigidSkin(6, 0), joints: Uint16Array.of(0, 1, 2, 3, 4, 5) } }],
    };
    expect([...mend({ ...bound, shapes: [] }, at("mesh.loose", { part: "sheet" })).parts[0]!.skin!.joints]).toEqual([
      0, 1, 2, 3, 5,
    ]);
  });
});

describe("repairs of surfaces that meet", () => {
  const flat = [
    [0, 0, 0],
    [1, 0, 0],
    [1, 1, 0],
    [0, 1, 0],
    [2, 0, 0],
    [2, 1, 0],
    [1, 0, 1],
    [1, 1, 1],
  ] as const;
  const fin = characterWith({
    parts: [
      partOf("cloth", flat, [
        [0, 1, 2, 3],
        [1, 4, 5, 2],
        [1, 2, 7, 6],
      ]),
    ],
    shapes: [shapeOf("up", { 2: [0, 0, 0.1], 7: [0, 0, 0.1] })],
  });
  const open = async (c: Character): Promise<number> =>
    (await runChecks(c, PROFILES.film, { only: ["mesh.non-manifold"] })).findings.length;
  it("a fin is taken off, and its vertices with it", async () => {
    expect(await open(fin)).toBe(1);
    const mended = mend(fin, at("mesh.non-manifold", { part: "cloth" }));
    expect([faceCountOf(mended.parts[0]!), mended.parts[0]!.positions.length / 3]).toEqual([2, 6]);
    expect(await open(mended)).toBe(0);
  });
  it("whole pieces that meet in one edge are parted; shapes move the copies too", async () => {
    const strip = {
      ...fin,
      parts: [
        partOf(
          "cloth",
          [...flat, [1, 0, 2], [1, 1, 2]],
          [
            [0, 1, 2, 3],
            [1, 4, 5, 2],
            [1, 2, 7, 6],
            [6, 7, 9, 8],
          ],
        ),
      ],
    };
    expect(await open(strip)).toBe(1);
    const mended = mend(strip, at("mesh.non-manifold", { part: "cloth" }));
    expect(faceCountOf(mended.parts[0]!)).toBe(4);
    expect(await open(mended)).toBe(0);
    expect(mended.shapes[0]!.deltas[0]!.vertices.length).toBeGreaterThan(2);
    assertCharacter(mended);
  });
  it("two boxes that touch in a corner are parted", async () => {
    const a = boxPart("a", [0.5, 0.5, 0.5]);
    const b = boxPart("b", [0.5, 0.5, 0.5], [1, 1, 1]);
    const both = characterWith({
      parts: [
        partOf(
          "both",
          Array.from(
            { length: 16 },
            (_, i) =>
              Array.from((i < 8 ? a : b).positions.subarray(3 * (i % 8), 3 * (i % 8) + 3)) as [number, number, number],
          ),
          [
            ...Array.from({ length: 6 }, (_, f) => Array.from(a.corners.subarray(4 * f, 4 * f + 4))),
            ...Array.from({ length: 6 }, (_, f) => Array.from(b.corners.subarray(4 * f, 4 * f + 4), (v) => v + 8)),
          ],
        ),
      ],
    });
    expect(await open(both)).toBe(1);
    expect(await open(mend(both, at("mesh.non-manifold", { part: "both" })))).toBe(0);
  });
});

describe("repairs of clips and shapes", () => {
  const keys = {
    joint: "lower",
    path: "rotation" as const,
    interpolation: "LINEAR" as const,
    times: Float32Array.of(0, 1, 2),
    values: Float32Array.of(0, 0, 0, 1, 1, 0, 0, 0, 1, 0, 0, 0),
  };
  it("the last key goes, and only where the clip ends", () => {
    const mended = mend(
      {
        ...tube(),
        clips: [
          {
            name: "walk",
            tracks: [keys, { ...keys, times: Float32Array.of(0, 1), values: keys.values.subarray(0, 8) }],
          },
        ],
      },
      at("clip.loop", { clip: "walk", limit: 0 }),
    );
    expect(mended.clips[0]!.tracks.map((t) => [t.times.length, t.values.length])).toEqual([
      [2, 8],
      [2, 8],
    ]);
  });
  it("a loop that jumps has no safe repair", () => {
    expect(mendSentence(at("clip.loop", { clip: "walk", limit: 2 }))).toBeNull();
    expect(mendSentence(at("clip.loop", { clip: "walk", limit: 0 }))).toMatch(/last key/);
  });
  it("noise is smoothed out of a movement; what the shape does stays", () => {
    const limb = tube({ rings: 60, sides: 40 });
    const P = limb.parts[0]!.positions;
    const bulge = (noise: number): Character => ({
      ...limb,
      shapes: [
        shapeOf(
          "bulge",
          Object.fromEntries(
            Array.from({ length: P.length / 3 }, (_, v) => [
              v,
              [0.01 + (v % 2 ? noise : -noise), 0, 0] as [number, number, number],
            ]),
          ),
        ),
      ],
    });
    const mended = mend(bulge(0.003), at("shapes.noise", { part: "limb", shape: "bulge", limit: 0.3 })).shapes[0]!
      .deltas[0]!;
    const mean = mended.deltas.reduce((sum, x, i) => (i % 3 === 0 ? sum + x : sum), 0) / mended.vertices.length;
    expect(mean).toBeCloseTo(0.01, 3);
    expect(Math.max(...mended.deltas)).toBeLessThan(0.012);
  });
  it("of two counterparts the weaker takes the mirror image of the stronger", () => {
    const two = {
      ...characterWith({ parts: [boxPart("body")] }),
      shapes: [shapeOf("AU1_left", { 1: [0.1, 0.2, 0] }), shapeOf("AU1_right", { 0: [-0.05, 0.1, 0] })],
    };
    const { shapes } = mend(two, at("shapes.symmetry", { shape: "AU1_left", part: "body" }));
    expect([...shapes[1]!.deltas[0]!.vertices]).toEqual([0]);
    expect([...shapes[1]!.deltas[0]!.deltas].map((x) => Number(x.toFixed(6)))).toEqual([-0.1, 0.2, 0]);
    expect(shapes[0]).toEqual(two.shapes[0]);
  });
});

import { writeGlb } from "../../formats/glb/writeGlb";
import { writeObj } from "../../formats/obj/writeObj";
import { writePly } from "../../formats/writePly";
import type { PlainMesh } from "../../formats/readPly";
import type { Character, ShapeDelta } from "../../model/character";
import { movedBy } from "../../model/movedBy";
import { boxPart, characterWith, partOf, shapeOf, tube } from "../../../tests/helpers/characters";
import { between, randomFrom } from "../../../tests/helpers/random";
import { bringTargets, type BringOptions, type TargetFile } from "./bringTargets";
import { fitTarget, joined } from "../../shapes/targets/fitTarget";
import { matchByConnectivity } from "../../shapes/targets/matchByConnectivity";

const PLAIN: BringOptions = { smoothRounds: 0, smoothStrength: 1 };
const text = (name: string, content: string): TargetFile => ({ name, bytes: new TextEncoder().encode(content) });
const limb = tube();
const bump = shapeOf("bump", { 400: [0.02, 0, 0], 401: [0.012, 0, 0], 424: [0.01, 0, 0.004] });
const withBump = (character: Character = limb): Float32Array => movedBy(character.parts[0]!, bump.deltas[0]!).moved;
const obj = (positions: Float32Array, of: Character = limb): string => writeObj(of, [positions]);
const mapped = (
  P: Float32Array,
  map: (x: number, y: number, z: number) => readonly [number, number, number],
): Float32Array =>
  Float32Array.from({ length: P.length / 3 }, (_, v) => v).length
    ? Float32Array.from(
        Array.from({ length: P.length / 3 }, (_, v) => [...map(P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!)]).flat(),
      )
    : P;

/** The mesh with its vertices, faces and first corners in random order. */
function shuffled(mesh: PlainMesh, seed: number): { mesh: PlainMesh; order: number[] } {
  const random = randomFrom(seed);
  const shuffle = <T>(list: T[]): T[] =>
    list
      .map((x) => ({ x, key: random() }))
      .sort((a, b) => a.key - b.key)
      .map(({ x }) => x);
  const count = mesh.positions.length / 3;
  const order = shuffle(Array.from({ length: count }, (_, v) => v));
  const place = new Array<number>(count);
  order.forEach((old, now) => (place[old] = now));
  const faces = shuffle(
    Array.from({ length: mesh.faceStarts.length - 1 }, (_, f) =>
      Array.from(mesh.corners.subarray(mesh.faceStarts[f], mesh.faceStarts[f + 1]), (v) => place[v]!),
    ),
  ).map((f) => {
    const first = Math.floor(random() * f.length);
    return [...f.slice(first), ...f.slice(0, first)];
  });
  const part = partOf(
    "shuffled",
    order.map((v) => [mesh.positions[3 * v]!, mesh.positions[3 * v + 1]!, mesh.positions[3 * v + 2]!]),
    faces,
  );
  return { mesh: { positions: part.positions, corners: part.corners, faceStarts: part.faceStarts }, order: place };
}
const moveOf = (deltas: readonly ShapeDelta[], vertex: number): number[] => {
  const d = deltas[0]!;
  const k = d.vertices.indexOf(vertex);
  return k < 0 ? [0, 0, 0] : Array.from(d.deltas.subarray(3 * k, 3 * k + 3), (x) => Number(x.toFixed(5)));
};
const refusal = (run: () => unknown): string => {
  try {
    run();
  } catch (error) {
    return (error as Error).message;
  }
  return "taken";
};
const target = (mesh: PlainMesh): PlainMesh & { file: string; name: string } => ({ ...mesh, file: "t.obj", name: "t" });

describe("matching by the faces", () => {
  it("finds every vertex of a shuffled mesh, moved as it may be", () => {
    const base = joined(limb, [0]);
    for (const seed of [1, 2, 3]) {
      const { mesh, order } = shuffled({ ...base, positions: withBump() }, seed);
      expect([...matchByConnectivity(base, mesh)!]).toEqual(order);
    }
  });
  it("matches several shells, loose vertices after them", () => {
    const two = characterWith({ parts: [boxPart("a", [0.5, 0.5, 0.5]), boxPart("b", [0.2, 0.3, 0.4], [2, 0, 0])] });
    const base = joined(two, [0, 1]);
    const { mesh, order } = shuffled(base, 5);
    expect([...matchByConnectivity(base, mesh)!]).toEqual(order);
  });
  it("does not lay a mirror image or another net on the base", () => {
    const base = joined(limb, [0]);
    const turned: PlainMesh = {
      ...base,
      corners: Uint32Array.from(
        Array.from({ length: base.faceStarts.length - 1 }, (_, f) =>
          [...base.corners.subarray(base.faceStarts[f], base.faceStarts[f + 1])].reverse(),
        ).flat(),
      ),
    };
    // the tube is symmetric, so its mirror image fits somewhere: with one quad cut in two it is not, and does not
    expect(matchByConnectivity(base, joined(tube({ rings: 34, sides: 23 }), [0]))).toBeNull();
    expect(turned.corners.length).toBe(base.corners.length);
  });
});

describe("a target is laid on the base", () => {
  it("as it is", () => {
    const { deltas, notes } = fitTarget(limb, target({ ...joined(limb, [0]), positions: withBump() }));
    expect(notes).toEqual([]);
    expect([...deltas[0]!.vertices]).toEqual([400, 401, 424]);
    expect(moveOf(deltas, 400)).toEqual([0.02, 0, 0]);
  });
  it.each<[string, (x: number, y: number, z: number) => readonly [number, number, number], RegExp]>([
    ["in centimetres", (x, y, z) => [100 * x, 100 * y, 100 * z], /centimetres/],
    ["in millimetres", (x, y, z) => [1000 * x, 1000 * y, 1000 * z], /millimetres/],
    ["in inches", (x, y, z) => [x / 0.0254, y / 0.0254, z / 0.0254], /inches/],
    ["with +Z up", (x, y, z) => [x, -z, y], /axes were turned/],
    [
      "with +Z up, in centimetres and moved",
      (x, y, z) => [100 * x + 30, -100 * z, 100 * y - 20],
      /centimetres.*axes were turned.*mm off/,
    ],
    ["mirrored", (x, y, z) => [-x, y, z], /mirrored/],
    ["two metres off", (x, y, z) => [x + 2, y, z], /2000 mm off/],
  ])("%s", (_, map, told) => {
    const { deltas, notes } = fitTarget(limb, target({ ...joined(limb, [0]), positions: mapped(withBump(), map) }));
    expect(notes.join(" ")).toMatch(told);
    for (const [v, d] of [
      [400, [0.02, 0, 0]],
      [401, [0.012, 0, 0]],
      [424, [0.01, 0, 0.004]],
      [300, [0, 0, 0]],
    ] as const)
      moveOf(deltas, v).forEach((x, c) => expect(x).toBeCloseTo(d[c]!, 4));
  });
  it("with its order mended, and units at the same time", () => {
    const { mesh } = shuffled(
      { ...joined(limb, [0]), positions: mapped(withBump(), (x, y, z) => [100 * x, 100 * y, 100 * z]) },
      9,
    );
    const { deltas, notes } = fitTarget(limb, target(mesh));
    expect(notes.join(" ")).toMatch(/another order.*centimetres/);
    expect(moveOf(deltas, 400)[0]).toBeCloseTo(0.02, 4);
    expect(deltas[0]!.vertices.length).toBe(3);
  });
  it("when all of it moves a little: that is the shape", () => {
    const { deltas, notes } = fitTarget(
      limb,
      target({ ...joined(limb, [0]), positions: mapped(joined(limb, [0]).positions, (x, y, z) => [x, y + 0.04, z]) }),
    );
    expect(notes).toEqual([]);
    expect(moveOf(deltas, 10)[1]).toBeCloseTo(0.04, 5);
  });
  it("of the one part it fits, or of all parts", () => {
    const two = characterWith({ parts: [limb.parts[0]!, boxPart("box", [0.1, 0.1, 0.1], [1, 0, 0], "other")] });
    const one = fitTarget(two, target(mappedPart(two, 1)));
    expect(one.deltas.map((d) => d.part)).toEqual([1]);
    const all = joined(two, [0, 1]);
    const moved = all.positions.slice();
    moved[0]! += 0.02;
    moved[moved.length - 1]! += 0.03;
    expect(fitTarget(two, target({ ...all, positions: moved })).deltas.map((d) => d.part)).toEqual([0, 1]);
  });
});
const mappedPart = (character: Character, part: number): PlainMesh => ({
  ...joined(character, [part]),
  positions: mapped(character.parts[part]!.positions, (x, y, z) => [x, y * 1.1, z]),
});

describe("a target that is another mesh is refused with the reason", () => {
  it("subdivided once", () => {
    const box = characterWith({ parts: [boxPart()] });
    // Catmull-Clark of a box: 8 corners, 12 edges, 6 faces
    const once = {
      positions: new Float32Array(3 * 26).map((_, i) => i),
      corners: new Uint32Array(),
      faceStarts: Uint32Array.from([0]),
    };
    expect(refusal(() => fitTarget(box, target(once)))).toMatch(/box subdivided once/);
    expect(
      refusal(() => fitTarget(box, target({ ...once, positions: new Float32Array(3 * 98).map((_, i) => i) }))),
    ).toMatch(/subdivided 2 times/);
  });
  it("another count", () =>
    expect(
      refusal(() => fitTarget(limb, target({ ...joined(limb, [0]), positions: new Float32Array(30).fill(1) }))),
    ).toMatch(/10 vertices; limb has 794/));
  it("not a number", () =>
    expect(
      refusal(() =>
        fitTarget(limb, target({ ...joined(limb, [0]), positions: withBump().map((x, i) => (i === 31 ? NaN : x)) })),
      ),
    ).toMatch(/Vertex 10 is not a number/));
  it("random places", () => {
    const random = randomFrom(4);
    expect(
      refusal(() =>
        fitTarget(
          limb,
          target({
            ...joined(limb, [0]),
            corners: joined(limb, [0]).corners.slice().reverse(),
            positions: joined(limb, [0]).positions.map(() => between(random, -1, 1)),
          }),
        ),
      ),
    ).toMatch(/another order/);
  });
});

describe("files are brought", () => {
  it("several at once, each alone taken or refused, the refused first", async () => {
    const glb = await writeGlb({ ...limb, shapes: [bump] });
    const brought = await bringTargets(
      limb,
      [
        text("a.obj", obj(withBump())),
        text("b.ply", writePly(limb, [withBump()])),
        { name: "c.glb", bytes: glb },
        text("same.obj", obj(limb.parts[0]!.positions)),
        text("limb base.obj", obj(limb.parts[0]!.positions)),
        text("d.fbx", "x"),
        text("e.obj", "v 1 2\n"),
      ],
      PLAIN,
    );
    const of = (name: string): string | number => {
      const b = brought.find((x) => x.name === name || x.file === name)!;
      return b.refused ? b.refused.what : Number(b.maxMm.toFixed(2));
    };
    expect([of("a"), of("b"), of("bump")]).toEqual([20, 20, 20]);
    expect(brought.some((b) => b.file === "limb base.obj")).toBe(false);
    expect(of("same.obj")).toMatch(/base itself/);
    expect(of("d.fbx")).toMatch(/kind .fbx are not read/);
    expect(of("e.obj")).not.toBe(20);
    expect(brought.slice(0, 2).every((b) => b.refused)).toBe(true);
  });
  it("with noise smoothed out of the movement, and told how much", async () => {
    const random = randomFrom(8);
    const noisy = withBump().map((x, i) => (i >= 900 && i < 1500 ? x + between(random, -0.002, 0.002) : x));
    const [rough] = await bringTargets(limb, [text("n.obj", obj(noisy))], PLAIN);
    const [smooth] = await bringTargets(limb, [text("n.obj", obj(noisy))], { smoothRounds: 8, smoothStrength: 1.2 });
    const energy = (d: readonly ShapeDelta[]): number => d[0]!.deltas.reduce((s, x) => s + x * x, 0);
    expect(energy(smooth!.deltas)).toBeLessThan(0.3 * energy(rough!.deltas));
    expect(smooth!.lostMm).toBeGreaterThan(2);
    expect(rough!.lostMm).toBe(0);
  });
  it("from another mesh by the surface, when its base comes along", async () => {
    const fine = tube({ rings: 49, sides: 36 });
    const swell = (c: Character): Float32Array =>
      mapped(c.parts[0]!.positions, (x, y, z) => [x * (1 + 0.4 * Math.exp(-(((y - 0.3) / 0.06) ** 2))), y, z]);
    const files = [
      text("fine base.obj", obj(fine.parts[0]!.positions, fine)),
      text("swell.obj", obj(swell(fine), fine)),
    ];
    const [alone] = await bringTargets(limb, [files[1]!], PLAIN);
    expect(alone!.refused!.what).toMatch(/limb has 794/);
    const brought = await bringTargets(limb, files, PLAIN);
    expect(brought.map((b) => b.name)).toEqual(["swell"]);
    expect(brought[0]!.notes[0]).toMatch(/carried over from fine base/);
    const wanted = swell(limb);
    const got = movedBy(limb.parts[0]!, brought[0]!.deltas[0]!).moved;
    let worst = 0;
    wanted.forEach((x, i) => (worst = Math.max(worst, Math.abs(x - got[i]!))));
    // the two tubes have other facets: their surfaces lie up to 0.4 mm apart
    expect(worst).toBeLessThan(0.001);
  });
});

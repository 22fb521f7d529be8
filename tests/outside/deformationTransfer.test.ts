import { cleanTarn, loadOda } from "../../demo/cast";
import { CHECKS } from "../../core/checks/entries";
import { runChecks } from "../../core/checks/runChecks";
import { PROFILES } from "../../core/checks/profile";
import { solveSymmetric, SymmetricMatrix } from "../../core/math/symmetricSolve";
import { triangulate, type Character, type Shape } from "../../core/model/character";
import { fullMovement } from "../../core/surface/carryMovement";
import { reduceCharacter } from "../../core/edits/reduce/reduceCharacter";
import { deformationGradients } from "../../core/transfer/deformationGradients";
import { surfaceFromGradients, transferSurface } from "../../core/transfer/transferSurface";
import { transferShapes } from "../../core/transfer/transferShapes";
import { tube } from "../helpers/characters";

/**
 * Sumner & Popovic 2004, Deformation transfer for triangle meshes: what it must do where the answer is known in closed
 * form.
 */
const part = tube().parts[0]!;
const { triangles } = triangulate(part);
const P = part.positions;
const other = P.map((x, i) => (i % 3 === 1 ? x * 1.3 : x * (1 + 0.2 * Math.sin(20 * P[3 * Math.floor(i / 3) + 1]!))));
const by = (Q: ArrayLike<number>, m: readonly number[]): Float64Array =>
  Float64Array.from({ length: Q.length }, (_, i) => {
    const v = i - (i % 3);
    return [0, 1, 2].reduce((s, c) => s + m[3 * c + (i % 3)]! * Q[v + c]!, 0);
  });
const rotation = (deg: number): number[] => {
  const [c, s] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)];
  return [c, s, 0, -s, c, 0, 0, 0, 1];
};

describe("deformation gradients", () => {
  it.each([
    ["rotation", rotation(35)],
    ["rotation by more than a right angle", rotation(130)],
  ])("of a %s are that rotation on every triangle", (_, m) => {
    const G = deformationGradients(triangles, P, by(P, m));
    for (let t = 0; t < G.length; t += 9) m.forEach((x, k) => expect(G[t + k]).toBeCloseTo(x, 4));
  });
  it("of a scale stretch the edges so, and the normal with them", () => {
    const G = deformationGradients(
      triangles,
      P,
      P.map((x) => 2 * x),
    );
    for (let t = 0; t < G.length; t += 9)
      [2, 0, 0, 0, 2, 0, 0, 0, 2].forEach((x, k) => expect(G[t + k]).toBeCloseTo(x, 4));
  });
});

describe("a transferred deformation", () => {
  it.each([
    ["rigid turn", rotation(40)],
    ["scale", [1.5, 0, 0, 0, 1.5, 0, 0, 0, 1.5]],
  ] as const)("that is a %s is the same on a mesh of another form, up to where it stands", (_, m) => {
    const surface = transferSurface(triangles, other);
    const moved = surfaceFromGradients(surface, deformationGradients(triangles, P, by(P, m)));
    const wanted = by(other, m).map((x, i) => x - other[i]!);
    // nothing holds the mesh in place: compare edges
    for (let t = 0; t < triangles.length; t += 3)
      for (const [a, b] of [
        [0, 1],
        [1, 2],
      ] as const)
        for (let c = 0; c < 3; c++) {
          const [i, j] = [3 * triangles[t + a]! + c, 3 * triangles[t + b]! + c];
          expect(Math.abs(moved[i]! - moved[j]! - (wanted[i]! - wanted[j]!))).toBeLessThan(2e-5);
        }
  });
  it("that is a shear along the surface is the same in the surface", () => {
    // a flat sheet: the shear lies in its plane, so that the scaled normal plays no part
    const n = 8;
    const flat = Float32Array.from(
      Array.from({ length: n * n }, (_, v) => [(v % n) * 0.1, Math.floor(v / n) * 0.1, 0]).flat(),
    );
    const quads = Uint32Array.from(
      Array.from({ length: (n - 1) * (n - 1) }, (_, q) => {
        const v = Math.floor(q / (n - 1)) * n + (q % (n - 1));
        return [v, v + 1, v + n + 1, v, v + n + 1, v + n];
      }).flat(),
    );
    const shear = [1, 0, 0, 0.4, 1, 0, 0, 0, 1];
    const uneven = flat.map((x, i) => (i % 3 === 0 ? x + 0.03 * Math.sin(9 * x) : x));
    const moved = surfaceFromGradients(
      transferSurface(quads, uneven),
      deformationGradients(quads, flat, by(flat, shear)),
    );
    const wanted = by(uneven, shear).map((x, i) => x - uneven[i]!);
    for (let v = 1; v < n * n; v++)
      for (let c = 0; c < 3; c++)
        expect(moved[3 * v + c]! - moved[c]! - (wanted[3 * v + c]! - wanted[c]!)).toBeCloseTo(0, 5);
  });
  it("comes back as it was on the mesh it was made on, whatever it is", () => {
    const bend = by(P, [1, 0, 0, 0, 1, 0, 0, 0, 1]).map(
      (x, i) => x + (i % 3 === 0 ? 0.05 * Math.max(0, P[i + 1]! - 0.3) ** 2 * 20 : 0),
    );
    const moved = surfaceFromGradients(transferSurface(triangles, P), deformationGradients(triangles, P, bend));
    let worst = 0;
    bend.forEach((x, i) => (worst = Math.max(worst, Math.abs(x - P[i]! - moved[i]!))));
    expect(worst).toBeLessThan(1e-5);
  });
});

describe("conjugate gradients", () => {
  it("solve the worked example of Shewchuk 1994 (section 2): 3 2 / 2 6 on 2, -8 is 2, -2", () => {
    const m = new SymmetricMatrix(2);
    m.add(0, 0, 3);
    m.add(0, 1, 2);
    m.add(1, 1, 6);
    const x = new Float64Array(2);
    expect(solveSymmetric(m.packed(), Float64Array.of(2, -8), x)).toBeLessThanOrEqual(2);
    expect([...x].map((v) => Number(v.toFixed(9)))).toEqual([2, -2]);
  });
  it("find the least of springs and ties: a chain held at one end and pulled at the other hangs evenly", () => {
    const m = new SymmetricMatrix(5);
    for (let i = 0; i + 1 < 5; i++) m.addSpring(i, i + 1, 1);
    m.addSquare([[0, 1]], 1e6);
    m.addSquare([[4, 1]], 1e6);
    const x = new Float64Array(5);
    solveSymmetric(m.packed(), Float64Array.of(0, 0, 0, 0, 4e6), x);
    [0, 1, 2, 3, 4].forEach((v, i) => expect(x[i]).toBeCloseTo(v, 4));
  });
});

describe("Oda's face on Tarn", () => {
  let oda: Character;
  let tarn: Character;
  beforeAll(async () => {
    oda = await loadOda();
    tarn = cleanTarn(oda);
  });
  const bare = (c: Character): Character => ({ ...c, shapes: [], drivers: [], shapeDrivers: [] });
  const bodyOf = (c: Character): number => c.parts.findIndex((p) => p.kind === "body");
  /** Root mean square distance to his own shape over the face's skin: what any of his face shapes moves, mm. */
  function rmsOf(own: Character, got: Shape): number {
    const body = bodyOf(own);
    const count = own.parts[body]!.positions.length / 3;
    const face = new Set(
      own.shapes
        .filter((s) => !s.jointOffsets)
        .flatMap((s) => s.deltas.filter((d) => d.part === body).flatMap((d) => [...d.vertices])),
    );
    const movement = (s: Shape): Float32Array =>
      fullMovement(
        s.deltas.find((d) => d.part === body) ?? { vertices: new Uint32Array(), deltas: new Float32Array() },
        count,
      );
    const [a, b] = [movement(got), movement(own.shapes.find((s) => s.name === got.name)!)];
    let sum = 0;
    for (const v of face) for (let c = 0; c < 3; c++) sum += (a[3 * v + c]! - b[3 * v + c]!) ** 2;
    return 1000 * Math.sqrt(sum / face.size);
  }
  it(
    "every shape lies within 1.5 mm rms of the one the generator " +
      "made for him, and no check of shapes or face finds anything",
    async () => {
      const seen: number[] = [];
      const { shapes, leftOut } = await transferShapes(
        oda,
        bare(tarn),
        oda.shapes.map((s) => s.name),
        (done, total) => void seen.push(done / total),
      );
      expect(shapes.length).toBeGreaterThan(61);
      // builds stay his own
      expect(leftOut.map((l) => l.name)).toEqual(oda.shapes.filter((s) => s.jointOffsets).map((s) => s.name));
      for (const s of shapes)
        expect({ shape: s.name, within: rmsOf(tarn, s) < 1.5 }).toEqual({ shape: s.name, within: true });
      const only = CHECKS.map((c) => c.id).filter((id) => /^(shapes|face)\./.test(id));
      const { findings } = await runChecks({ ...bare(tarn), shapes: [...shapes] }, PROFILES.realtime, { only });
      expect(only.length).toBeGreaterThan(10);
      expect(findings.map((f) => f.message)).toEqual([]);
      seen.slice(1).forEach((share, i) => expect(share).toBeGreaterThanOrEqual(seen[i]!));
      expect(seen.at(-1)).toBe(1);
    },
    240_000,
  );
  it("also where his mesh is another net of a third as many vertices: laid on first, then transferred", async () => {
    const { character: small } = reduceCharacter(tarn, 9000);
    expect(small.parts[bodyOf(small)]!.positions.length).toBeLessThan(0.4 * tarn.parts[bodyOf(tarn)]!.positions.length);
    const { shapes, how } = await transferShapes(oda, bare(small), ["AU12_left", "AU43_right", "AU18", "AU2_left"]);
    expect(how).toMatch(/laid on the other/);
    for (const s of shapes)
      expect({ shape: s.name, within: rmsOf(small, s) < 1.5 }).toEqual({ shape: s.name, within: true });
  }, 120_000);
  it("is refused where nothing is known on both", async () => {
    const blank = { ...tube(), name: "a tube" };
    await expect(transferShapes(oda, blank, ["AU12_left"])).rejects.toThrow(/other nets of faces/);
    await expect(transferShapes(oda, { ...blank, parts: [] }, ["AU12_left"])).rejects.toThrow(/has no body/);
  });
});

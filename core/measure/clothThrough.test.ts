import { loadOda } from "../../demo/cast";
import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT } from "../evaluate/moment";
import type { Character, Part } from "../model/character";
import { humanoidMap } from "../skeleton/humanoidMap";
import { jointMotions } from "../skeleton/jointMotions";
import { tube } from "../../tests/helpers/characters";
import { clothOverMotions, clothThrough, makeClothGauge } from "./clothThrough";

const limb = tube();
const sleeve = tube({ radius: 0.056, length: 0.6 });
const dressed = (skin: Part["skin"]): Character => ({
  ...limb,
  parts: [limb.parts[0]!, { ...sleeve.parts[0]!, name: "sleeve", kind: "garment", skin }],
});
const read = (c: Character, degrees: number): { vertices: number[]; depths: number[] } => {
  const rig = makeRig(c);
  return clothThrough(
    makeClothGauge(rig, 1)!,
    deform(rig, { ...REST_MOMENT, pose: { lower: [degrees, 0, 0] } }, { normals: false }).positions,
  );
};

describe("skin through a garment", () => {
  it("is none at rest, where the sleeve lies 6 mm over the limb", () => {
    const gauge = makeClothGauge(makeRig(dressed(sleeve.parts[0]!.skin)), 1)!;
    expect(gauge.covered.length).toBeGreaterThan(600);
    for (const c of gauge.covered) expect(-c.rest).toBeLessThan(0.0065);
    expect(read(dressed(sleeve.parts[0]!.skin), 0).vertices).toEqual([]);
  });
  it("is none where the sleeve bends as the limb does", () =>
    expect(read(dressed(sleeve.parts[0]!.skin), 25).vertices).toEqual([]));
  it("shows where the sleeve stays behind, deeper the farther the limb bends", () => {
    const stiff = {
      influenceCount: 1,
      joints: new Uint16Array(sleeve.parts[0]!.positions.length / 3),
      weights: new Float32Array(sleeve.parts[0]!.positions.length / 3).fill(1),
      inverseBinds: null,
    };
    const [little, much] = [4, 9].map((deg) => read(dressed(stiff), deg));
    expect(little!.depths[0]).toBeGreaterThan(0.002);
    expect(much!.depths[0]).toBeGreaterThan(little!.depths[0]!);
    // the limb leans towards +Z: it comes through on that side, above the joint's place
    for (const v of much!.vertices.slice(0, 20)) expect(limb.parts[0]!.positions[3 * v + 1]!).toBeGreaterThan(0.3);
    much!.depths.slice(1).forEach((d, i) => expect(d).toBeLessThanOrEqual(much!.depths[i]!));
  });
  it("is none where other skin lies before it whichever way it is looked at", () => {
    const rigid = sleeve.parts[0]!;
    const stiff = { ...rigid.skin!, joints: rigid.skin!.joints.map(() => 0) };
    const wall = tube({ radius: 0.12, length: 0.6 }).parts[0]!;
    const own = limb.parts[0]!;
    const count = own.positions.length / 3;
    const inside: Part = {
      ...own,
      positions: Float32Array.from([...own.positions, ...wall.positions]),
      corners: Uint32Array.from([...own.corners, ...wall.corners.map((v) => v + count)]),
      faceStarts: Uint32Array.from([...own.faceStarts, ...wall.faceStarts.slice(1).map((k) => k + own.corners.length)]),
      groups: [{ ...own.groups[0]!, faceCount: own.groups[0]!.faceCount + wall.groups[0]!.faceCount }],
      uvs: null,
      colors: null,
      skin: {
        ...own.skin!,
        joints: Uint16Array.from([...own.skin!.joints, ...wall.skin!.joints.map(() => 0)]),
        weights: Float32Array.from([...own.skin!.weights, ...wall.skin!.weights]),
      },
    };
    const alone = dressed(stiff);
    expect(read(alone, 9).vertices.length).toBeGreaterThan(0);
    expect(read({ ...alone, parts: [inside, alone.parts[1]!] }, 9).vertices).toEqual([]);
  });
  it("is not asked of what covers nothing", () => {
    const far = {
      ...sleeve.parts[0]!,
      kind: "garment" as const,
      positions: sleeve.parts[0]!.positions.map((x) => x + 2),
    };
    expect(makeClothGauge(makeRig({ ...limb, parts: [limb.parts[0]!, far] }), 1)).toBeNull();
  });
});

describe("Oda's clothes over her range of motion", () => {
  it("are read worst first, each at its worst angle, the same every time, and can be stopped", async () => {
    const oda = await loadOda();
    const rig = makeRig(oda);
    const motions = jointMotions(oda.skeleton!, humanoidMap(oda.skeleton!)).filter((m) =>
      /leftUpperArm|leftUpperLeg|leftLowerLeg/.test(m.joint),
    );
    const rows = await clothOverMotions(rig, motions, 5, "linear");
    expect(rows.length).toBeGreaterThan(0);
    rows.slice(1).forEach((r, i) => expect(r.depthMm).toBeLessThanOrEqual(rows[i]!.depthMm));
    for (const r of rows) {
      const m = motions.find((x) => x.id === r.motion)!;
      expect(r.angle >= m.min && r.angle <= m.max).toBe(true);
      expect(oda.parts.find((p) => p.name === r.garment)!.kind).toBe("garment");
      expect(r.vertices.length).toBeGreaterThan(0);
    }
    expect(await clothOverMotions(rig, motions, 5, "linear")).toEqual(rows);
    await expect(
      clothOverMotions(rig, motions, 5, "linear", (done) => {
        if (done > 0) throw new Error("cancelled");
      }),
    ).rejects.toThrow("cancelled");
  });
});

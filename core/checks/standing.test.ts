import { loadOda } from "../../demo/cast";
import { mend, mendSentence } from "./mend";
import { guessPartKind } from "../model/partKind";
import type { Character, SkinBinding } from "../model/character";
import { AXES, type Axis } from "../model/axes";
import { applyRepair, repairChanges } from "../edits/repairs/repairs";
import { standUp } from "../edits/repairs/standUp";
import { renameJoints } from "../skeleton/renameJoints";
import { PROFILES } from "./profile";
import { runChecks } from "./runChecks";

const oda = await loadOda();
const few: Character = {
  ...oda,
  shapes: oda.shapes.slice(0, 6),
  drivers: [],
  shapeDrivers: [],
  clips: oda.clips.slice(0, 1),
};
const findings = async (c: Character, only?: string[]) =>
  (await runChecks(c, PROFILES.realtime, only ? { only } : {})).findings;
const STANCES = AXES.flatMap((up) =>
  AXES.filter((front) => front[1] !== up[1]).map((front) => [up, front] as const),
).filter(([up, front]) => !(up === "+Y" && front === "+Z"));
const own = (a: Axis): readonly [number, number] => [a[0] === "-" ? -1 : 1, "XYZ".indexOf(a[1]!)];

describe("a figure that stands otherwise", () => {
  it.each(STANCES)(
    "seen from a file whose %s and %s are up and front: one finding, one mend, and it is what it was",
    async (up, front) => {
      // standUp makes `up` of the figure +Y; here the figure comes to stand so that it has to be stood up
      const turned = standUp(few, 1, up, front);
      const found = await findings(turned);
      const told = found.filter((f) => f.check === "scale.stance");
      expect(told.length).toBe(1);
      expect(found.filter((f) => f.severity === "error" && f.check !== "scale.stance").map((f) => f.message)).toEqual(
        [],
      );
      expect(told[0]!.message).toMatch(/1.6\d m from crown to sole/);
      expect(mendSentence(told[0]!)).toMatch(/upright/);
      const mended = mend(turned, told[0]!);
      expect(await findings(mended, ["scale.stance", "skeleton.names", "scale.stature"])).toEqual([]);
      mended.parts.forEach((p, i) =>
        p.positions.forEach((x, k) => {
          if (k % 997 === 0) expect(Math.abs(x - few.parts[i]!.positions[k]!)).toBeLessThan(2e-3);
        }),
      );
      expect(own(up)[0] ** 2).toBe(1);
    },
  );
  it("with joints whose names say nothing is told by eyes and teeth", async () => {
    const nameless = renameJoints(few, new Map(few.skeleton!.joints.map((j, i) => [j.name, `n${i}`])));
    expect((await findings(standUp(nameless, 1, "+Z", "-Y"), ["scale.stance"])).length).toBe(1);
    expect(await findings(nameless, ["scale.stance"])).toEqual([]);
  });
  it("half a turn is previewed by how far it moves what", () => {
    expect(repairChanges(few, applyRepair(few, { what: "stand", factor: 1, up: "+Y", front: "-Z" }))).toEqual([
      { of: "farthest vertex moved, mm", before: 0, after: expect.any(Number) as number, digits: 2 },
    ]);
  });
});

it("a slip of the unit is mended in one click, where one explains the size", async () => {
  const large = standUp(few, 100, "+Y", "+Z");
  const [told] = await findings(large, ["scale.stature"]);
  expect(mendSentence(told!)).toBe("Scales the whole character by 0.01: mesh, skeleton, shapes and clips together.");
  expect(await findings(mend(large, told!), ["scale.stature"])).toEqual([]);
  expect(mendSentence({ ...told!, value: 9000 })).toBeNull();
});

it("no message ever says Infinity, NaN, null or undefined, whatever stands wrong", async () => {
  const scattered: Character = {
    ...few,
    parts: few.parts.map((p) => ({ ...p, kind: p.kind === "teeth" ? "tongue" : p.kind })),
  };
  const far: Character = {
    ...few,
    parts: few.parts.map((p) => (p.kind === "teeth" ? { ...p, positions: p.positions.map((x) => x + 3) } : p)),
  };
  for (const c of [
    scattered,
    far,
    standUp(few, 1, "+Y", "-Z"),
    standUp(few, 0.01, "+Y", "+Z"),
    { ...few, skeleton: null, parts: few.parts.map((p) => ({ ...p, skin: null })) },
  ])
    for (const f of await findings(c)) {
      expect(f.message).not.toMatch(/Infinity|NaN|\bnull\b|undefined/);
      expect(f.value === null || Number.isFinite(f.value)).toBe(true);
    }
});

describe("names of what is in the corner of the eye", () => {
  it.each([
    ["tear duct left", "other"],
    ["caruncle_R", "other"],
    ["lacrimal.l", "other"],
    ["tear line left", "tear line"],
    ["tearline_r", "tear line"],
    ["wetness", "tear line"],
  ])("%s is %s", (name, kind) => expect(guessPartKind(name, [])).toBe(kind));
});

describe("stray weights", () => {
  const body = few.parts.findIndex((p) => p.kind === "body");
  const at = (name: string): number => few.skeleton!.joints.findIndex((j) => j.name === name);
  /** The body with a share of some vertices given to a joint. */
  const given = (vertices: readonly number[], joint: number, share: number): Character => {
    const part = few.parts[body]!;
    const { influenceCount: n } = part.skin!;
    const wide = n + 1;
    const count = part.positions.length / 3;
    const skin: SkinBinding = {
      ...part.skin!,
      influenceCount: wide,
      joints: new Uint16Array(wide * count),
      weights: new Float32Array(wide * count),
    };
    for (let v = 0; v < count; v++) {
      const own = vertices.includes(v) ? share : 0;
      for (let k = 0; k < n; k++) {
        skin.joints[wide * v + k] = part.skin!.joints[n * v + k]!;
        skin.weights[wide * v + k] = part.skin!.weights[n * v + k]! * (1 - own);
      }
      skin.joints[wide * v + n] = joint;
      skin.weights[wide * v + n] = own;
    }
    return { ...few, parts: few.parts.map((p, i) => (i === body ? { ...part, skin } : p)) };
  };
  const P = few.parts[body]!.positions;
  const scattered = [...Array(P.length / 3).keys()].filter((v) => P[3 * v + 1]! > 1.45 && v % 11 === 0).slice(0, 30);
  it.each([0.05, 0.1])(
    "scattered over a far part, %d each, are found in one row and given back, without touching what is right",
    async (share) => {
      const character = given(scattered, at("rightFoot"), share);
      const found = await findings(character, ["weights.stray"]);
      expect(found.map((f) => [f.part, f.joint, f.value])).toEqual([
        [few.parts[body]!.name, "rightFoot", scattered.length],
      ]);
      expect(found[0]!.message).toMatch(/hang a little on rightFoot/);
      const mended = mend(character, found[0]!);
      expect(await findings(mended, ["weights.stray", "weights.sum"])).toEqual([]);
      const { skin } = mended.parts[body]!;
      const n = few.parts[body]!.skin!.influenceCount;
      for (const v of scattered)
        for (let k = 0; k < n; k++)
          expect(skin!.weights[(n + 1) * v + k]).toBeCloseTo(few.parts[body]!.skin!.weights[n * v + k]!, 5);
    },
  );
  it("several islands of one joint are one row", async () => {
    const arms = [...Array(P.length / 3).keys()]
      .filter((v) => (P[3 * v + 1]! > 1.56 || P[3 * v + 1]! < 0.06) && v % 5 === 0)
      .slice(0, 40);
    const found = await findings(given(arms, at("leftHand"), 0.9), ["weights.stray"]);
    expect(found.length).toBe(1);
    expect(found[0]!.message).toMatch(/in \d+ patches/);
  });
  it("parts of the head are not stray when jaw and eyes hang elsewhere", async () => {
    const top = at("hips");
    const skeleton = {
      ...few.skeleton!,
      joints: few.skeleton!.joints.map((j) => (/Eye$|^jaw$/.test(j.name) ? { ...j, parent: top } : j)),
    };
    expect(await findings({ ...few, skeleton }, ["weights.stray"])).toEqual([]);
  });
});

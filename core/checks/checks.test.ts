import {
  boxPart,
  characterWith,
  figureSkeleton,
  partOf,
  rigidSkin,
  shapeOf,
  skeletonOf,
  tube,
} from "../../tests/helpers/characters";
import { DEFAULT_MATERIAL, NO_JOINT, type Character, type Part } from "../model/character";
import type { SweepRow } from "../measure/sweepMotion";
import { compareFindings, finding, type Finding } from "./finding";
import { findingSchema } from "./findingSchema";
import { poseFindings } from "./pose/poseFindings";
import { PROFILES, profileSchema } from "./profile";
import { runChecks } from "./runChecks";
import { CHECKS } from "./entries";
import { likelyUnit, statureOf } from "../measure/stature";

const only = async (character: Character, check: string, profile = PROFILES.film): Promise<Finding[]> =>
  (await runChecks(character, profile, { only: [check] })).findings;
const body = (part: Part): Character => characterWith({ parts: [part] });
/** A tall box: as high as a person. */
const person = boxPart("body", [0.2, 0.85, 0.15], [0, 0.85, 0]);

describe("every check", () => {
  it("has an id, a title and a source, and its own id only once", () => {
    expect(new Set(CHECKS.map((c) => c.id)).size).toBe(CHECKS.length);
    for (const c of CHECKS) expect([c.id, c.title, c.source].every((x) => x.length > 2)).toBe(true);
  });
  it("gives findings of the documented form, the same each time", async () => {
    const bad = characterWith({
      parts: [{ ...person, corners: person.corners.map((v, i) => (i === 1 ? person.corners[0]! : v)) }],
      shapes: [shapeOf("none", {})],
    });
    const run = await runChecks(bad, PROFILES.realtime);
    expect(run.findings.length).toBeGreaterThan(2);
    for (const f of run.findings) expect(findingSchema.parse(f)).toEqual(f);
    expect(await runChecks(bad, PROFILES.realtime)).toEqual(run);
    expect(run.summary.error + run.summary.warn + run.summary.note).toBe(run.findings.length);
  });
  it("can be turned off by the profile", async () => {
    expect(
      (await runChecks(person && body(person), { ...PROFILES.film, off: CHECKS.map((c) => c.id) })).findings,
    ).toEqual([]);
  });
  it("reports progress and can be stopped", async () => {
    await expect(
      runChecks(body(person), PROFILES.film, {
        tick: (done) => {
          if (done > 3) throw new Error("cancelled");
        },
      }),
    ).rejects.toThrow("cancelled");
  });
});

describe("mesh", () => {
  it("non-manifold: finds an edge of three faces and two surfaces that touch in a point", async () => {
    const fin = partOf(
      "fin",
      [
        [0, 0, 0],
        [0, 1, 0],
        [1, 0, 0],
        [-1, 0, 0],
        [0, 0, 1],
      ],
      [
        [0, 1, 2],
        [1, 0, 3],
        [0, 1, 4],
      ],
    );
    expect((await only(body(fin), "mesh.non-manifold"))[0]).toMatchObject({
      severity: "error",
      value: 1,
      vertices: [0, 1],
    });
    const bow = partOf(
      "bow",
      [
        [0, 0, 0],
        [1, 1, 0],
        [1, -1, 0],
        [-1, 1, 0],
        [-1, -1, 0],
      ],
      [
        [0, 2, 1],
        [0, 3, 4],
      ],
    );
    expect((await only(body(bow), "mesh.non-manifold"))[0]).toMatchObject({ vertices: [0] });
    expect(await only(body(person), "mesh.non-manifold")).toEqual([]);
  });
  it("non-manifold: looks through seams", async () => {
    const split = {
      ...person,
      positions: Float32Array.from([...person.positions, ...person.positions.subarray(0, 3)]),
      corners: person.corners.map((v, i) => (v === 0 && i < 4 ? 8 : v)),
    };
    expect(await only(body(split), "mesh.non-manifold")).toEqual([]);
  });
  it("degenerate: finds a face without area and one with a corner twice", async () => {
    const flat = partOf(
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
        [1, 1, 3],
      ],
    );
    expect((await only(body(flat), "mesh.degenerate"))[0]).toMatchObject({ severity: "error", value: 2 });
  });
  it("loose: lists vertices of no face", async () => {
    const loose = partOf(
      "loose",
      [
        [0, 0, 0],
        [1, 0, 0],
        [0, 1, 0],
        [9, 9, 9],
      ],
      [[0, 1, 2]],
    );
    expect((await only(body(loose), "mesh.loose"))[0]).toMatchObject({ severity: "warn", vertices: [3] });
  });
  it("budget: counts triangles against the profile", async () => {
    const heavy = body(tube({ rings: 300, sides: 100 }).parts[0]!);
    expect((await only(heavy, "mesh.budget", PROFILES.realtime))[0]).toMatchObject({
      value: 2 * 299 * 100 + 200,
      limit: 40_000,
    });
    expect(await only(heavy, "mesh.budget", PROFILES.film)).toEqual([]);
    expect((await only(heavy, "mesh.budget", PROFILES.crowd))[0]).toMatchObject({ limit: 10_000 });
  });
});

describe("parts and scale", () => {
  it("opacity: warns of an opaque lash card, not of an opaque body", async () => {
    const opaque = characterWith({ parts: [boxPart("lashes", [1, 1, 1], [0, 0, 0], "lash"), person] });
    expect((await only(opaque, "parts.material-opacity")).map((f) => f.part)).toEqual(["lashes"]);
    expect(
      await only({ ...opaque, materials: [{ ...DEFAULT_MATERIAL, opacity: "mask" }] }, "parts.material-opacity"),
    ).toEqual([]);
  });
  it("stature: is that of the body, and a slip of unit is named", async () => {
    expect(statureOf(characterWith({ parts: [person, boxPart("hat", [1, 1, 1], [0, 9, 0], "garment")] }))).toBeCloseTo(
      1.7,
      5,
    );
    expect(await only(body(person), "scale.stature")).toEqual([]);
    const big = { ...person, positions: person.positions.map((x) => 100 * x) };
    expect((await only(body(big), "scale.stature"))[0]!.message).toMatch(/centimetres.*0\.01/);
    expect(likelyUnit(1700)!.unit).toBe("millimetres");
    expect(likelyUnit(66.9)!.unit).toBe("inches");
    expect(likelyUnit(0.0172)!.factor).toBeCloseTo(0.01, 6);
    expect(likelyUnit(30)).toBeNull();
  });
});

describe("skeleton", () => {
  const skinned = (skeleton: Character["skeleton"]): Character =>
    characterWith({ parts: [{ ...person, skin: rigidSkin(8, 0) }], skeleton });
  it("required: names every bone that is missing", async () => {
    expect(await only(skinned(figureSkeleton()), "skeleton.required")).toEqual([]);
    const noHand = figureSkeleton((b) => (b === "leftHand" ? "zzz" : b));
    // a name that says nothing is found by its place; what is taken out of the map by hand is not
    expect(await only(skinned(noHand), "skeleton.required")).toEqual([]);
    expect(
      (await only({ ...skinned(noHand), jointMap: { zzz: null } }, "skeleton.required")).map((f) => f.joint),
    ).toEqual(["leftHand"]);
    expect((await only(body(person), "skeleton.required"))[0]!.message).toMatch(/no skeleton/);
  });
  it("rest-bind: measures a joint that was turned or moved after binding", async () => {
    const skeleton = figureSkeleton();
    expect(await only(skinned(skeleton), "skeleton.rest-bind")).toEqual([]);
    const turned = {
      ...skeleton,
      joints: skeleton.joints.map((j) =>
        j.name === "leftHand"
          ? { ...j, rotation: [0, 0, Math.sin(Math.PI / 180), Math.cos(Math.PI / 180)] as const }
          : j,
      ),
    };
    const [f] = await only(skinned(turned), "skeleton.rest-bind");
    expect(f).toMatchObject({ joint: "leftHand", severity: "error", unit: "deg" });
    expect(f!.value).toBeCloseTo(2, 2);
    const moved = {
      ...skeleton,
      joints: skeleton.joints.map((j) => (j.name === "head" ? { ...j, translation: [0, 0.1, 0.01] as const } : j)),
    };
    expect((await only(skinned(moved), "skeleton.rest-bind"))[0]).toMatchObject({ joint: "head", unit: "mm" });
  });
  it("rest-bind: tells a T pose from the A pose it was bound in", async () => {
    const skeleton = figureSkeleton();
    const t = {
      ...skeleton,
      joints: skeleton.joints.map((j) =>
        j.name === "leftUpperArm"
          ? { ...j, rotation: [0, 0, Math.sin(Math.PI / 8), Math.cos(Math.PI / 8)] as const }
          : j,
      ),
    };
    expect((await only(skinned(t), "skeleton.rest-bind")).find((f) => f.joint === "leftUpperArm")!.message).toMatch(
      /the skeleton stands at T, the mesh at A/,
    );
  });
  it("straight-hinge: wants a small bend, the right way", async () => {
    const with_ = (y: number): Character =>
      skinned(
        skeletonOf(
          figureSkeleton().joints.map((j) =>
            j.name === "leftLowerLeg"
              ? { ...j, translation: [0, -0.42, y] as const }
              : j.name === "leftFoot"
                ? { ...j, translation: [0, -0.41, -y] as const }
                : j,
          ),
        ),
      );
    expect(await only(with_(0.018), "skeleton.straight-hinge")).toEqual([]);
    expect((await only(with_(0), "skeleton.straight-hinge"))[0]).toMatchObject({
      severity: "error",
      joint: "leftLowerLeg",
    });
    expect((await only(with_(-0.02), "skeleton.straight-hinge"))[0]!.message).toMatch(/wrong way/);
    expect((await only(with_(0.2), "skeleton.straight-hinge"))[0]).toMatchObject({ severity: "warn" });
  });
  it("end-joints: notes a leaf that holds nothing", async () => {
    const skeleton = figureSkeleton();
    const tip = skeletonOf([...skeleton.joints, { name: "headTip", parent: 5, translation: [0, 0.2, 0] }]);
    expect((await only(skinned(tip), "skeleton.end-joints")).map((f) => [f.joint, f.severity])).toEqual([
      ["headTip", "note"],
    ]);
  });
});

describe("weights", () => {
  const skinWith = (change: (weights: Float32Array, joints: Uint16Array) => void, influenceCount = 4): Character => {
    const joints = new Uint16Array(8 * influenceCount);
    const weights = new Float32Array(8 * influenceCount);
    for (let v = 0; v < 8; v++) weights[v * influenceCount] = 1;
    change(weights, joints);
    return characterWith({
      parts: [{ ...person, skin: { influenceCount, joints, weights, inverseBinds: null } }],
      skeleton: skeletonOf([
        { name: "a", parent: NO_JOINT },
        ...Array.from({ length: 6 }, (_, i) => ({ name: `j${i}`, parent: 0 })),
      ]),
    });
  };
  it("sum: finds what does not add up to one and what holds nothing", async () => {
    expect(
      await only(
        skinWith(() => {}),
        "weights.sum",
      ),
    ).toEqual([]);
    const [f] = await only(
      skinWith((w) => w.set([0.6], 0) ?? w.set([0], 8)),
      "weights.sum",
    );
    expect(f!.vertices).toEqual([2, 0]);
    expect(f!.message).toMatch(/1 of them hold/);
  });
  it("count: compares influences with the profile", async () => {
    const six = skinWith(
      (w, j) =>
        [0, 1, 2, 3, 4, 5].forEach((k) => {
          w[k] = 1 / 6;
          j[k] = k;
        }),
      8,
    );
    expect((await only(six, "weights.count", PROFILES.realtime))[0]).toMatchObject({ vertices: [0], limit: 4 });
    expect(await only(six, "weights.count", PROFILES.film)).toEqual([]);
  });
  it("stray: finds an island held by a joint far away", async () => {
    const character = tube({ rings: 40, length: 1.6, radius: 0.1 });
    const skin = character.parts[0]!.skin!;
    const skeleton = skeletonOf([...character.skeleton!.joints, { name: "far", parent: 1, translation: [0, 0.75, 0] }]);
    const weights = skin.weights.slice();
    const joints = skin.joints.slice();
    const give = (v: number): void => {
      joints.set([2, 0], 2 * v);
      weights.set([1, 0], 2 * v);
    };
    for (let v = 0; v < weights.length / 2; v++) if (character.parts[0]!.positions[3 * v + 1]! > 1.4) give(v);
    const clean = {
      ...character,
      skeleton,
      parts: [{ ...character.parts[0]!, skin: { ...skin, weights: weights.slice(), joints: joints.slice() } }],
    };
    expect(await only(clean, "weights.stray")).toEqual([]);
    for (const v of [50, 51, 74, 75]) give(v);
    const [f] = await only(
      { ...clean, parts: [{ ...character.parts[0]!, skin: { ...skin, weights, joints } }] },
      "weights.stray",
    );
    expect(f).toMatchObject({ severity: "error", joint: "far" });
    expect([...f!.vertices].sort((a, b) => a - b)).toEqual([50, 51, 74, 75]);
  });
});

describe("shapes", () => {
  it("empty: wants a tenth of a millimetre", async () => {
    const character = characterWith({
      parts: [person],
      shapes: [shapeOf("still", { 0: [0.00005, 0, 0] }), shapeOf("moving", { 0: [0.001, 0, 0] })],
    });
    expect((await only(character, "shapes.empty")).map((f) => f.shape)).toEqual(["still"]);
  });
  it("flip: finds faces turned over", async () => {
    const through = characterWith({
      parts: [person],
      shapes: [shapeOf("through", Object.fromEntries([4, 5, 6, 7].map((v) => [v, [0, 0, -0.4] as const])))],
    });
    expect((await only(through, "shapes.flip"))[0]).toMatchObject({ severity: "warn", shape: "through", part: "body" });
  });
  it("count: finds a shape in another vertex order", async () => {
    const part = tube({ rings: 12 }).parts[0]!;
    const n = part.positions.length / 3;
    const shuffle: Record<number, [number, number, number]> = {};
    for (let v = 0; v < n; v++) {
      const w = (v * 101 + 7) % n;
      shuffle[v] = [0, 1, 2].map((k) => part.positions[3 * w + k]! - part.positions[3 * v + k]!) as [
        number,
        number,
        number,
      ];
    }
    const character = characterWith({
      parts: [part],
      shapes: [shapeOf("mixed", shuffle), shapeOf("fine", { 3: [0.01, 0, 0] })],
    });
    expect((await only(character, "shapes.count")).map((f) => [f.shape, f.severity])).toEqual([["mixed", "error"]]);
  });
  it("followers: finds a lash that stays when the lid moves", async () => {
    const lid = partOf(
      "body",
      [
        [0, 0, 0],
        [0.1, 0, 0],
        [0.1, 0.1, 0],
        [0, 0.1, 0],
      ],
      [[0, 1, 2, 3]],
    );
    const lash = partOf(
      "lashes",
      [
        [0.02, 0.02, 0.001],
        [0.06, 0.02, 0.001],
        [0.06, 0.06, 0.001],
        [0.02, 0.06, 0.001],
      ],
      [[0, 1, 2, 3]],
      { kind: "lash" },
    );
    const down = {
      vertices: Uint32Array.of(0, 1, 2, 3),
      deltas: Float32Array.from([0, -0.01, 0, 0, -0.01, 0, 0, -0.01, 0, 0, -0.01, 0]),
    };
    const left = characterWith({
      parts: [lid, lash],
      shapes: [{ name: "blink", label: "blink", deltas: [{ part: 0, ...down }] }],
    });
    expect((await only(left, "shapes.followers"))[0]).toMatchObject({
      part: "lashes",
      shape: "blink",
      severity: "error",
    });
    expect((await only(left, "shapes.followers"))[0]!.value).toBeCloseTo(10, 3);
    const along = {
      ...left,
      shapes: [
        {
          ...left.shapes[0]!,
          deltas: [
            { part: 0, ...down },
            { part: 1, ...down },
          ],
        },
      ],
    };
    expect(await only(along, "shapes.followers")).toEqual([]);
  });
});

describe("poses", () => {
  const fine = { volume: 0, depth: 0, stretch: 1, flips: 0 };
  const row = (angle: number, with_: Partial<typeof fine>): SweepRow => ({
    joint: "elbow",
    motion: "bend",
    angle,
    without: fine,
    with: { ...fine, ...with_ },
  });
  it("report the worst angle of each measure that passes its limit", () => {
    const found = poseFindings(
      [
        row(0, {}),
        row(60, { volume: -0.12, depth: 6 }),
        row(120, { volume: -0.25, depth: 3, flips: 1 }),
        row(140, { stretch: 2.4 }),
      ],
      PROFILES.realtime,
    );
    expect(found.map((f) => [f.check, f.severity])).toEqual([
      ["pose.volume", "error"],
      ["pose.penetration", "warn"],
      ["pose.stretch", "warn"],
      ["pose.flip", "warn"],
    ]);
    expect(found[0]!.message).toMatch(/25 %.*\+120 degrees/);
    expect(found[1]!.message).toMatch(/6\.0 mm.*\+60/);
    expect(found[3]!.message).toMatch(/^1 face turns/);
  });
  it("say nothing within the limits or without rows", () => {
    expect(poseFindings([row(30, { volume: -0.09, depth: 4.9, stretch: 1.9 })], PROFILES.realtime)).toEqual([]);
    expect(poseFindings([], PROFILES.realtime)).toEqual([]);
  });
  it("take what a profile leaves out from film", () => {
    expect(profileSchema.parse({ name: "own", limits: { "shapes.noise": null } }).limits).toEqual({
      ...PROFILES.film.limits,
      "shapes.noise": null,
    });
    expect(profileSchema.safeParse({ name: "own", limits: { "shapes.noise": "loud" } }).success).toBe(false);
  });
  it("can be switched off one by one", () => {
    const lax = profileSchema.parse({
      ...PROFILES.film,
      limits: { ...PROFILES.film.limits, "pose.penetration": null },
    });
    expect(poseFindings([row(30, { depth: 40 })], lax)).toEqual([]);
  });
});

describe("findings", () => {
  it("stand worst first, always in the same order", () => {
    const make = (check: string, severity: Finding["severity"], value: number): Finding =>
      finding({ check, severity, value, limit: 1, unit: "", message: "" });
    const list = [make("b", "note", 9), make("a", "warn", 2), make("a", "warn", 5), make("z", "error", 1)];
    expect([...list].sort(compareFindings).map((f) => [f.check, f.value])).toEqual([
      ["z", 1],
      ["a", 5],
      ["a", 2],
      ["b", 9],
    ]);
    expect(
      finding({
        check: "c",
        severity: "note",
        unit: "",
        message: "",
        vertices: Array.from({ length: 500 }, (_, i) => i),
      }).vertices.length,
    ).toBe(200);
  });
});

import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import validator from "gltf-validator";
import { runChecks } from "../core/checks/runChecks";
import { PROFILES } from "../core/checks/profile";
import { statureOf } from "../core/measure/stature";
import { deform, makeRig } from "../core/deform/rig";
import { REST_MOMENT } from "../core/evaluate/moment";
import { worldMatrices } from "../core/evaluate/poseSkeleton";
import { readGlb } from "../core/formats/glb/readGlb";
import { writeGlb } from "../core/formats/glb/writeGlb";
import { translationOf } from "../core/math/mat4";
import { length, sub, type Vec3 } from "../core/math/vec3";
import { assertCharacter } from "../core/model/assertCharacter";
import { isDriven, type Character, type Shape } from "../core/model/character";
import { isUserError } from "../core/model/userError";
import { reduceCharacter } from "../core/edits/reduce/reduceCharacter";
import { mend, mendSentence } from "../core/checks/mend";
import { makeJointGauge, measureJoint, type JointReading } from "../core/measure/measureJoint";
import { lidInBetween } from "../core/shapes/lidInBetween";
import { humanoidMap } from "../core/skeleton/humanoidMap";
import { jointOffsetsOf } from "../core/edits/skeleton/refitJoints";
import { jointMotions, motionPose } from "../core/skeleton/jointMotions";
import { FOREIGN_PREFIX, ODA_DELIVERY_1, ODA_DELIVERY_2, SECOND_PREFIX, TARN_DELIVERY } from "./faults/plantedFaults";
import { remodelling } from "./faults/redeliver";
import { CAST, cleanTarn, loadMember, loadOda } from "./cast";
import { EXPRESSIONS, mixOf, PRESETS, VISEMES } from "./mixes";
import { hashOfCharacter } from "./remake";
import { makePerson } from "./people/makePerson";
import { BASE, TARN, WICK, type Person } from "./people/people";
import { eyeMap, eyeShare, headMap, pushed, torsoMap } from "./people/personMap";

const oda = await loadOda();
const made = new Map<string, Character>();
for (const { id } of CAST) made.set(id, await loadMember(id));
const member = (id: string): Character => made.get(id)!;
const written = new Map<string, Uint8Array>();
/**
 * A member's GLB: the file that the demo command has just written, when the whole test run tells where, else written
 * once here.
 */
const glbOf = async (id: string): Promise<Uint8Array> => {
  const dir = process.env["YXOMORPH_CAST"];
  return (
    written.get(id) ??
    written
      .set(id, dir ? new Uint8Array(readFileSync(path.join(dir, `${id}.glb`))) : await writeGlb(member(id)))
      .get(id)!
  );
};
const people: [string, Person, Character][] = [
  ["Tarn", TARN, cleanTarn(oda)],
  ["Wick", WICK, member("wick")],
];
const places = (c: Character): Map<string, Vec3> => {
  const world = worldMatrices(c.skeleton!, {});
  return new Map(c.skeleton!.joints.map((j, i) => [j.name, translationOf(world, 16 * i)]));
};

describe("the cast", () => {
  it("has members with ids of their own, made of one base", () => {
    expect(new Set(CAST.map((m) => m.id)).size).toBe(CAST.length);
    for (const character of made.values()) expect(() => assertCharacter(character)).not.toThrow();
  });
  it.each(CAST.map((m) => m.id).filter((id) => id !== "oda"))(
    "%s passes the Khronos validator without errors or warnings",
    async (id) => {
      const { issues } = await validator.validateBytes(await glbOf(id));
      expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
    },
  );
  it("is the same each time it is made, in a process of its own, from nothing", () => {
    const ids = ["oda-delivery-2", "tarn"];
    const printed = execFileSync(process.execPath, ["--import", "tsx", "demo/remake.ts", ...ids], {
      encoding: "utf8",
      env: { ...process.env, NODE_OPTIONS: "" },
    });
    expect(printed.trim().split("\n")).toEqual(ids.map((id) => `${id} ${hashOfCharacter(member(id))}`));
  }, 180_000);
});

describe.each(people)("%s", (_name, person, character) => {
  it("keeps vertex order, parts, joints and shapes of the base", () => {
    const apart = (c: Character): [string, number][] =>
      c.parts.filter((p) => p.name !== "hair" && p.name !== "cap").map((p) => [p.name, p.positions.length]);
    expect(apart(character)).toEqual(apart(oda));
    expect(character.parts[0]!.corners).toEqual(oda.parts[0]!.corners);
    expect(character.skeleton!.joints.map((j) => [j.name, j.parent])).toEqual(
      oda.skeleton!.joints.map((j) => [j.name, j.parent]),
    );
    expect(character.shapes.filter((s) => !isDriven(character, s.name)).map((s) => s.name)).toEqual(
      oda.shapes.filter((s) => !s.jointOffsets).map((s) => s.name),
    );
  });
  it("stands as tall as the scenario says", () =>
    expect(statureOf(character)).toBeCloseTo({ tarn: 1.91, wick: 1.24 }[person.id]!, 2));
  it("is clean in the film and realtime profiles", async () => {
    for (const profile of [PROFILES.film, PROFILES.realtime])
      expect((await runChecks(character, profile)).findings).toEqual([]);
  });
  it("is symmetric in skin and skeleton", () => {
    const at = places(character);
    for (const bone of ["UpperArm", "LowerArm", "Hand", "IndexDistal", "UpperLeg", "Foot", "Eye"]) {
      const l = at.get(`left${bone}`)!;
      const r = at.get(`right${bone}`)!;
      expect(Math.hypot(l[0] + r[0], l[1] - r[1], l[2] - r[2])).toBeLessThan(1e-4);
    }
  });
  it("has the person's eyes, round and apart as told", () => {
    const at = places(character);
    expect(1000 * length(sub(at.get("leftEye")!, at.get("rightEye")!))).toBeCloseTo(
      2 * person.head.eye.x * 1000 * BASE.unit,
      3,
    );
    const ball = character.parts.find((p) => p.name === "eye left")!;
    const radii = Array.from(
      { length: ball.positions.length / 3 },
      (_, v) =>
        1000 *
        Math.hypot(
          ...sub([ball.positions[3 * v]!, ball.positions[3 * v + 1]!, ball.positions[3 * v + 2]!], at.get("leftEye")!),
        ),
    );
    expect(Math.min(...radii)).toBeGreaterThan(0.98 * person.head.eye.radius * 1000 * BASE.unit);
    expect(Math.max(...radii)).toBeLessThan(1.06 * person.head.eye.radius * 1000 * BASE.unit); // the cornea stands out
  });
  it("closes the eyes over the eyeballs: no lid vertex goes inside", () => {
    const body = character.parts.findIndex((p) => p.kind === "body");
    const { positions } = deform(makeRig(character), { ...REST_MOMENT, weights: { AU43_left: 1, AU43_right: 1 } });
    const base = deform(makeRig(oda), { ...REST_MOMENT, weights: { AU43_left: 1, AU43_right: 1 } });
    const centre = places(character).get("leftEye")!;
    const own = places(oda).get("leftEye")!;
    const lids = oda.shapes.find((s) => s.name === "AU43_left")!.deltas.find((d) => d.part === body)!.vertices;
    const from = (P: Float32Array, v: number, c: Vec3): number =>
      Math.hypot(P[3 * v]! - c[0], P[3 * v + 1]! - c[1], P[3 * v + 2]! - c[2]);
    for (const v of lids) {
      // as far out, in eyeball radii, as on the base figure, to a hundredth of one
      if (from(base.positions[body]!, v, own) > 0.0145) continue;
      expect(from(positions[body]!, v, centre) / (person.head.eye.radius * BASE.unit)).toBeGreaterThan(
        from(base.positions[body]!, v, own) / (BASE.eye.radius * BASE.unit) - 0.01,
      );
    }
  });
  it("wears other colours", () => {
    const body = character.parts.findIndex((p) => p.kind === "body");
    expect([...character.parts[body]!.colors!.subarray(0, 3)]).not.toEqual([
      ...oda.parts[body]!.colors!.subarray(0, 3),
    ]);
    expect(character.materials.find((m) => m.name === "top cloth")!.baseColor).not.toEqual(
      oda.materials.find((m) => m.name === "top cloth")!.baseColor,
    );
  });
});

describe("proportion shapes", () => {
  it("are three, and move the joints with the body", () => {
    expect(oda.shapes.filter((s) => s.jointOffsets).map((s) => s.name)).toEqual([
      "proportion_broad",
      "proportion_slight",
      "proportion_child",
    ]);
  });
  // the child shape at full is Wick: one generator made both, so the answer is known
  it("at full, posed, are the other person to a hundredth of a millimetre", () => {
    const pose = {
      leftUpperArm: [0, 0, 35] as const,
      leftLowerArm: [70, 0, 0] as const,
      leftIndexProximal: [60, 0, 0] as const,
      head: [10, 25, 0] as const,
      rightLowerLeg: [60, 0, 0] as const,
    };
    const here = deform(
      makeRig(oda),
      { ...REST_MOMENT, pose, weights: { proportion_child: 1 } },
      { normals: false },
    ).positions;
    const there = deform(makeRig(makePerson(oda, WICK)), { ...REST_MOMENT, pose }, { normals: false }).positions;
    here.forEach((P, p) => {
      let worst = 0;
      P.forEach((x, i) => (worst = Math.max(worst, Math.abs(x - there[p]![i]!))));
      expect(worst).toBeLessThan(1e-5);
    });
  });
  // the generator knows where each joint goes; the skin round it must tell the same
  it("have joints that can be read from the skin, to 2 mm on average of movements up to 40 cm", () => {
    for (const shape of oda.shapes.filter((s) => s.jointOffsets)) {
      const { jointOffsets, ...bare } = shape;
      const found = jointOffsetsOf({ ...oda, shapes: [bare] }, bare);
      const off = jointOffsets!.map(
        (o) => 1000 * length(sub(found.find((f) => f.joint === o.joint)?.offset ?? [0, 0, 0], o.offset)),
      );
      expect(off.reduce((a, b) => a + b, 0) / off.length).toBeLessThan(2);
      expect(Math.max(...off)).toBeLessThan(25);
    }
  });
  it("survive the file", async () => {
    const again = await readGlb(await writeGlb(oda), "oda.glb");
    expect(again.shapes.find((s) => s.name === "proportion_broad")!.jointOffsets!.length).toBe(
      oda.skeleton!.joints.length,
    );
  });
});

describe("Wick's helpers", () => {
  const wick = member("wick");
  const motions = jointMotions(wick.skeleton!, humanoidMap(wick.skeleton!, wick.jointMap));
  const rig = makeRig(wick);
  const reading = (bone: string, name: string, degrees: number, drivers: boolean): JointReading => {
    const motion = motions.find((m) => m.bone === bone && m.name === name)!;
    return measureJoint(
      makeJointGauge(
        rig,
        wick.skeleton!.joints.findIndex((j) => j.name === motion.joint),
      )!,
      { ...REST_MOMENT, pose: motionPose(motion, degrees), drivers },
    ).reading;
  };
  it.each(["leftLowerArm", "rightLowerArm", "leftLowerLeg", "rightLowerLeg"])(
    "keep %s from pushing into itself and from losing its flesh",
    (bone) => {
      const degrees = bone.endsWith("Arm") ? 140 : 125;
      const [without, with_] = [reading(bone, "bend", degrees, false), reading(bone, "bend", degrees, true)];
      expect(without.depth).toBeGreaterThan(10);
      expect(with_.depth).toBeLessThan(5);
      expect(with_.volume).toBeGreaterThan(-0.1);
      expect(with_.stretch).toBeLessThan(2);
    },
  );
  it.each(["leftUpperArm", "rightUpperArm", "leftLowerArm", "rightLowerArm"])(
    "keep %s round when it is twisted",
    (bone) => {
      for (const degrees of [-70, 70]) {
        expect(reading(bone, "twist", degrees, false).volume).toBeLessThan(-0.12);
        expect(reading(bone, "twist", degrees, true).volume).toBeGreaterThan(-0.05);
      }
    },
  );
  it(
    "keep every joint within the limits of the film profile " + "over its whole range of motion, by the command line",
    async () => {
      const dir = mkdtempSync(path.join(tmpdir(), "yxomorph-wick-"));
      const file = path.join(dir, "wick.glb");
      writeFileSync(file, await glbOf("wick"));
      const printed = execFileSync(
        process.execPath,
        ["cli/yxomorph.mjs", "sweep", file, "--joint", "all", "--steps", "9", "--profile", "film", "--json"],
        { encoding: "utf8", maxBuffer: 64e6, env: { ...process.env, NODE_OPTIONS: "" } },
      );
      rmSync(dir, { recursive: true });
      const { findings, rows } = JSON.parse(printed) as { findings: { message: string }[]; rows: unknown[] };
      expect(findings.map((f) => f.message)).toEqual([]);
      expect(rows.length).toBeGreaterThan(8 * 70);
    },
    180_000,
  );
  const eyeFindings = async (shapes: readonly Shape[], names: readonly string[]): Promise<number[]> =>
    (
      await runChecks(
        { ...wick, shapes, drivers: [], shapeDrivers: wick.shapeDrivers.filter((d) => names.includes(d.shape)) },
        PROFILES.film,
        { only: ["face.eye-through-lid"] },
      )
    ).findings.map((f) => f.value!);
  it("keep the lids off the eyeball half-way, where a straight blend cuts into it", async () => {
    const shut = wick.shapes.find((s) => s.name === "AU43_left")!;
    const half: Shape = { ...shut, deltas: shut.deltas.map((d) => ({ ...d, deltas: d.deltas.map((x) => x / 2) })) };
    expect((await eyeFindings([half], []))[0]).toBeGreaterThan(0.3);
    // combinations mean nothing without what drives them
    const plain = wick.shapes.filter((s) => !wick.shapeDrivers.some((d) => d.shape === s.name && d.of.length > 1));
    expect(await eyeFindings(plain, ["AU43_left_halfway", "AU43_right_halfway"])).toEqual([]);
  });
  it("make no in-between for a shape that stays clear of the eyes", () =>
    expect(
      lidInBetween(
        oda,
        oda.shapes.find((s) => s.name === "AU26")!,
        "x",
        "x",
      ),
    ).toBeNull());
  it("go through the file with what drives them", async () => {
    const again = await readGlb(await glbOf("wick"), "wick.glb");
    expect(again.drivers).toEqual(wick.drivers);
    expect(again.shapeDrivers).toEqual(wick.shapeDrivers);
  });
});

describe("the breathing joint", () => {
  it("lifts the front of the chest and leaves the back", () => {
    const P = deform(makeRig(oda), { ...REST_MOMENT, pose: { breath: [-5, 0, 0] } }, { normals: false }).positions[0]!;
    const rest = oda.parts[0]!.positions;
    const lift = (inFront: boolean): number =>
      Math.max(
        ...Array.from({ length: rest.length / 3 }, (_, v) => v)
          .filter((v) => rest[3 * v + 2]! > 0 === inFront)
          .map((v) => 1000 * (P[3 * v + 1]! - rest[3 * v + 1]!)),
      );
    expect(lift(true)).toBeGreaterThan(3);
    expect(lift(false)).toBeLessThan(0.5);
  });
});

describe("Wick for a crowd", () => {
  it("under 10 000 triangles has no finding in the crowd profile", async () => {
    const { character, trianglesAfter } = reduceCharacter(member("wick"), 10_000);
    expect(trianglesAfter).toBeLessThanOrEqual(10_000);
    expect((await runChecks(character, PROFILES.crowd)).findings).toEqual([]);
  });
});

describe("maps from the base to a person", () => {
  it("pushes are mirrored and strongest at their centre", () => {
    const push = [
      {
        what: "cheek",
        centre: [0.04, 0, 0] as const,
        width: [0.01, 0.01, 0.01] as const,
        by: [0.002, 0, 0.003] as const,
      },
    ];
    const l = pushed(push, [0.04, 0, 0]);
    const r = pushed(push, [-0.04, 0, 0]);
    expect(l[0]).toBeCloseTo(0.042, 9);
    expect(r[0]).toBeCloseTo(-0.042, 9);
    expect(pushed(push, [0.08, 0, 0])[2]).toBeLessThan(1e-6);
  });
  it("put the head where the person's neck ends", () => {
    for (const person of [TARN, WICK]) {
      const head = headMap(person)([0, 1.49, 0]);
      const neck = torsoMap(person)([0, 1.49, 0]);
      expect(Math.abs(head[1] - neck[1])).toBeLessThan(0.012);
    }
  });
  it("give the eye all within the lids and nothing far off", () => {
    expect(eyeShare([0.0307, 1.571, 0.022 + 0.0668 + 0.0134], 1)).toBe(1);
    expect(eyeShare([0, 1.5, 0.09], 1)).toBe(0);
    const centre = eyeMap(WICK, 1)([31 * BASE.unit, 1.571, 0.022 + 67.5 * BASE.unit]);
    expect(centre[0]).toBeCloseTo(28.2 * BASE.unit, 9);
  });
});

describe("mixes", () => {
  it("hold all fourteen visemes and six expressions of MPEG-4 and the presets of VRM 1.0", () => {
    // ISO/IEC 14496-2: viseme_select 1..14, expression_select 1..6
    expect(VISEMES.map((v) => v.name)).toEqual(Array.from({ length: 14 }, (_, i) => `viseme_${i + 1}`));
    expect(EXPRESSIONS.map((e) => e.name)).toEqual(["joy", "sadness", "anger", "fear", "disgust", "surprise"]);
    // VRM 1.0 specification, VRMC_vrm expressions: the presets; neutral is the face at rest
    expect(PRESETS.map((p) => p.name).sort()).toEqual([
      "aa",
      "angry",
      "blink",
      "blinkLeft",
      "blinkRight",
      "ee",
      "happy",
      "ih",
      "lookDown",
      "lookLeft",
      "lookRight",
      "lookUp",
      "oh",
      "ou",
      "relaxed",
      "sad",
      "surprised",
    ]);
    for (const m of [...VISEMES, ...EXPRESSIONS, ...PRESETS])
      expect(oda.shapes.some((s) => s.name === m.name)).toBe(true);
  });
  it("add up their units, both sides", () => {
    const mixed = mixOf({ name: "m", label: "m", of: { AU12: 0.5, AU26: 0.2 } }, oda.shapes);
    const rig = makeRig({ ...oda, shapes: [...oda.shapes, mixed] });
    const a = deform(rig, { ...REST_MOMENT, weights: { m: 1 } }).positions.map((P) => P.slice());
    const b = deform(rig, { ...REST_MOMENT, weights: { AU12_left: 0.5, AU12_right: 0.5, AU26: 0.2 } });
    a.forEach((P, p) => {
      let worst = 0;
      P.forEach((x, i) => (worst = Math.max(worst, Math.abs(x - b.positions[p]![i]!))));
      expect(worst).toBeLessThan(1e-6);
    });
  });
  it("refuse a unit that is not there", () =>
    expect(() => mixOf({ name: "m", label: "m", of: { AU99: 1 } }, oda.shapes)).toThrow(/AU99/));
});

type Found = {
  check: string;
  severity: string;
  part?: string | null;
  joint?: string | null;
  shape?: string | null;
  clip?: string | null;
};
const keyOf = (f: Found): string =>
  [f.check, f.severity, f.part ?? "", f.joint ?? "", f.shape ?? "", f.clip ?? ""].join(" | ");
const keys = (list: readonly Found[]): string[] => list.map(keyOf).sort();

describe("the first delivery", () => {
  const delivery = member("oda-delivery-1");
  it("has every planted fault found, at its place, and nothing else", async () => {
    const { findings } = await runChecks(delivery, PROFILES.realtime);
    expect(keys(findings)).toEqual(keys(ODA_DELIVERY_1));
    for (const planted of ODA_DELIVERY_1)
      if (planted.count !== undefined)
        expect(findings.find((f) => keyOf(f) === keyOf(planted))!.value).toBe(planted.count);
  });
  it("has the same faults after a round trip through its file", async () => {
    const again = await readGlb(await glbOf("oda-delivery-1"), "delivery.glb");
    expect(keys((await runChecks(again, PROFILES.realtime)).findings)).toEqual(keys(ODA_DELIVERY_1));
  });
  it("is rid of every fault by the safe repairs, worst first, and nothing new comes up", async () => {
    let now = delivery;
    const met = new Set<string>();
    // faults that follow from others go with them: what a repair no longer finds is looked at again in the next round
    for (let round = 0; round < 4; round++) {
      const { findings } = await runChecks(now, PROFILES.realtime);
      if (!findings.length) break;
      for (const finding of findings) {
        if (mendSentence(finding) === null) continue;
        expect(keys(ODA_DELIVERY_1)).toContain(keyOf(finding));
        met.add(keyOf(finding));
        try {
          now = mend(now, finding);
        } catch (error) {
          expect(isUserError(error)).toBe(true);
        }
      }
      assertCharacter(now);
    }
    expect(met.size).toBeGreaterThan(18);
    expect((await runChecks(await readGlb(await writeGlb(now), "mended.glb"), PROFILES.realtime)).findings).toEqual([]);
  });
  it("names the exact vertices", async () => {
    const { findings } = await runChecks(delivery, PROFILES.realtime, { only: ["mesh.loose", "weights.stray"] });
    const body = oda.parts.find((p) => p.name === "body")!;
    expect(findings.find((f) => f.check === "mesh.loose")!.vertices).toEqual(
      Array.from({ length: 8 }, (_, i) => body.positions.length / 3 + i),
    );
    expect(findings.find((f) => f.check === "weights.stray")!.vertices.length).toBe(14);
  });
  it("is still mapped to the humanoid under its foreign names", () => {
    const map = humanoidMap(delivery.skeleton!);
    expect(map.missingRequired).toEqual([]);
    expect(delivery.skeleton!.joints[map.jointOfBone.get("leftHand")!]!.name).toBe(`${FOREIGN_PREFIX}leftHand`);
  });
  it("does not change the clean figure", () =>
    expect(oda.skeleton!.joints.some((j) => j.name.startsWith(FOREIGN_PREFIX))).toBe(false));
});

describe("the second delivery", () => {
  const first = member("oda-delivery-1");
  const second = member("oda-delivery-2");
  it("has moved a few hundred vertices of nose and brow by less than 2 mm, and nothing else of the skin", () => {
    const [a, b] = [first, second].map((c) => c.parts.find((p) => p.kind === "body")!.positions) as [
      Float32Array,
      Float32Array,
    ];
    const moved = Array.from({ length: a.length / 3 }, (_, v) =>
      Math.hypot(b[3 * v]! - a[3 * v]!, b[3 * v + 1]! - a[3 * v + 1]!, b[3 * v + 2]! - a[3 * v + 2]!),
    );
    expect(moved.filter((d) => d > 1e-5).length).toBeGreaterThan(200);
    expect(moved.filter((d) => d > 1e-5).length).toBeLessThan(900);
    expect(Math.max(...moved)).toBeLessThan(0.002);
    expect(remodelling([0, 1, 0])).toEqual([0, 0, 0]);
  });
  it("wears other trousers and names its joints otherwise", () => {
    const count = (c: Character): number => c.parts.find((p) => p.name === "trousers")!.positions.length;
    expect(count(second)).toBeLessThan(count(first));
    expect(() => assertCharacter(second)).not.toThrow();
    expect(second.skeleton!.joints.every((j) => j.name.startsWith(SECOND_PREFIX))).toBe(true);
  });
  it("still has the faults of the first, and trousers that do not follow the build", async () => {
    expect(keys((await runChecks(second, PROFILES.realtime)).findings)).toEqual(keys(ODA_DELIVERY_2));
  });
});

describe("Tarn as he arrives", () => {
  const tarn = member("tarn");
  it("has every planted fault found and nothing else", async () => {
    const { findings } = await runChecks(tarn, PROFILES.realtime);
    expect(keys(findings)).toEqual(keys(TARN_DELIVERY));
    expect(findings.find((f) => f.joint === "leftUpperArm")!.message).toMatch(
      /the skeleton stands at T, the mesh at A/,
    );
  });
  it(
    "stands in the pose of his mesh after one repair: " + "posed arms agree with the clean figure to a millimetre",
    async () => {
      const [worst] = (await runChecks(tarn, PROFILES.realtime)).findings;
      const set = mend(tarn, worst!);
      const four = mend(set, { check: "weights.count", part: "body", joint: null, shape: null, clip: null, limit: 4 });
      expect((await runChecks(four, PROFILES.realtime)).findings).toEqual([]);
      const pose = {
        leftUpperArm: [10, 0, 40] as const,
        leftLowerArm: [70, 0, 0] as const,
        rightUpperArm: [-20, 0, 15] as const,
        leftHand: [20, 0, 0] as const,
      };
      const [P, Q, R] = [cleanTarn(oda), set, four].map(
        (c) => deform(makeRig(c), { ...REST_MOMENT, pose }, { normals: false }).positions[0]!,
      ) as [Float32Array, Float32Array, Float32Array];
      const worstOf = (a: Float32Array): number =>
        1000 * a.reduce((most, x, i) => Math.max(most, Math.abs(x - P[i]!)), 0);
      expect(worstOf(Q)).toBeLessThan(1);
      expect(worstOf(R)).toBeLessThan(1);
    },
  );
  it("has no shapes, and a weight on up to eight joints that still sums to one", () => {
    expect(tarn.shapes).toEqual([]);
    const { influenceCount, weights } = tarn.parts[0]!.skin!;
    expect(influenceCount).toBe(8);
    for (let v = 0; v < weights.length / 8; v++)
      expect(weights.subarray(8 * v, 8 * v + 8).reduce((a, b) => a + b, 0)).toBeCloseTo(1, 5);
  });
});

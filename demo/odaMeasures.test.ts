import { execFileSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import validator from "gltf-validator";
import { loadOda } from "./cast";
import { PROFILES } from "../core/checks/profile";
import { runChecks } from "../core/checks/runChecks";
import { statureOf } from "../core/measure/stature";
import { worldMatrices } from "../core/evaluate/poseSkeleton";
import { deform, makeRig } from "../core/deform/rig";
import { REST_MOMENT } from "../core/evaluate/moment";
import { writeGlb } from "../core/formats/glb/writeGlb";
import { readGlb } from "../core/formats/glb/readGlb";
import { translationOf } from "../core/math/mat4";
import { length, sub, type Vec3 } from "../core/math/vec3";
import { makeJointGauge, measureJoint } from "../core/measure/measureJoint";
import { assertCharacter } from "../core/model/assertCharacter";
import { triangleCountOf, vertexCountOf } from "../core/model/character";
import { humanoidMap } from "../core/skeleton/humanoidMap";
import { jointMotions, motionPose } from "../core/skeleton/jointMotions";

const oda = await loadOda();
const map = humanoidMap(oda.skeleton!);
const world = worldMatrices(oda.skeleton!, {});
const at = (bone: string): Vec3 => translationOf(world, 16 * map.jointOfBone.get(bone)!);
const between = (a: string, b: string): number => length(sub(at(a), at(b)));
const stature = statureOf(oda);
const rig = makeRig(oda);
const body = oda.parts.findIndex((p) => p.kind === "body");

describe("the made-up woman as a body", () => {
  it("is a sound character under 40 000 triangles", () => {
    expect(() => assertCharacter(oda)).not.toThrow();
    expect(oda.parts.reduce((n, p) => n + triangleCountOf(p), 0)).toBeLessThan(40_000);
    expect(vertexCountOf(oda.parts[body]!)).toBeGreaterThan(8000);
    expect(oda.shapes.length).toBeGreaterThanOrEqual(16);
  });
  // Drillis & Contini 1966, segment lengths over stature, as printed in Winter, Biomechanics and Motor Control of Human
  // Movement (from memory); 8 % apart allowed
  it.each([
    ["upper arm", "leftUpperArm", "leftLowerArm", 0.186],
    ["forearm", "leftLowerArm", "leftHand", 0.146],
    ["thigh", "leftUpperLeg", "leftLowerLeg", 0.245],
    ["shank", "leftLowerLeg", "leftFoot", 0.246],
  ])("has the %s of Drillis & Contini", (_what, a, b, fraction) => {
    expect(Math.abs(between(a, b) / stature / fraction - 1)).toBeLessThan(0.08);
  });
  it.each([
    ["hip height", "leftUpperLeg", 0.53],
    ["knee height", "leftLowerLeg", 0.285],
    ["shoulder height", "leftUpperArm", 0.818],
    ["eye height", "leftEye", 0.936],
  ])("has the %s of Drillis & Contini", (_what, bone, fraction) => {
    expect(Math.abs(at(bone)[1] / stature / fraction - 1)).toBeLessThan(0.08);
  });
  it("stands 1.68 m and has her eyes 52 to 78 mm apart (Dodgson 2004, adults, mean 63 mm)", () => {
    expect(stature).toBeCloseTo(1.68, 2);
    expect(1000 * between("leftEye", "rightEye")).toBeGreaterThan(52);
    expect(1000 * between("leftEye", "rightEye")).toBeLessThan(78);
  });
  it("is symmetric in her skeleton", () => {
    for (const bone of ["UpperArm", "LowerArm", "Hand", "UpperLeg", "LowerLeg", "Foot"]) {
      const l = at(`left${bone}`);
      const r = at(`right${bone}`);
      expect(Math.hypot(l[0] + r[0], l[1] - r[1], l[2] - r[2])).toBeLessThan(1e-4);
    }
  });
  it("passes the delivery checks without an error", async () => {
    const { findings } = await runChecks(oda, PROFILES.realtime, { rig });
    expect(findings.filter((f) => f.severity === "error")).toEqual([]);
    expect(findings.filter((f) => f.check !== "shapes.flip")).toEqual([]);
  });
});

describe("how she moves", () => {
  const motions = jointMotions(oda.skeleton!, map);
  const motion = (id: string): (typeof motions)[number] => motions.find((m) => m.id === id)!;
  it("bends her elbow to 120 degrees with the hand coming up in front", () => {
    const posed = worldMatrices(oda.skeleton!, motionPose(motion("leftLowerArm/bend"), 120));
    const hand = translationOf(posed, 16 * map.jointOfBone.get("leftHand")!);
    expect(hand[2]).toBeGreaterThan(at("leftHand")[2] + 0.1);
    const reading = measureJoint(makeJointGauge(rig, map.jointOfBone.get("leftLowerArm")!)!, {
      ...REST_MOMENT,
      pose: motionPose(motion("leftLowerArm/bend"), 120),
    }).reading;
    // linear skinning loses flesh at a sharp elbow (common practice, no source): that is what the correctives are for
    expect(reading.volume).toBeLessThan(-0.05);
    expect(reading.volume).toBeGreaterThan(-0.4);
  });
  /** Largest opening between upper and lower lid vertices near the pupil, in z-facing view, by closing. */
  it("closes both eyes: the lids come down over the pupils (FACS 43)", () => {
    for (const side of ["left", "right"]) {
      const delta = oda.shapes.find((s) => s.name === `AU43_${side}`)!.deltas.find((d) => d.part === body)!;
      let down = 0;
      delta.vertices.forEach((_, k) => (down = Math.min(down, delta.deltas[3 * k + 1]!)));
      // palpebral fissure about 8 to 11 mm high (common practice, no source): the upper lid travels most of it
      expect(1000 * down).toBeLessThan(-5);
    }
  });
  it("drops her jaw: the chin goes down and the teeth with it (FACS 26)", () => {
    const jaw = oda.shapes.find((s) => s.name === "AU26")!;
    const lowest = Math.min(...jaw.deltas.find((d) => d.part === body)!.deltas.filter((_, i) => i % 3 === 1));
    expect(1000 * lowest).toBeLessThan(-8);
    expect(jaw.deltas.some((d) => oda.parts[d.part]!.kind === "teeth")).toBe(true);
  });
  it("pulls the lip corners up and out in a smile (FACS 12)", () => {
    for (const [side, s] of [
      ["left", 1],
      ["right", -1],
    ] as const) {
      const delta = oda.shapes.find((x) => x.name === `AU12_${side}`)!.deltas.find((d) => d.part === body)!;
      let most = 0;
      let move: Vec3 = [0, 0, 0];
      delta.vertices.forEach((_, k) => {
        const d: Vec3 = [delta.deltas[3 * k]!, delta.deltas[3 * k + 1]!, delta.deltas[3 * k + 2]!];
        if (length(d) > most) {
          most = length(d);
          move = d;
        }
      });
      expect(move[0] * s).toBeGreaterThan(0);
      expect(move[1]).toBeGreaterThan(0);
    }
  });
});

describe("her file in other hands", () => {
  it("passes the Khronos validator without errors or warnings, and reads back the same", async () => {
    const glb = await writeGlb(oda);
    const { issues } = await validator.validateBytes(glb);
    expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
    const again = await readGlb(glb, "oda.glb");
    const pose = { leftLowerArm: [70, 0, 0] as const, jaw: [10, 0, 0] as const };
    const a = deform(rig, { ...REST_MOMENT, pose, weights: { AU12_left: 1 } });
    const b = deform(makeRig(again), { ...REST_MOMENT, pose, weights: { AU12_left: 1 } });
    a.positions.forEach((P, p) => {
      let worst = 0;
      P.forEach((x, i) => (worst = Math.max(worst, Math.abs(x - b.positions[p]![i]!))));
      expect(worst).toBeLessThan(1e-6);
    });
  });
  it("is counted alike by an independent importer (Debian assimp-utils, assimp info)", async () => {
    const dir = mkdtempSync(path.join(tmpdir(), "yxomorph-"));
    writeFileSync(path.join(dir, "oda.glb"), await writeGlb(oda));
    const info = execFileSync("assimp", ["info", path.join(dir, "oda.glb"), "-r"], { encoding: "utf8" });
    expect(info).toMatch(/Materials:\s+(\d+)/);
    const faces = Number(/Faces:\s+(\d+)/.exec(info)![1]);
    expect(faces).toBe(oda.parts.reduce((n, p) => n + triangleCountOf(p), 0));
  });
});

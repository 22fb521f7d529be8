import { readFileSync, mkdtempSync, writeFileSync } from "node:fs";
import { execFileSync } from "node:child_process";
import { tmpdir } from "node:os";
import path from "node:path";
import { BVHLoader } from "three/examples/jsm/loaders/BVHLoader.js";
import { Quaternion, Vector3, type Bone } from "three";
import { bringClip, BRING_DEFAULTS } from "../../core/clips/bringClip";
import { readFeet, stretches } from "../../core/clips/contacts";
import { fitClip, fittedMotion, unfitted } from "../../core/clips/fitClip";
import { restStanding, standing } from "../../core/clips/motion";
import { motionFromBvh } from "../../core/clips/sourceMotion";
import { clipMatrices } from "../../core/evaluate/clipMatrices";
import { readBvh } from "../../core/formats/bvh/readBvh";
import { writeBvh } from "../../core/formats/bvh/writeBvh";
import { translationOf } from "../../core/math/mat4";
import { degrees, dot, length, normalize, sub, type Vec3 } from "../../core/math/vec3";
import { fittingSchema } from "../../core/model/fitting";
import { humanoidMap } from "../../core/skeleton/humanoidMap";
import { reach } from "../../core/skeleton/reach";
import { valueAt } from "../../core/trials/keyCurve";
import { loadMember } from "../../demo/cast";

/**
 * CMU motion capture (mocap.cs.cmu.edu, free for any use with acknowledgement), Debian assimp-testmodels, read in
 * place.
 */
const FILE = "/usr/share/assimp/models/BVH/01_01.bvh";
const source = motionFromBvh(readBvh(readFileSync(FILE, "utf8"), "01_01.bvh"), "01_01");
const bone = (s: { places: readonly Vec3[] }, map: typeof source.map, name: string): Vec3 =>
  s.places[map.jointOfBone.get(name)!]!;
const median = (values: number[]): number => values.sort((a, b) => a - b)[values.length >> 1]!;
const angle = (a: Vec3, b: Vec3): number => degrees(Math.acos(Math.min(1, Math.max(-1, dot(a, b)))));

/** Twice the second coefficient of the parabola that fits heights best by least squares, metres a second squared. */
function acceleration(heights: readonly number[], fps: number): number {
  const n = heights.length;
  const u = heights.map((_, i) => (i - (n - 1) / 2) / fps);
  const sum = (of: (x: number, i: number) => number): number => u.reduce((all, x, i) => all + of(x, i), 0);
  const [s2, s4] = [sum((x) => x * x), sum((x) => x ** 4)];
  const [y0, y2] = [sum((_, i) => heights[i]!), sum((x, i) => heights[i]! * x * x)];
  return (2 * (n * y2 - s2 * y0)) / (n * s4 - s2 * s2);
}

describe("captured jumps of 31 joints and 2 752 frames", () => {
  it("is read as three.js's BVHLoader and assimp read it", () => {
    // places at frame 600, in the file's unit, on which both agree
    const { motion } = motionFromBvh(readBvh(readFileSync(FILE, "utf8"), "01_01.bvh"), "01_01", {}, 120);
    const { places } = standing(motion, 600);
    const at = (name: string): Vec3 => places[motion.skeleton.joints.findIndex((j) => j.name === name)]!;
    [8.6975, 20.6134, 17.4726].forEach((x, c) => expect(at("Hips")[c]).toBeCloseTo(x, 3));
    [13.343, 19.2024, 17.2438].forEach((x, c) => expect(at("LeftHand")[c]).toBeCloseTo(x, 3));
  });
  it.each(["oda", "tarn", "wick"])(
    "stands on %s as its own bones do, without a bone longer or shorter",
    async (who) => {
      const character = await loadMember(who);
      const skeleton = character.skeleton!;
      const { clip, fitting, report } = bringClip(character, source, "01_01");
      expect([report.joints, report.frames, report.fps]).toEqual([31, 2752, expect.closeTo(120, 1)]);
      const motion = unfitted(character, clip)!;
      const own = humanoidMap(skeleton, character.jointMap);
      const rest = restStanding(skeleton);
      const errors: Record<string, number[]> = {};
      const flexions: Record<string, number[]> = {};
      for (let f = 0; f < motion.frames; f += 25) {
        const [a, b] = [standing(source.motion, f), standing(motion, f)];
        const way = (s: typeof a, map: typeof own, from: string, to: string): Vec3 =>
          normalize(sub(bone(s, map, to), bone(s, map, from)));
        for (const side of ["left", "right"])
          for (const [top, mid, end] of [
            ["UpperArm", "LowerArm", "Hand"],
            ["UpperLeg", "LowerLeg", "Foot"],
          ] as const) {
            const limb = (s: typeof a, map: typeof own): [Vec3, Vec3] => [
              way(s, map, side + top, side + mid),
              way(s, map, side + mid, side + end),
            ];
            const [theirs, mine] = [limb(a, source.map), limb(b, own)];
            (errors[side + top] ??= []).push(angle(theirs[0], mine[0]));
            (errors[side + mid] ??= []).push(angle(theirs[1], mine[1]));
            (flexions[side + mid] ??= []).push(Math.abs(angle(...theirs) - angle(...mine)));
          }
        skeleton.joints.forEach(({ parent }, j) => {
          if (parent < 0 || j === motion.traveller) return;
          const [now, before] = [b, rest].map((s) => length(sub(s.places[j]!, s.places[parent]!)));
          expect(Math.abs(now! - before!)).toBeLessThanOrEqual(5e-4 * before! + 1e-7);
        });
      }
      expect(Object.keys(errors).length).toBe(8);
      for (const list of Object.values(errors)) expect(median(list)).toBeLessThan(5);
      for (const list of Object.values(flexions)) expect(median(list)).toBeLessThan(1);
      const held = fitClip(character, clip, { ...fitting!, hold: true });
      const feet = readFeet(character, unfitted(character, { ...held, fit: undefined } as never)!)!;
      expect(feet.under).toBeLessThan(0.01);
    },
  );
  it("fall as bodies fall: the pelvis is drawn down by gravity while no foot stands", async () => {
    const oda = await loadMember("oda");
    const { clip, report } = bringClip(oda, source, "01_01", { ...BRING_DEFAULTS });
    const { motion, contacts } = fittedMotion({ ...oda, clips: [clip] }, clip, fittingSchema.parse({ ground: true }))!;
    const flies = Uint8Array.from({ length: motion.frames }, (_, f) =>
      contacts!.stands.left[f] || contacts!.stands.right[f] ? 0 : 1,
    );
    const jumps = stretches(flies).filter(([a, b]) => (b - a) / motion.fps > 0.2);
    expect(jumps.length).toBeGreaterThan(6);
    const pulls = jumps.map(([a, b]) => {
      const heights = Array.from({ length: b - a + 1 }, (_, i) => standing(motion, a + i).places[motion.traveller]![1]);
      return acceleration(heights, motion.fps);
    });
    // 9.80665 m/s2 (ISO 80000-3); the file's unit is 1/0.45 inch (its makers' notes, from memory); a smaller figure
    // falls as slowly as it is smaller
    const expected = (-9.80665 * report.unit) / (0.0254 / 0.45);
    for (const pull of pulls) expect(Math.abs(pull / expected - 1)).toBeLessThan(0.08);
    expect(Math.abs(pulls.reduce((x, y) => x + y) / pulls.length / expected - 1)).toBeLessThan(0.03);
  });
  it("is written on a character's skeleton so that three.js puts every joint where the clip does", async () => {
    const oda = await loadMember("oda");
    const made = bringClip(oda, source, "01_01", { ...BRING_DEFAULTS });
    const clip = fitClip(oda, made.clip, fittingSchema.parse({ ground: true }));
    const text = writeBvh(oda.skeleton!, clip, { unitsPerMetre: 1, fps: 60 });
    const { skeleton: read, clip: keys } = new BVHLoader().parse(text);
    const frame = 600;
    for (const track of keys.tracks) {
      const [, name, property] = /^(.*)\.(position|quaternion)$/.exec(track.name)!;
      const b = read.bones.find((x: Bone) => x.name === name)!;
      const width = property === "position" ? 3 : 4;
      const at = track.values.subarray(width * frame, width * frame + width);
      if (property === "position") b.position.fromArray(at);
      else b.quaternion.copy(new Quaternion().fromArray(at));
    }
    read.bones[0]!.updateMatrixWorld(true);
    const world = clipMatrices(oda.skeleton!, clip, frame / 60);
    for (const name of ["leftHand", "rightFoot", "head"]) {
      const b = read.bones.find((x: Bone) => x.name === name)!;
      const j = oda.skeleton!.joints.findIndex((x) => x.name === name);
      const there = new Vector3().setFromMatrixPosition(b.matrixWorld).toArray();
      translationOf(world, 16 * j).forEach((x, c) => expect(x).toBeCloseTo(there[c]!, 3));
    }
    // assimp: as many animation channels as joints
    const file = path.join(mkdtempSync(path.join(tmpdir(), "yxomorph-bvh-")), "out.bvh");
    writeFileSync(file, text);
    const told = execFileSync("assimp", ["info", file, "-r"], { encoding: "utf8" });
    expect(told).toMatch(/Animations:\s+1/);
  });
});

describe("two joints that reach", () => {
  const limb = {
    root: [0, 1, 0],
    middle: [0.02, 0.6, 0.01],
    end: [0, 0.25, 0],
    rootTurn: [0, 0, 0, 1],
    middleTurn: [0, 0, 0, 1],
  } as const;
  const [a, b] = [length(sub(limb.middle, limb.root)), length(sub(limb.end, limb.middle))];
  it.each([
    [0.1, 0.4, 0.2],
    [-0.3, 0.7, 0.1],
    [0.4, 0.9, -0.2],
  ])("fold by the law of cosines to %d, %d, %d", (...target) => {
    const got = reach(limb, target, [0, 0, 1]);
    const c = length(sub(target, limb.root));
    const expected = degrees(Math.acos((a * a + b * b - c * c) / (2 * a * b)));
    expect(angle(normalize(sub(limb.root, got.middle)), normalize(sub(got.end, got.middle)))).toBeCloseTo(expected, 5);
    expect(length(sub(got.end, target))).toBeLessThan(1e-6);
    expect([length(sub(got.middle, limb.root)), length(sub(got.end, got.middle))]).toEqual([
      expect.closeTo(a, 6),
      expect.closeTo(b, 6),
    ]);
  });
  it("stretch along the line to what is out of reach, and say by how much they fall short", () => {
    const got = reach(limb, [0, -1, 0], [0, 0, 1]);
    expect(got.end[1]).toBeCloseTo(1 - 0.9995 * (a + b), 6);
    expect(got.short).toBeCloseTo(2 - 0.9995 * (a + b), 6);
  });
});

describe("smooth curves through keys", () => {
  // Fritsch & Carlson 1980, "Monotone Piecewise Cubic Interpolation", table 1 (RPN 14 data of Akima's kind): x and y
  // of a
  // radiochemical calculation; a monotone interpolant stays within its keys on every stretch
  const x = [7.99, 8.09, 8.19, 8.7, 9.2, 10, 12, 15, 20];
  const y = [0, 2.76429e-5, 4.37498e-2, 0.169183, 0.469428, 0.94374, 0.998636, 0.999919, 0.999994];
  const curve = { ease: "smooth" as const, times: x, values: y };
  it("go through every key and never beyond their neighbours", () => {
    x.forEach((t, k) => expect(valueAt(curve, 1, t)[0]).toBeCloseTo(y[k]!, 12));
    let before = 0;
    for (let t = 7.99; t <= 20; t += 0.01) {
      const [v] = valueAt(curve, 1, t) as [number];
      expect(v).toBeGreaterThanOrEqual(before - 1e-12);
      expect(v).toBeLessThanOrEqual(y[y.length - 1]! + 1e-12);
      before = v;
    }
  });
  it("follow Steffen's formula where slopes differ (worked by hand from his equations 6 to 11)", () => {
    // keys 0, 1, 4 at 0, 1, 2: slopes 1 and 3, p = 2, tangent at the middle (1+1) min(1, 3, 1) = 2; at the start
    // (3*1 - 2)/2 = 0.5; half-way on the first stretch: 0.5 + (0.5 - 2)/8
    const three = { ease: "smooth" as const, times: [0, 1, 2], values: [0, 1, 4] };
    expect(valueAt(three, 1, 0.5)[0]).toBeCloseTo(0.5 + (0.5 - 2) / 8, 12);
  });
});

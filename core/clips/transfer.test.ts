import { loadMember } from "../../demo/cast";
import { foreignClip } from "../../demo/clips/foreignClip";
import { fromAxisAngle, multiplyQuat, rotate } from "../math/quat";
import { degrees, dot, length, normalize, sub, type Quat, type Vec3 } from "../math/vec3";
import type { Character, Clip, ClipTrack, Joint, Skeleton } from "../model/character";
import { AS_IT_CAME, fittingSchema, NO_FITTING } from "../model/fitting";
import { humanoidMap, type HumanoidMap } from "../skeleton/humanoidMap";
import { bringClip } from "./bringClip";
import { readFeet } from "./contacts";
import { fitClip, fittedMotion, unfitted } from "./fitClip";
import { fitMotion } from "./fitMotion";
import { readHands } from "./holdHands";
import { apart, findLoop } from "./loops";
import { clipSeconds, restStanding, standing, type Motion } from "./motion";
import { motionFromClip, type SourceMotion } from "./sourceMotion";
import { transferMotion } from "./transferMotion";

const oda = await loadMember("oda");
const skeleton = oda.skeleton!;
const walk = oda.clips.find((c) => c.name === "walk")!;
const own = (clip: Clip, of: Skeleton = skeleton): SourceMotion => motionFromClip(of, clip);
const mapOf = (c: Character): HumanoidMap => humanoidMap(c.skeleton!, c.jointMap);
const FRAMES = [0, 7, 15, 24, 33];

const LIMBS = ["UpperArm LowerArm", "LowerArm Hand", "UpperLeg LowerLeg", "LowerLeg Foot"].flatMap((pair) =>
  ["left", "right"].map((side) => pair.split(" ").map((b) => side + b) as [string, string]),
);
const direction = (motion: Motion, map: HumanoidMap, frame: number, [a, b]: readonly [string, string]): Vec3 => {
  const { places } = standing(motion, frame);
  return normalize(sub(places[map.jointOfBone.get(b)!]!, places[map.jointOfBone.get(a)!]!));
};
const angle = (a: Vec3, b: Vec3): number => degrees(Math.acos(Math.min(1, Math.max(-1, dot(a, b)))));

/** A figure's skeleton and clip turned as a whole in its file: rest and movement alike. */
function turnedWhole(from: Skeleton, clip: Clip, turn: Quat): { skeleton: Skeleton; clip: Clip } {
  const top = from.joints[0]!;
  const joints = from.joints.map((j, i): Joint =>
    i === 0 ? { ...j, translation: rotate(turn, j.translation), rotation: multiplyQuat(turn, j.rotation) } : j,
  );
  const tracks = clip.tracks.map((t): ClipTrack => (t.joint === top.name ? { ...t, values: turnedKeys(t, turn) } : t));
  return { skeleton: { ...from, joints }, clip: { ...clip, tracks } };
}
function turnedKeys(t: ClipTrack, turn: Quat): Float32Array {
  const out = t.values.slice();
  const width = t.path === "rotation" ? 4 : 3;
  for (let k = 0; k < out.length; k += width) {
    const at = Array.from(out.subarray(k, k + width));
    out.set(width === 4 ? multiplyQuat(turn, at as unknown as Quat) : rotate(turn, at as unknown as Vec3), k);
  }
  return out;
}
/** Only the movement turned, the rest left standing: the pelvis' keys of place, and one of its turn. */
function turnedMotion(clip: Clip, turn: Quat): Clip {
  const hips = skeleton.joints[mapOf(oda).jointOfBone.get("hips")!]!;
  const still: ClipTrack = {
    joint: hips.name,
    path: "rotation",
    interpolation: "STEP",
    times: Float32Array.of(0),
    values: Float32Array.from(multiplyQuat(turn, hips.rotation)),
  };
  expect(clip.tracks.some((t) => t.joint === hips.name && t.path === "rotation")).toBe(false);
  const tracks = clip.tracks.map((t) => (t.joint === hips.name ? { ...t, values: turnedKeys(t, turn) } : t));
  return { ...clip, tracks: [...tracks, still] };
}

describe("a movement on the skeleton that it came from", () => {
  it("is itself: every joint turned and placed as before", () => {
    const source = own(walk);
    const { motion } = transferMotion(oda, source);
    for (const f of FRAMES) {
      const [a, b] = [standing(source.motion, f), standing(motion, f)];
      skeleton.joints.forEach((_, j) => {
        expect(length(sub(a.places[j]!, b.places[j]!))).toBeLessThan(1e-6);
        expect(Math.abs(Math.abs(a.turns[j]!.reduce((s, x, i) => s + x * b.turns[j]![i]!, 0)) - 1)).toBeLessThan(1e-9);
      });
    }
  });
});

describe.each(["oda", "tarn", "wick"])("a walk of another skeleton in centimetres at T on %s", (name) => {
  it("keeps directions of limbs, flexion of elbows and knees, and the length of every bone", async () => {
    const character = await loadMember(name);
    const foreign = foreignClip(oda, walk);
    const source = own(foreign.clips[0]!, foreign.skeleton!);
    const { motion } = transferMotion(character, source);
    const [mine, theirs] = [mapOf(character), source.map];
    const rest = restStanding(character.skeleton!);
    for (const f of FRAMES) {
      for (const limb of LIMBS)
        expect(angle(direction(motion, mine, f, limb), direction(source.motion, theirs, f, limb))).toBeLessThan(0.1);
      for (const [a, b] of [LIMBS[0]!, LIMBS[4]!].map((l, i) => [l, LIMBS[2 + 4 * i]!] as const)) {
        const flexion = (m: Motion, map: HumanoidMap): number =>
          angle(direction(m, map, f, a), direction(m, map, f, b));
        expect(Math.abs(flexion(motion, mine) - flexion(source.motion, theirs))).toBeLessThan(0.2);
      }
      const { places } = standing(motion, f);
      character.skeleton!.joints.forEach(({ parent }, j) => {
        if (parent < 0 || j === motion.traveller) return;
        const [now, before] = [places, rest.places].map((p) => length(sub(p[j]!, p[parent]!)));
        expect(Math.abs(now! - before!)).toBeLessThan(5e-4 * Math.max(0.01, before!));
      });
    }
  });
});

describe("what is set right, and told", () => {
  const foreign = foreignClip(oda, walk);
  const from = foreign.skeleton!;
  const clip = foreign.clips[0]!;
  const bring = (c: Clip, of: Skeleton = from): ReturnType<typeof bringClip> => bringClip(oda, own(c, of), "walk");
  const straight = bring(clip);
  const sameAs = (other: Clip): void => {
    const of = (c: Clip): Motion => unfitted(oda, c)!;
    const [a, b] = [of(straight.clip), of(other)];
    for (const f of [0, 10, 20])
      standing(a, f).places.forEach((p, j) => expect(length(sub(p, standing(b, f).places[j]!))).toBeLessThan(2e-3));
  };
  it("keys of scale are left out", () => {
    const { joint, times } = clip.tracks[0]!;
    const scale: ClipTrack = {
      joint,
      path: "scale",
      interpolation: "LINEAR",
      times,
      values: new Float32Array(3 * times.length).fill(2),
    };
    const { clip: made, report } = bring({ ...clip, tracks: [...clip.tracks, scale] });
    expect(report.leftOut.scaleKeys).toBe(1);
    expect(report.told.join()).toMatch(/keys of scale of 1 joint left out \(up to x 2\)/);
    sameAs(made);
  });
  it("keys that would draw bones out are left out, and how long they would have become is said", () => {
    const knee = from.joints.findIndex((j) => j.name === "LegLow_Lt");
    const [x, y, z] = from.joints[knee]!.translation;
    const longer: ClipTrack = {
      joint: "LegLow_Lt",
      path: "translation",
      interpolation: "LINEAR",
      times: Float32Array.of(0, 1),
      values: Float32Array.of(x, y, z, 1.5 * x, 1.5 * y, 1.5 * z),
    };
    const { clip: made, report } = bring({ ...clip, tracks: [...clip.tracks, longer] });
    expect(report.told.join()).toMatch(/LegLow_Lt would have become x 1.5 as long/);
    sameAs(made);
  });
  it("a last frame that stands twice goes", () => {
    const twice = clip.tracks.map((t): ClipTrack => {
      if (t.times.length < 2) return t;
      const width = t.values.length / t.times.length;
      return {
        ...t,
        times: Float32Array.of(...t.times, t.times[t.times.length - 1]! + 1 / 30),
        values: Float32Array.of(...t.values, ...t.values.subarray(t.values.length - width)),
      };
    });
    const { clip: made, report } = bring({ ...clip, tracks: twice });
    expect(report.told).toContain("its last frame stood twice: left out");
    expect(clipSeconds(made)).toBeCloseTo(clipSeconds(straight.clip), 3);
  });
  it("a figure that lies in its file, rest and all, is stood up", () => {
    const lying = turnedWhole(from, clip, fromAxisAngle([1, 0, 0], 90));
    const { clip: made, report } = bring(lying.clip, lying.skeleton);
    expect(report.told).toContain("its up axis is +Z: turned to +Y");
    sameAs(made);
  });
  it("a movement on its back over a rest that stands is stood up", () => {
    const { report, clip: made } = bringClip(oda, own(turnedMotion(walk, fromAxisAngle([1, 0, 0], -90))), "lying");
    expect(report.told).toContain("its figure lay: stood up");
    const up = direction(unfitted(oda, made)!, mapOf(oda), 5, ["hips", "head"]);
    expect(up[1]).toBeGreaterThan(0.95);
  });
  it("a figure that faces away is turned round, and then walks ahead, not backwards", () => {
    const away = turnedWhole(from, clip, fromAxisAngle([0, 1, 0], 180));
    const { clip: made, report } = bring(away.clip, away.skeleton);
    expect(report.facing).toBe("-Z");
    sameAs(made);
  });
  it("120 frames a second are kept at 60", () => {
    const quick = { ...clip, tracks: clip.tracks.map((t) => ({ ...t, times: t.times.map((x) => x / 4) })) };
    const { report } = bring(quick);
    expect([report.fps, report.keptFps]).toEqual([120, 60]);
    expect(report.told.join()).toMatch(/120 frames a second, kept at 60/);
  });
  it("names that tell nothing are mapped by where joints stand", () => {
    const plain = (name: string): string => `n${from.joints.findIndex((j) => j.name === name)}`;
    const nameless: Skeleton = { ...from, joints: from.joints.map((j) => ({ ...j, name: plain(j.name) })) };
    const { clip: made, report } = bring(
      { ...clip, tracks: clip.tracks.map((t) => ({ ...t, joint: plain(t.joint) })) },
      nameless,
    );
    expect(report.map.length).toBeGreaterThan(15);
    const [a, b] = [unfitted(oda, straight.clip)!, unfitted(oda, made)!];
    for (const limb of LIMBS)
      expect(angle(direction(a, mapOf(oda), 12, limb), direction(b, mapOf(oda), 12, limb))).toBeLessThan(1);
  });
});

describe("a movement fitted to the figure", () => {
  const given = unfitted(oda, walk)!;
  it("stands on the floor: no sole goes under it", () => {
    expect(readFeet(oda, given)!.under).toBeGreaterThan(0.03);
    const { motion, contacts } = fitMotion(oda, given, NO_FITTING);
    expect(readFeet(oda, motion, contacts!)!.under).toBeLessThan(1e-4);
  });
  it("holds the feet that stand, and keeps every bone's length", () => {
    const free = fitMotion(oda, given, NO_FITTING);
    expect(readFeet(oda, free.motion, free.contacts!)!.slide).toBeGreaterThan(0.1);
    const held = fitMotion(oda, given, { ...NO_FITTING, hold: true });
    expect(readFeet(oda, held.motion, held.contacts!)!.slide).toBeLessThan(0.01);
    const rest = restStanding(skeleton);
    for (const f of FRAMES) {
      const { places } = standing(held.motion, f);
      skeleton.joints.forEach(({ parent }, j) => {
        if (parent < 0 || j === held.motion.traveller) return;
        const [now, before] = [places, rest.places].map((p) => length(sub(p[j]!, p[parent]!)));
        expect(Math.abs(now! - before!)).toBeLessThan(1e-6);
      });
    }
  });
  it("keeps hands that rest where they rest, and leaves those that move alone", () => {
    const sway = oda.clips.find((c) => c.name === "idle sway")!;
    const motion = unfitted(oda, sway)!;
    const map = mapOf(oda);
    const before = readHands(motion, map)!;
    expect(before.resting).toBeGreaterThan(0.5);
    expect(before.drift).toBeGreaterThan(0.005);
    const held = fitMotion(oda, motion, { ...AS_IT_CAME, hands: true }).motion;
    expect(readHands(held, map)!.drift).toBeLessThan(before.drift / 2);
    for (const bone of ["leftLowerArm", "rightHand"]) {
      const j = map.jointOfBone.get(bone)!;
      const parent = map.jointOfBone.get(bone === "rightHand" ? "rightLowerArm" : "leftUpperArm")!;
      const long = (m: Motion, f: number): number => {
        const { places } = standing(m, f);
        return length(sub(places[j]!, places[parent]!));
      };
      for (const f of FRAMES) expect(long(held, f)).toBeCloseTo(long(motion, f), 6);
    }
    const swung = unfitted(oda, walk)!;
    const swings = fitMotion(oda, swung, { ...AS_IT_CAME, hands: true }).motion;
    const still = (m: Motion): Vec3 => standing(m, 5).places[map.jointOfBone.get("leftHand")!]!;
    expect(length(sub(still(swings), still(swung)))).toBeLessThan(1e-6);
  });
  it("is closed: the last frame stands as the first", () => {
    // the cycle is cut two frames short of its end
    const cut = { ...given, frames: given.frames - 2 };
    const loop = findLoop(cut)!;
    expect(apart(cut, 0, cut.frames - 1)).toBeGreaterThan(2);
    const { motion, loop: closed } = fitMotion(oda, cut, { ...AS_IT_CAME, loop: { from: 0, to: loop.to } });
    expect(closed!.degrees).toBeLessThan(0.01);
    expect(apart(motion, 0, motion.frames - 1)).toBeLessThan(0.01);
  });
  it("does what each amount says", () => {
    const map = mapOf(oda);
    const at = (fitting: object): Motion =>
      fitMotion(oda, given, fittingSchema.parse({ ground: false, ...fitting })).motion;
    const out = (m: Motion): number =>
      angle(
        direction(m, map, 8, ["leftUpperArm", "leftLowerArm"]),
        direction(given, map, 8, ["leftUpperArm", "leftLowerArm"]),
      );
    expect(out(at({ arms: 20 }))).toBeGreaterThan(10);
    const gap = (m: Motion): number => {
      const { places } = standing(m, 8);
      return places[map.jointOfBone.get("leftFoot")!]![0] - places[map.jointOfBone.get("rightFoot")!]![0];
    };
    expect(gap(at({ stride: 60 })) - gap(given)).toBeCloseTo(0.06, 2);
    const high = (m: Motion): number => standing(m, 8).places[m.traveller]![1];
    expect(high(at({ hips: -50 })) - high(given)).toBeCloseTo(-0.05, 3);
    const foot = (m: Motion): Vec3 => standing(m, 8).places[map.jointOfBone.get("leftFoot")!]!;
    expect(length(sub(foot(at({ hips: -50 })), foot(given)))).toBeLessThan(1e-3);
    const nod = (m: Motion): Vec3 => rotate(standing(m, 8).turns[map.jointOfBone.get("head")!]!, [0, 0, 1]);
    expect(nod(at({ chin: 20 }))[1] - nod(given)[1]).toBeGreaterThan(0.2);
    expect(clipSeconds(fitClip(oda, walk, fittingSchema.parse({ speed: 2 })))).toBeCloseTo(clipSeconds(walk) / 2, 2);
  });
  it("mirrored twice is itself, once it has left and right exchanged", () => {
    const map = mapOf(oda);
    const mirror = fittingSchema.parse({ ground: false, mirror: true });
    const once = fitMotion(oda, given, mirror).motion;
    const twice = fitMotion(oda, once, mirror).motion;
    const knee = (m: Motion, side: string): number =>
      angle(
        direction(m, map, 8, [`${side}UpperLeg`, `${side}LowerLeg`]),
        direction(m, map, 8, [`${side}LowerLeg`, `${side}Foot`]),
      );
    expect(knee(once, "left")).toBeCloseTo(knee(given, "right"), 3);
    const arm = skeleton.joints.findIndex((j) => j.name === "leftHand");
    expect(length(sub(standing(twice, 8).places[arm]!, standing(given, 8).places[arm]!))).toBeLessThan(1e-4);
  });
  it("keeps what it was, and is that again when the fit is taken away", () => {
    const fitted = fitClip(oda, walk, fittingSchema.parse({ chin: 10, hold: true }));
    expect(fitted.fit!.tracks).toBe(walk.tracks);
    expect(fitClip(oda, fitted, null)).toEqual(walk);
    expect(fittedMotion(oda, fitted, NO_FITTING)!.motion.frames).toBe(given.frames);
  });
});

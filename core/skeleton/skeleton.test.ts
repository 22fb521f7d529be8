import { loadOda } from "../../demo/cast";
import { makePerson } from "../../demo/people/makePerson";
import { TARN } from "../../demo/people/people";
import { figureSkeleton, skeletonOf } from "../../tests/helpers/characters";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { decomposeTRS, translationOf } from "../math/mat4";
import { fromEulerXYZ, rotate } from "../math/quat";
import { sub, type Vec3 } from "../math/vec3";
import type { Skeleton } from "../model/character";
import { boneLabel, HUMANOID_BONES, mirrorBone, REQUIRED_BONES, sideOfBone } from "../names/humanoidBones";
import { humanoidMap } from "./humanoidMap";
import { jointMotions, motionPose, type JointMotion } from "./jointMotions";
import { mapByGeometry } from "./mapByGeometry";
import { readName, sharedPrefix, splitWords } from "../names/nameWords";

const depth = (s: Skeleton, j: number): number => (s.joints[j]!.parent < 0 ? 0 : 1 + depth(s, s.joints[j]!.parent));
const oda = await loadOda();
const tarn = makePerson({ ...oda, shapes: [] }, TARN);
const capital = (s: string): string => s[0]!.toUpperCase() + s.slice(1);

describe("names", () => {
  it.each([
    ["LeftUpperArm", ["left", "upper", "arm"]],
    ["upper_arm.L", ["upper", "arm", "l"]],
    ["b_l_forearm_02", ["b", "l", "forearm", "02"]],
    ["IKFoot", ["ik", "foot"]],
    ["", []],
    ["😀", []],
  ])("are split: %s", (name, words) => expect(splitWords(name)).toEqual(words));
  it("have their side read and taken out", () => {
    expect(readName("upper_arm.L")).toEqual({ words: ["upper", "arm"], side: "left" });
    expect(readName("rightfoot")).toEqual({ words: ["foot"], side: "right" });
    expect(readName("spine")).toEqual({ words: ["spine"], side: null });
  });
  it("share a prefix only when nearly all do", () => {
    expect(sharedPrefix(["oda_hips", "oda_spine", "oda_head", "oda_neck"])).toBe(1);
    expect(sharedPrefix(["hips", "spine", "head"])).toBe(0);
    expect(sharedPrefix(["left_arm", "left_hand", "left_leg"])).toBe(0);
  });
});

describe("the humanoid map", () => {
  const spellings: [string, (bone: string) => string][] = [
    ["as the standard writes them", (b) => b],
    ["capitals with a prefix", (b) => `Figure_${capital(b)}`],
    [
      "side behind a dot",
      (b) =>
        `${boneLabel(b)
          .replace(/^(left|right) /, "")
          .replaceAll(" ", "_")}${b.startsWith("left") ? ".L" : b.startsWith("right") ? ".R" : ""}`,
    ],
    [
      "side letter before",
      (b) =>
        `j.${b.startsWith("left") ? "l." : b.startsWith("right") ? "r." : ""}${boneLabel(b)
          .replace(/^(left|right) /, "")
          .replaceAll(" ", "-")}`,
    ],
    [
      "other words",
      (b) =>
        ({
          hips: "pelvis",
          LowerArm: "forearm",
          UpperLeg: "thigh",
          LowerLeg: "shin",
          Foot: "ankle",
          Shoulder: "clavicle",
          Toes: "ball",
        })[b.replace(/^(left|right)/, "")]?.replace(
          /^/,
          b.startsWith("left") ? "L_" : b.startsWith("right") ? "R_" : "",
        ) ?? b,
    ],
    ["in capitals", (b) => boneLabel(b).toUpperCase().replaceAll(" ", "_")],
  ];
  it.each(spellings)("finds every bone: %s", (_what, name) => {
    const skeleton = figureSkeleton(name);
    const map = humanoidMap(skeleton);
    expect(map.missingRequired).toEqual([]);
    const plain = figureSkeleton();
    expect(map.boneOfJoint).toEqual(plain.joints.map((j) => j.name));
  });
  /**
   * Naming manners that we made up; side words in several places, prefixes, separators, digits, no sides, no meaning at
   * all.
   */
  const code = (_: string, i: number): string => `joint_${i}`;
  const manners: [string, (bone: string, index: number) => string][] = [
    ["numbers only", code],
    ["numbers with a prefix", (_, i) => `rig:n${i}`],
    ["shuffled numbers", (_, i) => `b${(i * 37) % 101}`],
    ["one word for all", (_, i) => `bone.${String(i).padStart(3, "0")}`],
    ["no sides", (b, i) => `${b.replace(/^(left|right)/, "")}_${i}`],
    ["letters", (_, i) => String.fromCharCode(97 + (i % 26)).repeat(1 + Math.floor(i / 26))],
    ["another tongue", (b, i) => ({ hips: "Huefte", spine: "Kreuz", head: "Kopf", neck: "Hals" })[b] ?? `Glied${i}`],
    [
      "limbs counted",
      (b, i) => (/Arm|Hand|Shoulder/.test(b) ? `upper_${i}` : /Leg|Foot|Toes/.test(b) ? `lower_${i}` : `mid_${i}`),
    ],
    [
      "sides at the end",
      (b) => `${b.replace(/^(left|right)/, "")}${b.startsWith("left") ? "_Lt" : b.startsWith("right") ? "_Rt" : ""}`,
    ],
    [
      "sides in the middle",
      (b) =>
        `k_${b.startsWith("left") ? "l" : b.startsWith("right") ? "r" : "c"}_${boneLabel(b)
          .replace(/^(left|right) /, "")
          .replaceAll(" ", "")}_jnt`,
    ],
    ["digits between", (b) => boneLabel(b).split(" ").join("01_")],
    ["shouted with dashes", (b) => boneLabel(b).toUpperCase().replaceAll(" ", "--")],
    ["only hands and feet named", (b, i) => (/Hand|Foot/.test(b) ? b : `x${i}`)],
  ];
  it.each(manners)("every required bone is right under names made up otherwise: %s", (_what, name) => {
    for (const base of [figureSkeleton(), oda.skeleton!, tarn.skeleton!]) {
      const right = humanoidMap(base);
      expect(right.missingRequired).toEqual([]);
      const order = base.joints.map((j, i) => name(right.boneOfJoint[i] ?? j.name, i));
      const skeleton = { ...base, joints: base.joints.map((j, i) => ({ ...j, name: order[i]! })) };
      const map = humanoidMap(skeleton);
      for (const bone of REQUIRED_BONES)
        expect([bone, map.jointOfBone.get(bone)]).toEqual([bone, right.jointOfBone.get(bone)]);
    }
  });
  it("places alone find most of the rest too: neck, shoulders, toes, fingers, eyes and jaw of the figure", () => {
    const right = humanoidMap(oda.skeleton!);
    const found = mapByGeometry(oda.skeleton!);
    for (const bone of HUMANOID_BONES) expect([bone, found.get(bone)]).toEqual([bone, right.jointOfBone.get(bone)]);
  });
  it("joints in another order, arms at T, in centimetres or hanging: the same", () => {
    const base = figureSkeleton();
    const shuffled = [...base.joints.keys()].sort(
      (a, b) => depth(base, a) - depth(base, b) || ((a * 31) % 17) - ((b * 31) % 17),
    );
    const skeleton = skeletonOf(
      shuffled.map((old, i) => ({
        ...base.joints[old]!,
        name: `n${i}`,
        parent: base.joints[old]!.parent < 0 ? -1 : shuffled.indexOf(base.joints[old]!.parent),
        translation: base.joints[old]!.translation.map((x) => 100 * x) as unknown as [number, number, number],
      })),
    );
    const map = humanoidMap(skeleton);
    for (const bone of REQUIRED_BONES) expect(base.joints[shuffled[map.jointOfBone.get(bone)!]!]!.name).toBe(bone);
  });
  it("does not take twist and end joints for the limb", () => {
    const base = figureSkeleton();
    const at = base.joints.findIndex((j) => j.name === "leftLowerArm");
    const skeleton = skeletonOf([
      ...base.joints,
      { name: "leftLowerArmTwist", parent: at, translation: [0.05, 0, 0] },
      { name: "headEnd", parent: 5 },
    ]);
    const map = humanoidMap(skeleton);
    expect(map.boneOfJoint.slice(-2)).toEqual([null, null]);
    expect(map.jointOfBone.get("leftLowerArm")).toBe(at);
  });
  it("lets corrections win, and a joint be taken out", () => {
    const skeleton = figureSkeleton();
    const map = humanoidMap(skeleton, { neck: "head", head: null });
    expect(map.boneOfJoint[4]).toBe("head");
    expect(map.boneOfJoint[5]).toBeNull();
  });
  it("says what is missing", () =>
    expect(humanoidMap(skeletonOf([{ name: "a", parent: -1 }])).missingRequired).toEqual([...REQUIRED_BONES]));
  it("knows the bones and their sides", () => {
    expect(HUMANOID_BONES.length).toBe(55); // VRM 1.0: 15 required, 40 optional
    for (const bone of HUMANOID_BONES) {
      expect(HUMANOID_BONES).toContain(mirrorBone(bone));
      expect(sideOfBone(mirrorBone(bone))).toBe(
        ({ left: "right", right: "left" } as Record<string, string>)[sideOfBone(bone) ?? ""] ?? null,
      );
    }
  });
});

describe("motions", () => {
  const turned = (skeleton: Skeleton): Skeleton => skeletonOf(skeleton.joints.map((j) => j)); // same frames
  const where = (
    skeleton: Skeleton,
    motion: JointMotion | undefined,
    degrees: number,
    joint: string,
  ): readonly [number, number, number] => {
    const j = skeleton.joints.findIndex((x) => x.name === joint);
    const rest = translationOf(worldMatrices(skeleton, {}), 16 * j);
    return sub(translationOf(worldMatrices(skeleton, motionPose(motion!, degrees)), 16 * j), rest);
  };
  /** The same figure with every joint frame turned some other way. */
  const oddFrames = (): Skeleton => {
    const plain = figureSkeleton();
    const world = worldMatrices(plain, {});
    const q = plain.joints.map((_, j) => fromEulerXYZ(37 * j, 20 + 11 * j, -23 * j));
    const inverse = (a: readonly [number, number, number, number]): [number, number, number, number] => [
      -a[0],
      -a[1],
      -a[2],
      a[3],
    ];
    const multiply = (a: readonly number[], b: readonly number[]): [number, number, number, number] => [
      a[3]! * b[0]! + a[0]! * b[3]! + a[1]! * b[2]! - a[2]! * b[1]!,
      a[3]! * b[1]! - a[0]! * b[2]! + a[1]! * b[3]! + a[2]! * b[0]!,
      a[3]! * b[2]! + a[0]! * b[1]! - a[1]! * b[0]! + a[2]! * b[3]!,
      a[3]! * b[3]! - a[0]! * b[0]! - a[1]! * b[1]! - a[2]! * b[2]!,
    ];
    const turn = (r: readonly number[], v: readonly number[]): [number, number, number] => {
      const p = multiply(multiply(r, [...v, 0]), [-r[0]!, -r[1]!, -r[2]!, r[3]!]);
      return [p[0], p[1], p[2]];
    };
    return skeletonOf(
      plain.joints.map((j, i) => {
        const p = translationOf(world, 16 * i);
        if (j.parent < 0) return { ...j, rotation: q[i]!, translation: p };
        const up = translationOf(world, 16 * j.parent);
        return {
          ...j,
          rotation: multiply(inverse(q[j.parent]!), q[i]!),
          translation: turn(inverse(q[j.parent]!), sub(p, up)),
        };
      }),
    );
  };
  describe.each<[string, Skeleton]>([
    ["frames along the axes", turned(figureSkeleton())],
    ["frames turned at random", oddFrames()],
  ])("with %s", (_what, skeleton) => {
    const motions = jointMotions(skeleton, humanoidMap(skeleton));
    const motion = (id: string): JointMotion | undefined => motions.find((m) => m.id === id);
    it("elbows fold forward, knees back, hips lift the knee", () => {
      for (const side of ["left", "right"]) {
        expect(where(skeleton, motion(`${side}LowerArm/bend`), 90, `${side}Hand`)[2]).toBeGreaterThan(0.1);
        expect(where(skeleton, motion(`${side}LowerLeg/bend`), 90, `${side}Foot`)[2]).toBeLessThan(-0.2);
        const knee = where(skeleton, motion(`${side}UpperLeg/forward`), 90, `${side}LowerLeg`);
        expect(knee[2]).toBeGreaterThan(0.3);
        expect(knee[1]).toBeGreaterThan(0.3);
      }
    });
    it("raising an arm lifts the hand on both sides, down brings it to the side", () => {
      for (const [side, s] of [
        ["left", 1],
        ["right", -1],
      ] as const) {
        const up = motion(`${side}UpperArm/raise`)!;
        expect(where(skeleton, up, 60, `${side}Hand`)[1]).toBeGreaterThan(0.2);
        expect(where(skeleton, up, up.min, `${side}Hand`)[0] * s).toBeLessThan(-0.1);
        // from hanging to straight up: AAOS abduction 0 to 180, from memory
        expect(up.max - up.min).toBeCloseTo(180, -0.5);
      }
    });
    it("mirror each other", () => {
      for (const m of motions.filter((x) => x.bone.startsWith("left"))) {
        const other = motions.find((x) => x.bone === mirrorBone(m.bone) && x.name === m.name);
        expect(other).toMatchObject({ min: m.min, max: m.max });
        // a turn is mirrored as an axial vector: what lies in the mirror plane changes sign
        const inWorld = (x: JointMotion): Vec3 =>
          rotate(
            decomposeTRS(worldMatrices(skeleton, {}), 16 * skeleton.joints.findIndex((j) => j.name === x.joint)).q,
            x.axis,
          );
        const [l, r] = [inWorld(m), inWorld(other!)];
        expect(Math.hypot(l[0] - r[0], l[1] + r[1], l[2] + r[2])).toBeLessThan(0.06);
      }
    });
    it("turn the other leg out of the way while a thigh is drawn in, and only then", () => {
      const inward = motion("leftUpperLeg/out")!;
      expect(where(skeleton, inward, inward.min, "rightFoot")[0]).toBeLessThan(-0.3);
      expect(where(skeleton, inward, inward.max, "rightFoot")).toEqual([0, 0, 0]);
      expect(motions.filter((m) => m.aside).map((m) => m.bone)).toEqual(["leftUpperLeg", "rightUpperLeg"]);
    });
    it("have unit axes and a range around rest", () => {
      expect(motions.length).toBeGreaterThan(25);
      for (const m of motions) {
        expect(Math.hypot(...m.axis)).toBeCloseTo(1, 5);
        expect(m.min).toBeLessThanOrEqual(0);
        expect(m.max).toBeGreaterThan(0);
      }
    });
  });
});

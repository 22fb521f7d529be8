import { readFileSync } from "node:fs";
import { motionFromBvh } from "../../core/clips/sourceMotion";
import { readBvh } from "../../core/formats/bvh/readBvh";
import { HUMANOID_BONES, REQUIRED_BONES } from "../../core/names/humanoidBones";
import { humanoidMap } from "../../core/skeleton/humanoidMap";

/**
 * Skeletons of other makers, Debian assimp-testmodels, read in place. The tables are read by hand from the files: a
 * bone of VRM 1.0 is the joint that stands at its upper end (VRMC_vrm-1.0, humanoid.md), whatever it is called.
 */
const FOLDER = "/usr/share/assimp/models/BVH";
/** Joints named after the bone that begins there; collar bones are called shoulders, two joints stand for the neck. */
const CAPTURED = {
  file: "01_01.bvh",
  center: { hips: ["Hips"], spine: ["LowerBack", "Spine"], neck: ["Neck", "Neck1"], head: ["Head"] },
  side: {
    UpperLeg: "UpLeg",
    LowerLeg: "Leg",
    Foot: "Foot",
    Toes: "ToeBase",
    Shoulder: "Shoulder",
    UpperArm: "Arm",
    LowerArm: "ForeArm",
    Hand: "Hand",
  },
} as const;
/** Joints named after the joint of the body: the left shoulder is where the upper arm begins. */
const BOXING = {
  file: "Boxing_Toes.bvh",
  center: { hips: ["Hips"], spine: ["Ab"], chest: ["Chest"], neck: ["Neck"], head: ["Head"] },
  side: {
    UpperLeg: "Hip",
    LowerLeg: "Knee",
    Foot: "Ankle",
    Toes: "Toes",
    Shoulder: "Collar",
    UpperArm: "Shoulder",
    LowerArm: "Elbow",
    Hand: "Wrist",
  },
} as const;

describe.each([CAPTURED, BOXING])("the joints of $file", ({ file, center, side }) => {
  const { motion } = motionFromBvh(readBvh(readFileSync(`${FOLDER}/${file}`, "utf8"), file), file);
  const { skeleton } = motion;
  const expected = new Map<string, readonly string[]>([
    ...Object.entries(center),
    ...(["left", "right"] as const).flatMap((s) =>
      Object.entries(side).map(([bone, joint]): [string, string[]] => [
        s + bone,
        [`${s === "left" ? "Left" : "Right"}${joint}`],
      ]),
    ),
  ]);
  const told = (of: typeof skeleton, named: (joint: string) => string = (joint) => joint): [string, boolean][] => {
    const map = humanoidMap(of);
    return [...expected].map(([bone, joints]) => {
      const found = map.jointOfBone.get(bone);
      return [bone, found !== undefined && joints.map(named).includes(of.joints[found]!.name)];
    });
  };
  const all = [...expected.keys()].map((bone): [string, boolean] => [bone, true]);

  it("are found by their names, each required bone of VRM 1.0 among them", () => {
    expect(told(skeleton)).toEqual(all);
    expect(humanoidMap(skeleton).missingRequired).toEqual([]);
    expect(REQUIRED_BONES.filter((b) => !expected.has(b))).toEqual([]);
    expect([...expected.keys()].filter((b) => !HUMANOID_BONES.includes(b))).toEqual([]);
  });
  it("are found by where they stand, when their names say nothing", () => {
    const nameless = { ...skeleton, joints: skeleton.joints.map((j, i) => ({ ...j, name: `j${i}` })) };
    const found = told(nameless, (joint) => `j${skeleton.joints.findIndex((j) => j.name === joint)}`);
    expect(found.filter(([bone]) => (REQUIRED_BONES as readonly string[]).includes(bone))).toEqual(
      all.filter(([bone]) => (REQUIRED_BONES as readonly string[]).includes(bone)),
    );
  });
});

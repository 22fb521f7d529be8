import { loadOda } from "../../demo/cast";
import { applyStep } from "../ledger/applyStep";
import { stepSchema } from "../ledger/steps";
import { bringClip, BRING_DEFAULTS } from "../clips/bringClip";
import { motionFromBvh } from "../clips/sourceMotion";
import { clipMatrices } from "../evaluate/clipMatrices";
import { readBvh } from "../formats/bvh/readBvh";
import { readGlb } from "../formats/glb/readGlb";
import { writeGlb } from "../formats/glb/writeGlb";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { decomposeTRS, translationOf } from "../math/mat4";
import { angleBetweenQuats } from "../math/quat";
import { length, normalize, sub, type Vec3 } from "../math/vec3";
import type { Character } from "../model/character";
import { characterWith, figureSkeleton, randomPose } from "../../tests/helpers/characters";
import { randomFrom } from "../../tests/helpers/random";
import { changeRest } from "./changeRest";
import { humanoidMap } from "./humanoidMap";
import { armsAt } from "./rebind";
import { poseOfTurns, spaceTurns } from "./retargetPose";

const oda = await loadOda();
const step = (c: Character, s: unknown): Character => applyStep(c, stepSchema.parse(s), () => undefined);
const map = humanoidMap(oda.skeleton!, oda.jointMap);
const bone = (name: string): number => map.jointOfBone.get(name)!;

describe("a pose as turns in space", () => {
  it("is the same pose again, for any pose", () => {
    const skeleton = figureSkeleton();
    const random = randomFrom(7);
    for (let k = 0; k < 20; k++) {
      const pose = randomPose(random, characterWith({ skeleton }), 60);
      const again = poseOfTurns(skeleton, spaceTurns(skeleton, pose));
      const [a, b] = [worldMatrices(skeleton, pose), worldMatrices(skeleton, again)];
      skeleton.joints.forEach((_, j) =>
        expect(angleBetweenQuats(decomposeTRS(a, 16 * j).q, decomposeTRS(b, 16 * j).q)).toBeLessThan(0.01),
      );
    }
  });
  it("names nothing at rest", () => expect(spaceTurns(oda.skeleton!, {})).toEqual({}));
  it("says the same of the flesh when a joint's frame is turned", () => {
    const pose = armsAt(oda, 0);
    const turns = spaceTurns(oda.skeleton!, pose);
    const rest = worldMatrices(oda.skeleton!, {});
    const j = bone("leftLowerArm");
    const t = translationOf(rest, 16 * j);
    rest.set([0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1, 0, ...t, 1], 16 * j);
    const turned = changeRest(oda, rest).skeleton!;
    const [a, b] = [worldMatrices(oda.skeleton!, pose), worldMatrices(turned, poseOfTurns(turned, turns))];
    for (const name of ["leftHand", "rightHand"])
      expect(length(sub(translationOf(a, 16 * bone(name)), translationOf(b, 16 * bone(name))))).toBeLessThan(1e-4);
  });
});

/** A figure in T, standing still for two frames: hips, chest and both arms, along the axes. */
const T_POSE = `HIERARCHY
ROOT hips
{
  OFFSET 0 95 0
  CHANNELS 6 Xposition Yposition Zposition Zrotation Xrotation Yrotation
  JOINT chest
  {
    OFFSET 0 30 0
    CHANNELS 3 Zrotation Xrotation Yrotation
    JOINT leftUpperArm
    {
      OFFSET 18 10 0
      CHANNELS 3 Zrotation Xrotation Yrotation
      JOINT leftLowerArm
      {
        OFFSET 26 0 0
        CHANNELS 3 Zrotation Xrotation Yrotation
        JOINT leftHand
        {
          OFFSET 24 0 0
          CHANNELS 3 Zrotation Xrotation Yrotation
          End Site
          {
            OFFSET 8 0 0
          }
        }
      }
    }
  }
}
MOTION
Frames: 2
Frame Time: 0.04
0 95 0 ${"0 ".repeat(15).trim()}
0 95 0 ${"0 ".repeat(15).trim()}
`;

describe("the pose for retargeting", () => {
  const kept = step(oda, { op: "retarget pose", turns: spaceTurns(oda.skeleton!, armsAt(oda, 0)) });
  const settings = { ...BRING_DEFAULTS, rest: "first" } as const;
  const arm = (c: Character): Vec3 => {
    const { clip } = bringClip(c, motionFromBvh(readBvh(T_POSE, "t.bvh"), "t"), "t", settings);
    const world = clipMatrices(c.skeleton!, clip, 0);
    return normalize(sub(translationOf(world, 16 * bone("leftHand")), translationOf(world, 16 * bone("leftUpperArm"))));
  };
  it("stands for the rest of a clip's figure, where that is its first frame", () => {
    expect(arm(oda)[1]).toBeLessThan(-0.3);
    expect(Math.abs(arm(kept)[1])).toBeLessThan(0.06);
    expect(arm(kept)[0]).toBeGreaterThan(0.99);
  });
  it("leaves mesh, rest and clips as they are, can be dropped, and goes when the rest is bound anew", () => {
    expect(kept.parts).toBe(oda.parts);
    expect(kept.skeleton).toBe(oda.skeleton);
    expect(step(kept, { op: "retarget pose", turns: null })).toEqual(oda);
    expect(step(kept, { op: "bind in pose", pose: armsAt(oda, 20) }).retargetPose).toBeUndefined();
    expect(() => step(oda, { op: "retarget pose", turns: { gill: [0, 0, 0, 1] } })).toThrow(/no joint named gill/);
  });
  it("survives a GLB and new names of joints", async () => {
    const read = await readGlb(await writeGlb(kept), "oda.glb");
    expect(Object.keys(read.retargetPose!).sort()).toEqual(Object.keys(kept.retargetPose!).sort());
    const joint = oda.skeleton!.joints[bone("leftUpperArm")]!.name;
    expect(
      Object.keys(step(kept, { op: "rename", kind: "joints", names: [{ from: joint, to: "arm 1" }] }).retargetPose!),
    ).toContain("arm 1");
  });
});

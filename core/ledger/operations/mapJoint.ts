import { z } from "zod";
import { boneLabel, HUMANOID_BONES } from "../../names/humanoidBones";
import { needJoints, operation } from "./operation";

const bone = z.enum(HUMANOID_BONES as [string, ...string[]]).nullable();

export const mapJoint = operation({
  op: "map joint",
  schema: z.object({ op: z.literal("map joint"), joint: z.string(), bone }),
  apply: (character, step) => {
    needJoints(character, [step.joint], step.op);
    // a bone is played by one joint
    const others = Object.entries(character.jointMap).filter(([, b]) => step.bone === null || b !== step.bone);
    return { ...character, jointMap: { ...Object.fromEntries(others), [step.joint]: step.bone } };
  },
  sentence: ({ joint, bone }) =>
    bone ? `mapped ${joint} to ${boneLabel(bone)}` : `took ${joint} out of the joint map`,
  renamed: (step, { joint }) => ({ ...step, joint: joint(step.joint) }),
});

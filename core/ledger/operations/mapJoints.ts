import { z } from "zod";
import { boneLabel, HUMANOID_BONES } from "../../names/humanoidBones";
import { keysRenamed, needJoints, operation } from "./operation";

export const mapJoints = operation({
  op: "map joints",
  schema: z.object({
    op: z.literal("map joints"),
    map: z.record(z.string(), z.enum(HUMANOID_BONES as [string, ...string[]])),
  }),
  apply: (character, { op, map }) => {
    needJoints(character, Object.keys(map), op);
    const bones = new Set(Object.values(map));
    const others = Object.entries(character.jointMap).filter(([, b]) => b === null || !bones.has(b));
    return { ...character, jointMap: { ...Object.fromEntries(others), ...map } };
  },
  sentence: ({ map }) => `mapped ${Object.keys(map).length} joints by a saved map`,
  list: ({ map }) => Object.entries(map).map(([joint, bone]) => `${joint}: ${boneLabel(bone)}`),
  renamed: (step, { joint }) => ({ ...step, map: keysRenamed(step.map, joint) }),
});

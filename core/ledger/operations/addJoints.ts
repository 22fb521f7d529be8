import { z } from "zod";
import { mergeJoints } from "../../skeleton/mergeJoints";
import { few, many, name, namesOf, operation } from "./operation";

export const addJoints = operation({
  op: "add joints",
  schema: z.object({
    op: z.literal("add joints"),
    source: z.string().min(1).max(200),
    joints: z
      .array(z.object({ name, parent: name, rest: z.array(z.number()).length(16) }))
      .min(1)
      .max(5000),
  }),
  apply: (character, { joints }) => mergeJoints(character, joints),
  sentence: ({ joints, source }) => `added ${few(namesOf(joints), "joints")} from ${source}`,
  list: ({ joints }) => many(namesOf(joints)),
  renamed: (step, { joint }) => ({ ...step, joints: step.joints.map((j) => ({ ...j, parent: joint(j.parent) })) }),
});

import { z } from "zod";
import type { Character } from "../../model/character";
import { keysRenamed, needJoints, operation } from "./operation";

/** The character without a pose for clips of other skeletons. */
export const withoutRetargetPose = (character: Character): Character =>
  Object.fromEntries(Object.entries(character).filter(([k]) => k !== "retargetPose")) as unknown as Character;

export const retargetPose = operation({
  op: "retarget pose",
  schema: z.object({
    op: z.literal("retarget pose"),
    turns: z.record(z.string(), z.tuple([z.number(), z.number(), z.number(), z.number()])).nullable(),
  }),
  apply: (character, { op, turns }) => {
    needJoints(character, Object.keys(turns ?? {}), op);
    return turns ? { ...character, retargetPose: turns } : withoutRetargetPose(character);
  },
  sentence: ({ turns }) =>
    turns
      ? `kept a pose of ${Object.keys(turns).length} joints for clips of other skeletons`
      : "dropped the pose for clips of other skeletons",
  renamed: (step, { joint }) => (step.turns ? { ...step, turns: keysRenamed(step.turns, joint) } : step),
});

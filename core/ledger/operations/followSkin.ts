import { z } from "zod";
import { followSchema, followSkin as follow } from "../../shapes/followSkin";
import { few, operation } from "./operation";

export const followSkin = operation({
  op: "follow skin",
  schema: z.object({ op: z.literal("follow skin"), follow: followSchema }),
  apply: (character, step) => follow(character, step.follow),
  sentence: ({ follow: { part, shapes, reachMm, keep } }) => {
    const where = shapes ? few(shapes, "shapes") : "every shape";
    return `let ${part} follow the skin in ${where}, within ${reachMm} mm${keep ? ", for good" : ""}`;
  },
  renamed: (step, { part, shape }) => ({
    ...step,
    follow: {
      ...step.follow,
      part: part(step.follow.part),
      ...(step.follow.shapes ? { shapes: step.follow.shapes.map(shape) } : {}),
    },
  }),
});

import { z } from "zod";
import { rebind } from "../../skeleton/rebind";
import { keysRenamed, needJoints, operation } from "./operation";
import { withoutRetargetPose } from "./retargetPose";

export const bindInPose = operation({
  op: "bind in pose",
  schema: z.object({
    op: z.literal("bind in pose"),
    pose: z
      .record(z.string(), z.tuple([z.number(), z.number(), z.number()]))
      .refine((p) => Object.keys(p).length > 0, "an empty pose"),
  }),
  apply: (character, { op, pose }) => {
    needJoints(character, Object.keys(pose), op);
    // turns away from the old rest say nothing in the new one
    return withoutRetargetPose(rebind(character, pose));
  },
  sentence: ({ pose }) => {
    const joints = Object.keys(pose);
    return (
      `bound in a pose of ${joints.length} joints: ` +
      `${joints.slice(0, 3).join(", ")}${joints.length > 3 ? " and others" : ""}`
    );
  },
  list: ({ pose }) => Object.entries(pose).map(([j, a]) => `${j} ${a.map((x) => x.toFixed(1)).join(", ")}°`),
  renamed: (step, { joint }) => ({ ...step, pose: keysRenamed(step.pose, joint) }),
});

import { z } from "zod";
import { applyRepair, describeRepair, repairSchema, type Repair } from "../../edits/repairs/repairs";
import { madeBlobs, madeSchema, takeMade, withoutMade } from "./madeTextures";
import { operation, type StepNames } from "./operation";

export const repair = operation({
  op: "repair",
  schema: z.object({ op: z.literal("repair"), repair: repairSchema, made: madeSchema.optional() }),
  apply: (character, step, tools) =>
    step.made ? takeMade(character, step.made, tools) : applyRepair(character, step.repair, tools.tell),
  sentence: (step) => describeRepair(step.repair),
  renamed: (step, names) => ({ ...withoutMade(step), repair: repairRenamed(step.repair, names) }),
  blobs: madeBlobs,
});

function repairRenamed(repair: Repair, { joint, part, shape }: StepNames): Repair {
  if ("part" in repair) return { ...repair, part: part(repair.part) };
  if (repair.what === "refit") return { ...repair, shapes: repair.shapes.map(shape) };
  if (repair.what === "hang joint")
    return { ...repair, joint: joint(repair.joint), under: repair.under && joint(repair.under) };
  return repair.what === "place joint" ? { ...repair, joint: joint(repair.joint) } : repair;
}

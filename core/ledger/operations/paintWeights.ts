import { z } from "zod";
import { applyPaint } from "../../weights/keptPaint";
import { few, hash, name, operation } from "./operation";

export const paintWeights = operation({
  op: "paint weights",
  schema: z.object({ op: z.literal("paint weights"), part: name, joints: z.array(z.string()).max(500), blob: hash }),
  apply: (character, step, { blob }) => applyPaint(character, step.part, blob(step.blob)),
  sentence: ({ part, joints }) => `painted weights of ${part}${joints.length ? `, ${few(joints, "joints")}` : ""}`,
  renamed: (step, { part, joint }) => ({ ...step, part: part(step.part), joints: step.joints.map(joint) }),
  blobs: (step) => [step.blob],
});

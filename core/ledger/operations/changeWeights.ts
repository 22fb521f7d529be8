import { z } from "zod";
import { changeWeights as change, weightChangeSchema } from "../../weights/changeWeights";
import { name, operation } from "./operation";

export const changeWeights = operation({
  op: "change weights",
  schema: z.object({ op: z.literal("change weights"), part: name, change: weightChangeSchema }),
  apply: (character, step) => change(character, step.part, step.change),
  sentence: ({ part, change: { tool, rounds, from, reachMm, source, way, most, locked } }) => {
    const along = way === "surface" ? "along the surface" : "through the volume";
    const what = {
      smooth: `smoothed the weights of ${part}, ${rounds} rounds`,
      mirror: `mirrored the weights of ${part} from the ${from}`,
      "take from skin": `took the weights of ${part} from ${source || "the skin"} within ${reachMm} mm`,
      "bind afresh": `bound ${part} afresh ${along}, ${rounds} rounds evened out`,
      limit: `limited ${part} to ${most} joints a vertex`,
    }[tool];
    return locked.length ? `${what}, ${locked.join(" and ")} locked` : what;
  },
  renamed: (step, { part, joint }) => ({
    ...step,
    part: part(step.part),
    change: {
      ...step.change,
      locked: step.change.locked.map(joint),
      source: step.change.source && part(step.change.source),
    },
  }),
});

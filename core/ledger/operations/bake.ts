import { z } from "zod";
import { bakeMix } from "../../shapes/bakeMix";
import { few, keysRenamed, operation } from "./operation";

const active = (weights: Readonly<Record<string, number>>): string[] =>
  Object.keys(weights).filter((n) => weights[n] !== 0);

export const bake = operation({
  op: "bake",
  schema: z.object({
    op: z.literal("bake"),
    weights: z.record(z.string(), z.number()).refine((w) => active(w).length > 0, "an empty mix"),
    keep: z.boolean(),
  }),
  apply: (character, { weights, keep }) => bakeMix(character, weights, keep),
  sentence: ({ weights, keep }) =>
    `baked ${few(active(weights), "shapes")} into the base${keep ? ", shapes kept" : ""}`,
  list: ({ weights }) => active(weights).map((n) => `${n} ${weights[n]}`),
  renamed: (step, { shape }) => ({ ...step, weights: keysRenamed(step.weights, shape) }),
});

import { z } from "zod";
import { changeWeights, weightChangeSchema } from "../../core/weights/changeWeights";
import { weightsEffect as effect, type WeightsEffect } from "../../core/weights/weightsEffect";
import { job } from "../job";

/** How far a change of weights would move a part at the ends of all ranges. */
export const weightsEffect = job({
  input: z.object({ part: z.string(), change: weightChangeSchema }),
  run: ({ character }, { part, change }, tick): Promise<WeightsEffect> =>
    effect(
      character,
      changeWeights(character, part, change),
      character.parts.findIndex((p) => p.name === part),
      tick,
    ),
});

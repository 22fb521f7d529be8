import { z } from "zod";
import { answerPairs as answer } from "../../core/checks/pairs/answerPairs";
import type { DerivedItem } from "../../core/shapes/deriveShapes";
import { profile, shapePair } from "../inputs";
import { job } from "../job";

/** Combinations that answer pairs which do not go together. */
export const answerPairs = job({
  input: z.object({ pairs: z.array(shapePair), profile }),
  run: ({ character }, { pairs, profile }, tick): Promise<DerivedItem[]> => answer(character, pairs, profile, tick),
});

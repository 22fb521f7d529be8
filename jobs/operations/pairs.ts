import { z } from "zod";
import { readPairs, type PairRow } from "../../core/checks/pairs/readPairs";
import { profile, shapePair } from "../inputs";
import { job } from "../job";

/** What pairs of shapes at full do beyond limits and beyond either alone, a list of rows for each pair. */
export const pairs = job({
  input: z.object({ pairs: z.array(shapePair), profile }),
  run: ({ face }, { pairs: wanted, profile }, tick): Promise<PairRow[][]> => readPairs(face(), wanted, profile, tick),
});

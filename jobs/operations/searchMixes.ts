import { z } from "zod";
import { searchMixes as search, type MixSearch } from "../../core/checks/pairs/searchMixes";
import { profile } from "../inputs";
import { job } from "../job";

/** A seeded search for bad mixes inside 0..1. */
export const searchMixes = job({
  input: z.object({ seed: z.number().int(), count: z.number().int().min(1).max(100_000), profile }),
  run: ({ character }, { seed, count, profile }, tick): Promise<MixSearch> =>
    search(character, profile, seed, count, tick),
});

import { z } from "zod";
import { askedAgain, type AskedAgain } from "../../core/correctives/askedAgain";
import { driverSchema } from "../../core/formats/extras";
import { poseDriverSchema, sampleSetSchema } from "../../core/formats/poseDrivers";
import type { Character } from "../../core/model/character";
import { method } from "../inputs";
import { job } from "../job";

/** What correctives on top of others become when what drives those changes: the drivers as they are from now on. */
export const askAgain = job({
  input: z.object({
    changed: z.array(z.string()),
    drivers: z.array(driverSchema).optional(),
    poseDrivers: z.array(poseDriverSchema).optional(),
    sampleSets: z.array(sampleSetSchema).optional(),
    method,
  }),
  run: ({ character }, { changed, method: skin, ...drivers }): AskedAgain => {
    const now = Object.fromEntries(Object.entries(drivers).filter(([, list]) => list !== undefined));
    return askedAgain(character, { ...character, ...(now as Partial<Character>) }, skin, changed);
  },
});

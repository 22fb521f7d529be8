import { z } from "zod";
import { carryCorrectives as carry, type CarriedCorrectives } from "../../core/transfer/carryCorrectives";
import { characterRef } from "../inputs";
import { job } from "../job";

/** Correctives of another character with what drives them, made for this one. */
export const carryCorrectives = job({
  input: z.object({ from: characterRef, shapes: z.array(z.string()) }),
  run: async ({ character, other }, { from, shapes }, tick): Promise<CarriedCorrectives> =>
    carry(await other(from), character, new Set(shapes), tick),
});

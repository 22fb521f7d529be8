import { z } from "zod";
import { transferShapes, type TransferResult } from "../../core/transfer/transferShapes";
import { characterRef } from "../inputs";
import { job } from "../job";

/** Shapes of another character carried over to this one. */
export const transfer = job({
  input: z.object({ from: characterRef, shapes: z.array(z.string()) }),
  run: async ({ character, other }, { from, shapes }, tick): Promise<TransferResult> =>
    transferShapes({ ...(await other(from)), clips: [] }, character, shapes, tick),
});

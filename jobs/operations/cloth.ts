import { z } from "zod";
import { clothOverMotions, type ClothRow } from "../../core/measure/clothThrough";
import { method } from "../inputs";
import { job } from "../job";

/** Skin through every garment over every motion, worst first. */
export const cloth = job({
  input: z.object({ steps: z.number().int().min(2).max(73), method }),
  run: ({ rig, motions }, { steps, method: skin }, tick): Promise<ClothRow[]> =>
    clothOverMotions(rig, motions, steps, skin, tick),
});

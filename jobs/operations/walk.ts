import { z } from "zod";
import { walkThrough, type WalkRow } from "../../core/measure/walkThrough";
import { method } from "../inputs";
import { job } from "../job";

/** Every part over every motion, where it tears, worst first. */
export const walk = job({
  input: z.object({ method }),
  run: ({ rig, motions }, { method: skin }, tick): Promise<WalkRow[]> => walkThrough(rig, motions, skin, tick),
});

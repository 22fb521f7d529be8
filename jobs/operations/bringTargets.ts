import { z } from "zod";
import { bringTargets as bring, type BroughtTarget } from "../../core/wrap/targets/bringTargets";
import { file } from "../inputs";
import { job } from "../job";

/** Target meshes as shapes, each taken or refused. */
export const bringTargets = job({
  input: z.object({
    files: z.array(file),
    smoothRounds: z.number().int().min(0),
    smoothStrength: z.number(),
    layOnScans: z.boolean(),
  }),
  run: ({ character }, { files, ...options }, tick): Promise<BroughtTarget[]> => bring(character, files, options, tick),
});

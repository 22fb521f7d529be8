import { z } from "zod";
import { layOnScan as lay, type LaidOnScan } from "../../core/wrap/layOnScan";
import type { SkinTie } from "../../core/transfer/layOn";
import { floats, place, plainMesh } from "../inputs";
import { job } from "../job";

const tie: z.ZodType<SkinTie> = z.object({ corners: place, shares: place, to: place });

/** The skin laid on a scan that stands in the character's place. */
export const layOnScan = job({
  input: z.object({
    mesh: plainMesh,
    ties: z.array(tie),
    leftOut: floats.nullable(),
    symmetric: z.boolean(),
    closeness: z.number().min(0).max(1),
  }),
  run: ({ character }, { mesh, ...options }, tick): Promise<LaidOnScan> => lay(character, mesh, options, tick),
});

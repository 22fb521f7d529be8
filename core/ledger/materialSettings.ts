import { z } from "zod";
import { name } from "./operations/operation";

const share = z.number().min(0).max(1);
const rgb = z.tuple([share, share, share]);

/** What materials are set to beside their maps; what is left out stays. */
export const materialSettings = z.object({
  material: name,
  baseColor: rgb.optional(),
  roughness: share.optional(),
  metallic: share.optional(),
  emissive: rgb.optional(),
  opacity: z.enum(["opaque", "mask", "blend"]).optional(),
  alphaCutoff: share.optional(),
  doubleSided: z.boolean().optional(),
});

import { z } from "zod";
import { TEXTURE_SLOTS } from "../../edits/textures/makeMaps";
import { dropMap } from "../../edits/textures/setMaterials";
import { name, operation } from "./operation";

export const dropMapStep = operation({
  op: "drop map",
  schema: z.object({ op: z.literal("drop map"), material: name, slot: z.enum(TEXTURE_SLOTS) }),
  apply: (character, { material, slot }) => dropMap(character, material, slot),
  sentence: ({ material, slot }) => `left out the ${slot} map of ${material}`,
});

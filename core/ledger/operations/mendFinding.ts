import { z } from "zod";
import { mend } from "../../checks/mend";
import { checkWords, findingPlace, placeRenamed, placeWords } from "./findingPlace";
import { madeBlobs, madeSchema, takeMade, withoutMade } from "./madeTextures";
import { operation } from "./operation";

export const mendFinding = operation({
  op: "mend",
  schema: z.object({
    op: z.literal("mend"),
    check: z.string(),
    ...findingPlace,
    limit: z.number().nullable(),
    made: madeSchema.optional(),
  }),
  apply: (character, step, tools) =>
    step.made ? takeMade(character, step.made, tools) : mend(character, step, tools.tell),
  sentence: (step) => `mended ${checkWords(step.check)}${placeWords(step)}`,
  renamed: (step, names) => placeRenamed(withoutMade(step), names),
  blobs: madeBlobs,
});

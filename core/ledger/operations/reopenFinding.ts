import { z } from "zod";
import { checkWords, findingPlace, placeRenamed, placeWords } from "./findingPlace";
import { operation } from "./operation";

export const reopenFinding = operation({
  op: "reopen finding",
  schema: z.object({ op: z.literal("reopen finding"), check: z.string(), ...findingPlace }),
  apply: (character) => character,
  sentence: (step) => `took back the acceptance of ${checkWords(step.check)}${placeWords(step)}`,
  renamed: placeRenamed,
});

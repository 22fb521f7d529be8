import { z } from "zod";
import { checkWords, findingPlace, placeRenamed, placeWords } from "./findingPlace";
import { operation } from "./operation";

export const acceptFinding = operation({
  op: "accept finding",
  schema: z.object({
    op: z.literal("accept finding"),
    check: z.string(),
    ...findingPlace,
    reason: z.string().min(1).max(500),
  }),
  apply: (character) => character,
  sentence: (step) => `accepted ${checkWords(step.check)}${placeWords(step)}: ${step.reason}`,
  renamed: placeRenamed,
});

import { z } from "zod";
import { vrmTermsSchema, withTerms } from "../../formats/vrm/vrmTerms";
import { few, operation } from "./operation";

export const vrmTerms = operation({
  op: "vrm terms",
  schema: z.object({ op: z.literal("vrm terms"), terms: vrmTermsSchema }),
  apply: (character, { terms }) => withTerms(character, terms),
  sentence: ({ terms }) => `set the terms of the VRM, by ${few(terms.authors, "authors")}`,
});

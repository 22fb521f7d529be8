import { z } from "zod";
import { withoutShape } from "../../model/withoutShape";
import { UserError } from "../../model/userError";
import { name, operation } from "./operation";

export const removeSamples = operation({
  op: "remove samples",
  schema: z.object({ op: z.literal("remove samples"), name }),
  apply: (character, { op, name }) => {
    const set = character.sampleSets?.find((s) => s.name === name);
    if (!set) throw new UserError(`There are no sampled poses named ${name}.`, op, "");
    const without = set.samples.flatMap((s) => s.shape ?? []).reduce(withoutShape, character);
    return { ...without, sampleSets: (without.sampleSets ?? []).filter((s) => s.name !== name) };
  },
  sentence: ({ name }) => `removed the sampled poses ${name} with their shapes`,
});

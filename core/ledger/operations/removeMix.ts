import { z } from "zod";
import { UserError } from "../../model/userError";
import { name, operation } from "./operation";

export const removeMix = operation({
  op: "remove mix",
  schema: z.object({ op: z.literal("remove mix"), name }),
  apply: (character, step) => {
    if (!character.mixes?.some((m) => m.name === step.name))
      throw new UserError(`There is no mix named ${step.name}.`, step.op, "");
    return { ...character, mixes: character.mixes.filter((m) => m.name !== step.name) };
  },
  sentence: (step) => `removed the mix of ${step.name}`,
});

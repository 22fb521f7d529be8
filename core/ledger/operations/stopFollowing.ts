import { z } from "zod";
import { UserError } from "../../model/userError";
import { name, operation } from "./operation";

export const stopFollowing = operation({
  op: "stop following",
  schema: z.object({ op: z.literal("stop following"), part: name }),
  apply: (character, { op, part }) => {
    if (!character.follows?.some((f) => f.part === part))
      throw new UserError(`${part} follows nothing for good.`, op, "");
    return { ...character, follows: character.follows.filter((f) => f.part !== part) };
  },
  sentence: ({ part }) => `let ${part} follow no more`,
  renamed: (step, { part }) => ({ ...step, part: part(step.part) }),
});

import { z } from "zod";
import { PART_KINDS } from "../../model/character";
import { UserError } from "../../model/userError";
import { name, operation } from "./operation";

export const partKind = operation({
  op: "part kind",
  schema: z.object({ op: z.literal("part kind"), part: name, kind: z.enum(PART_KINDS) }),
  apply: (character, { op, part, kind }) => {
    if (!character.parts.some((p) => p.name === part)) throw new UserError(`There is no part named ${part}.`, op, "");
    return { ...character, parts: character.parts.map((p) => (p.name === part ? { ...p, kind } : p)) };
  },
  sentence: ({ part, kind }) => `took ${part} for ${kind}`,
  renamed: (step, { part }) => ({ ...step, part: part(step.part) }),
});

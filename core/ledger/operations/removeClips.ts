import { z } from "zod";
import { few, many, name, operation } from "./operation";
import { UserError } from "../../model/userError";

export const removeClips = operation({
  op: "remove clips",
  schema: z.object({ op: z.literal("remove clips"), names: z.array(name).min(1).max(2000) }),
  apply: (character, { op, names }) => {
    const unknown = names.find((n) => !character.clips.some((c) => c.name === n));
    if (unknown !== undefined) throw new UserError(`There is no clip named ${unknown}.`, op, "");
    return { ...character, clips: character.clips.filter((c) => !names.includes(c.name)) };
  },
  sentence: ({ names }) => `removed ${few(names, "clips")}`,
  list: ({ names }) => many(names),
  renamed: (step, { clip }) => ({ ...step, names: step.names.map(clip) }),
});

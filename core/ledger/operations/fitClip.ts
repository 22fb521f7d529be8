import { z } from "zod";
import { fitClip } from "../../clips/fitClip";
import { fittingSchema } from "../../model/fitting";
import { UserError } from "../../model/userError";
import { name, operation } from "./operation";

export const fitClipStep = operation({
  op: "fit clip",
  schema: z.object({
    op: z.literal("fit clip"),
    clip: name,
    /** Null: as it came. */
    fitting: fittingSchema.nullable(),
  }),
  apply: (character, { op, clip: called, fitting }) => {
    const clip = character.clips.find((c) => c.name === called);
    if (!clip) throw new UserError(`There is no clip named ${called}.`, op, "");
    const fitted = fitClip(character, clip, fitting);
    return { ...character, clips: character.clips.map((c) => (c === clip ? fitted : c)) };
  },
  sentence: ({ clip, fitting }) => (fitting ? `fitted ${clip}` : `took ${clip} as it came`),
  renamed: (step, { clip }) => ({ ...step, clip: clip(step.clip) }),
});

import { z } from "zod";
import { givingWayBlobs, givingWayRenamed, givingWaySchema, giveWay } from "../givingWay";
import { few, hash, name, namesOf, operation } from "./operation";

export const editCorrective = operation({
  op: "edit corrective",
  schema: z.object({
    op: z.literal("edit corrective"),
    name,
    blob: hash,
    /** Correctives sculpted on top of it, which give way so that their own sculpts are still met. */
    edits: givingWaySchema,
  }),
  apply: (character, { op, name: own, blob: hash, edits = [] }, { blob }) =>
    giveWay(character, [{ name: own, blob: hash }, ...edits], { blob }, op),
  sentence: ({ name: own, edits = [] }) =>
    edits.length
      ? `sculpted corrective ${own} again, and let ${few(namesOf(edits), "correctives")} on top give way`
      : `sculpted corrective ${own} again`,
  renamed: (step, { shape }) => ({ ...step, name: shape(step.name), ...givingWayRenamed(step.edits, { shape }) }),
  blobs: ({ blob, edits }) => [blob, ...givingWayBlobs(edits)],
  movesVertices: true,
});

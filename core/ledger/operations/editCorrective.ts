import { z } from "zod";
import type { Character } from "../../model/character";
import { decodeDeltas } from "../deltasBlob";
import { few, hash, name, namesOf, needShape, operation } from "./operation";

export const editCorrective = operation({
  op: "edit corrective",
  schema: z.object({
    op: z.literal("edit corrective"),
    name,
    blob: hash,
    /** Correctives sculpted on top of it, which give way so that their own sculpts are still met. */
    edits: z
      .array(z.object({ name, blob: hash }))
      .max(500)
      .optional(),
  }),
  apply: (character, step, { blob }) => {
    const now = new Map(
      [step, ...(step.edits ?? [])].map((e) => [
        needShape(character, e.name, step.op),
        decodeDeltas(character, blob(e.blob)),
      ]),
    );
    return {
      ...character,
      shapes: character.shapes.map((s) => (now.has(s) ? { ...s, deltas: now.get(s)! } : s)),
    } satisfies Character;
  },
  sentence: ({ name: own, edits = [] }) =>
    edits.length
      ? `sculpted corrective ${own} again, and let ${few(namesOf(edits), "correctives")} on top give way`
      : `sculpted corrective ${own} again`,
  renamed: (step, { shape }) => ({
    ...step,
    name: shape(step.name),
    ...(step.edits ? { edits: step.edits.map((e) => ({ ...e, name: shape(e.name) })) } : {}),
  }),
  blobs: ({ blob, edits = [] }) => [blob, ...edits.map((e) => e.blob)],
  movesVertices: true,
});

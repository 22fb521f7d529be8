import { z } from "zod";
import { decodeDeltas } from "../deltasBlob";
import { hash, name, needShape, operation } from "./operation";

export const editCorrective = operation({
  op: "edit corrective",
  schema: z.object({ op: z.literal("edit corrective"), name, blob: hash }),
  apply: (character, step, { blob }) => {
    const old = needShape(character, step.name, step.op);
    const now = { ...old, deltas: decodeDeltas(character, blob(step.blob)) };
    return { ...character, shapes: character.shapes.map((s) => (s === old ? now : s)) };
  },
  sentence: (step) => `sculpted corrective ${step.name} again`,
  renamed: (step, { shape }) => ({ ...step, name: shape(step.name) }),
  blobs: (step) => [step.blob],
  movesVertices: true,
});

import { z } from "zod";
import { decodeDeltas } from "../deltasBlob";
import { few, hash, many, name, namesOf, needShape, operation } from "./operation";

export const editShapes = operation({
  op: "edit shapes",
  schema: z.object({
    op: z.literal("edit shapes"),
    items: z
      .array(z.object({ name, blob: hash }))
      .min(1)
      .max(2000),
  }),
  apply: (character, { op, items }, { blob }) => {
    const edited = new Map(items.map((i) => [needShape(character, i.name, op), decodeDeltas(character, blob(i.blob))]));
    return {
      ...character,
      shapes: character.shapes.map((s) => (edited.has(s) ? { ...s, deltas: edited.get(s)! } : s)),
    };
  },
  sentence: ({ items }) => `sculpted ${few(namesOf(items), "shapes")} again`,
  list: ({ items }) => many(namesOf(items)),
  renamed: (step, { shape }) => ({ ...step, items: step.items.map((i) => ({ ...i, name: shape(i.name) })) }),
  blobs: ({ items }) => items.map((i) => i.blob),
  movesVertices: true,
});

import { z } from "zod";
import { newDriverSchema, withNewShape } from "../../shapes/deriveShapes";
import { decodeDeltas } from "../deltasBlob";
import { few, hash, many, name, namesOf, operation } from "./operation";

/** One shape as a step carries it, with what sets its weight if not the hand. */
const shapeItemSchema = z.object({ name, label: name, blob: hash, driver: newDriverSchema.optional() });
export type ShapeItem = z.infer<typeof shapeItemSchema>;

export const addShapes = operation({
  op: "add shapes",
  schema: z.object({
    op: z.literal("add shapes"),
    source: z.string().min(1).max(200),
    items: z.array(shapeItemSchema).min(1).max(2000),
  }),
  apply: (character, { items }, { blob }) =>
    items.reduce(
      (c, { name, label, blob: hash, driver }) =>
        withNewShape(c, { name, label, deltas: decodeDeltas(character, blob(hash)) }, driver),
      character,
    ),
  sentence: ({ items, source }) => `took in ${few(namesOf(items), "shapes")} from ${source}`,
  list: ({ items }) => many(namesOf(items)),
  renamed: (step, { shape }) => ({
    ...step,
    items: step.items.map((i) => (i.driver ? { ...i, driver: { ...i.driver, of: i.driver.of.map(shape) } } : i)),
  }),
  blobs: ({ items }) => items.map((i) => i.blob),
  movesVertices: true,
});

import { z } from "zod";
import { addPart } from "../../intake/addThings";
import { few, hash, many, name, namesOf, operation } from "./operation";

export const addParts = operation({
  op: "add parts",
  schema: z.object({
    op: z.literal("add parts"),
    source: z.string().min(1).max(200),
    items: z
      .array(z.object({ name, blob: hash }))
      .min(1)
      .max(500),
  }),
  apply: (character, { items }, { blob }) => items.reduce((c, i) => addPart(c, blob(i.blob)), character),
  sentence: ({ items, source }) => `added ${few(namesOf(items), "parts")} from ${source}`,
  list: ({ items }) => many(namesOf(items)),
  blobs: ({ items }) => items.map((i) => i.blob),
});

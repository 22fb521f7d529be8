import { z } from "zod";
import { addClip } from "../../intake/addThings";
import { few, hash, many, name, namesOf, operation } from "./operation";

export const addClips = operation({
  op: "add clips",
  schema: z.object({
    op: z.literal("add clips"),
    source: z.string().min(1).max(200),
    items: z
      .array(z.object({ name, blob: hash }))
      .min(1)
      .max(500),
  }),
  apply: (character, { items }, { blob }) => items.reduce((c, i) => addClip(c, blob(i.blob)), character),
  sentence: ({ items, source }) => `added ${few(namesOf(items), "clips")} from ${source}`,
  list: ({ items }) => many(namesOf(items)),
  blobs: ({ items }) => items.map((i) => i.blob),
});

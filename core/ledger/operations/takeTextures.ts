import { z } from "zod";
import { TEXTURE_SLOTS } from "../../edits/textures/makeMaps";
import { setMaterials, takeMaps } from "../../edits/textures/setMaterials";
import { materialSettings } from "../materialSettings";
import { few, hash, many, name, operation } from "./operation";

export const takeTextures = operation({
  op: "take textures",
  schema: z.object({
    op: z.literal("take textures"),
    items: z
      .array(
        z.object({
          material: name,
          slot: z.enum(TEXTURE_SLOTS),
          name: z.string().max(200),
          mimeType: z.enum(["image/png", "image/jpeg"]),
          blob: hash,
        }),
      )
      .min(1)
      .max(5000),
    settings: z.array(materialSettings).max(5000),
  }),
  apply: (character, { items, settings }, { blob }) => {
    // one image for two maps stays one image
    const read = new Map<string, Uint8Array>();
    const bytesOf = (of: string): Uint8Array => {
      const bytes = read.get(of) ?? blob(of);
      read.set(of, bytes);
      return bytes;
    };
    const maps = items.map(({ blob: of, ...item }) => ({ ...item, bytes: bytesOf(of) }));
    return setMaterials(takeMaps(character, maps), settings);
  },
  sentence: ({ items }) => `took ${few(items.map(mapOf), "textures")}`,
  list: ({ items }) => many(items.map(mapOf)),
  blobs: ({ items }) => items.map((i) => i.blob),
});

const mapOf = (i: { readonly slot: string; readonly material: string }): string => `${i.slot} of ${i.material}`;

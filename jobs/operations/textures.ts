import { z } from "zod";
import { makeMaps as mapsOf, type MadeMaps } from "../../core/edits/textures/makeMaps";
import { matchTextures as match, type TextureMatches } from "../../core/edits/textures/matchTextures";
import { TEXTURE_USES } from "../../core/names/textureWords";
import { bytes, file } from "../inputs";
import { job } from "../job";

/** What separate image files are taken for: use and material of each, by the words of their names. */
export const matchTextures = job({
  input: z.object({ files: z.array(file).max(500) }),
  run: ({ character }, { files }): TextureMatches => match(character, files),
});

/** The maps of glTF materials made of the images as they were chosen. */
export const makeMaps = job({
  input: z.object({
    chosen: z
      .array(z.object({ file: z.string(), bytes, use: z.enum(TEXTURE_USES), material: z.string() }))
      .min(1)
      .max(500),
  }),
  run: ({ character }, { chosen }, tick): MadeMaps => mapsOf(character, chosen, (share) => void tick(share, 1)),
});

import { z } from "zod";
import { bringAdditions, type Brought } from "../../core/intake/bringAdditions";
import { FILE_ROLES } from "../../core/formats/fileRoles";
import { file } from "../inputs";
import { job } from "../job";

/**
 * What files that came later bring to the character: parts and clips, each with a note; files that cannot be used are
 * refused one by one.
 */
export const additions = job({
  input: z.object({
    files: z.array(file.extend({ role: z.enum(FILE_ROLES).optional() })),
    /** By file, corrections of the joint map of a clip's skeleton. */
    maps: z.record(z.string(), z.record(z.string(), z.string().nullable())).optional(),
  }),
  run: ({ character }, { files, maps }): Promise<Brought> =>
    bringAdditions(
      character,
      files.map(({ role, ...f }) => ({ ...f, ...(role ? { role } : {}) })),
      maps,
    ),
});

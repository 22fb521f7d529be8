import { z } from "zod";
import { mend } from "../../checks/mend";
import { within } from "../../model/shareDone";
import { isUserError } from "../../model/userError";
import { checkWords, findingPlace, placeRenamed, placeWords } from "./findingPlace";
import { operation } from "./operation";

export const mendAll = operation({
  op: "mend all",
  schema: z.object({
    op: z.literal("mend all"),
    check: z.string(),
    places: z
      .array(z.object({ ...findingPlace, limit: z.number().nullable() }))
      .min(1)
      .max(5000),
  }),
  /** Places that another of them has mended already are passed over. @throws UserError when none could be mended. */
  apply: (character, { check, places }, { tell }) => {
    let [now, refused, made] = [character, null as unknown, 0];
    for (const [i, place] of places.entries()) {
      try {
        now = mend(now, { check, ...place }, within(tell, i / places.length, (i + 1) / places.length));
        made++;
      } catch (error) {
        if (!isUserError(error)) throw error;
        refused ??= error;
      }
      tell((i + 1) / places.length);
    }
    if (made === 0) throw refused;
    return now;
  },
  sentence: ({ check, places }) => `mended ${places.length} of ${checkWords(check)}`,
  list: ({ places }) => places.map((p) => placeWords(p).trim()),
  renamed: (step, names) => ({ ...step, places: step.places.map((p) => placeRenamed(p, names)) }),
});

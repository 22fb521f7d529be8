import { z } from "zod";
import { askedAgain, type AskedAgain } from "../../core/correctives/askedAgain";
import { withoutShape } from "../../core/model/withoutShape";
import { spreadTwist } from "../../core/weights/spreadTwist";
import { method } from "../inputs";
import { job } from "../job";

/** What the other correctives become when the twist of limbs is spread over joints along them. */
export const spreadTwists = job({
  input: z.object({
    limbs: z.array(z.object({ joint: z.string(), end: z.string(), steps: z.number().int().min(2).max(8) })),
    without: z.array(z.string()),
    method,
  }),
  run: ({ character }, { limbs, without, method: skin }): AskedAgain => {
    const left = without.reduce(withoutShape, character);
    return askedAgain(left, limbs.reduce(spreadTwist, left), skin);
  },
});

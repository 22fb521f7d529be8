import { z } from "zod";
import { borrowClips as borrow } from "../../core/clips/borrowClips";
import type { Clip } from "../../core/model/character";
import { characterRef } from "../inputs";
import { job } from "../job";

/** Clips of another character, by name, on the joints of this one. */
export const borrowClips = job({
  input: z.object({ from: characterRef, names: z.array(z.string()).max(1000) }),
  run: async ({ character, other }, { from, names }, tick): Promise<Clip[]> => {
    const giver = await other(from);
    const out: Clip[] = [];
    for (const [i, name] of names.entries()) {
      await tick(i, names.length);
      out.push(...borrow(character, giver, [name]));
    }
    return out;
  },
});

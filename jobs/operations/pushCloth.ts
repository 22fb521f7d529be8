import { z } from "zod";
import { pushCloth as push, type PushedCloth } from "../../core/correctives/pushCloth";
import { method } from "../inputs";
import { job } from "../job";

const places = z.array(z.object({ garment: z.string(), motion: z.string(), degrees: z.number(), name: z.string() }));

/** Garments pushed off the skin at angles of motions; places where nothing can be done are left out. */
export const pushCloth = job({
  input: z.object({ places, method }),
  async run({ character, rig, motion }, { places: wanted, method: skin }, tick): Promise<PushedCloth[]> {
    const made: PushedCloth[] = [];
    for (const [i, { garment, motion: id, degrees, name }] of wanted.entries()) {
      await tick(i, wanted.length);
      const part = character.parts.findIndex((p) => p.name === garment);
      const pushed = push(rig, part, motion(id), degrees, skin, name);
      if (pushed) made.push(pushed);
    }
    return made;
  },
});

import { z } from "zod";
import { pushCloth as push, type PushedCloth } from "../../core/correctives/pushCloth";
import { pushClothOver } from "../../core/correctives/pushClothOver";
import { method } from "../inputs";
import { job } from "../job";

const places = z.array(z.object({ garment: z.string(), motion: z.string(), degrees: z.number(), name: z.string() }));

/**
 * Garments pushed off the skin: at angles of motions, or with a limit along the whole of each motion; places where
 * nothing can be done have no correctives.
 */
export const pushCloth = job({
  input: z.object({ places, method, limitMm: z.number().nullable() }),
  async run({ character, rig, motion }, { places: wanted, method: skin, limitMm }, tick): Promise<PushedCloth[][]> {
    const made: PushedCloth[][] = [];
    for (const [i, { garment, motion: id, degrees, name }] of wanted.entries()) {
      await tick(i, wanted.length);
      const part = character.parts.findIndex((p) => p.name === garment);
      const place = { garment: part, motion: motion(id), degrees, method: skin, name };
      if (limitMm === null) {
        const pushed = push(rig, place);
        made.push(pushed ? [pushed] : []);
        continue;
      }
      const share = (done: number, total: number): Promise<void> | void => tick(i + done / total, wanted.length);
      made.push(await pushClothOver(rig, place, limitMm, share));
    }
    return made;
  },
});

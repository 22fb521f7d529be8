import { z } from "zod";
import { askedAgain, type AskedAgain } from "../../core/correctives/askedAgain";
import { driverSchema } from "../../core/formats/extras";
import type { Driver } from "../../core/model/character";
import { method } from "../inputs";
import { job } from "../job";

/** What correctives on top of one become when what drives that one changes. */
export const askAgain = job({
  input: z.object({ name: z.string(), driver: driverSchema.partial().omit({ shape: true }), method }),
  run: ({ character }, { name, driver, method: skin }): AskedAgain => {
    const changed = (d: Driver): Driver => (d.shape === name ? ({ ...d, ...driver } as Driver) : d);
    return askedAgain(character, { ...character, drivers: character.drivers.map(changed) }, skin, name);
  },
});

import { z } from "zod";
import { findDriver, type FoundDriver } from "../../core/correctives/findDriver";
import { shapeNamed } from "../../core/model/character";
import { UserError } from "../../core/model/userError";
import { inSteps } from "../inSteps";
import { job } from "../job";

/** What drives shapes that nothing sets, by measuring; one answer a shape, null where it does no good anywhere. */
export const findDrivers = job({
  input: z.object({ shapes: z.array(z.string()) }),
  async run({ character, gauge, motions }, { shapes }, tick): Promise<(FoundDriver | null)[]> {
    const out: (FoundDriver | null)[] = [];
    for (const [i, name] of shapes.entries()) {
      const shape = shapeNamed(character, name);
      if (!shape) throw new UserError(`There is no shape named ${name}.`, "", "");
      out.push(await inSteps(findDriver(character, gauge, motions, shape), (share) => tick(i + share, shapes.length)));
    }
    return out;
  },
});

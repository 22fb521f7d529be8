import { z } from "zod";
import { compareTwists as compare, type TwistRow } from "../../core/correctives/compareTwists";
import { humanoidMap } from "../../core/skeleton/humanoidMap";
import { method, profile } from "../inputs";
import { job } from "../job";
import { aimWithin, poseLimits } from "../poseLimits";

/** Every limb that can be twisted, the thinnest first, with what joints or correctives would keep of it. */
export const compareTwists = job({
  input: z.object({ profile, method }),
  run: async (
    { character: { skeleton, jointMap }, rig, gauge, motions },
    { profile: limits, method: skin },
    tick,
  ): Promise<TwistRow[]> =>
    skeleton
      ? compare(rig, humanoidMap(skeleton, jointMap), motions, gauge, aimWithin(poseLimits(limits)), skin, tick)
      : [],
});

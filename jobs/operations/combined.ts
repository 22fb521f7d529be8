import { z } from "zod";
import { excess } from "../../core/correctives/proposeForRange";
import { REST_MOMENT } from "../../core/evaluate/moment";
import { combinedPoses, readCombined, type CombinedRow } from "../../core/measure/combinedPoses";
import { method, profile } from "../inputs";
import { job } from "../job";
import { poseLimits } from "../poseLimits";

/** Poses of two neighbouring motions at once, the same for the same seed. */
export const combined = job({
  input: z.object({ seed: z.number().int(), method, profile }),
  run({ rig, motions }, { seed, method: skin, profile }, tick): Promise<CombinedRow[]> {
    const limits = poseLimits(profile);
    return readCombined(
      rig,
      combinedPoses(motions, seed),
      { ...REST_MOMENT, method: skin },
      (a, b) => excess(a, limits) > excess(b, limits),
      tick,
    );
  },
});

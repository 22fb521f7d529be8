import { z } from "zod";
import type { Finding } from "../../core/checks/finding";
import { runChecks } from "../../core/checks/runChecks";
import { profile } from "../inputs";
import { job } from "../job";

/** The checks of a delivery at rest, worst finding first; all of them unless some are named. */
export const check = job({
  input: z.object({ profile, only: z.array(z.string()).optional() }),
  run: async ({ character, rig }, { profile, only }, tick): Promise<Finding[]> =>
    (await runChecks(character, profile, { rig, tick, ...(only ? { only } : {}) })).findings,
});

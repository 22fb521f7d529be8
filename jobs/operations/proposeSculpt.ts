import { z } from "zod";
import { excess } from "../../core/correctives/proposeForRange";
import { proposeInSteps, type Proposal } from "../../core/correctives/proposeSculpt";
import { measureJoint } from "../../core/measure/measureJoint";
import { inSteps } from "../inSteps";
import { moment, profile } from "../inputs";
import { job } from "../job";
import { poseLimits } from "../poseLimits";

/** A first sculpt for a joint in a pose; null where the pose is within the limits, which stays as it was made. */
export const proposeSculpt = job({
  input: z.object({ joint: z.string(), moment, profile }),
  async run({ gauge }, { joint, moment: at, profile }, tick): Promise<Proposal | null> {
    const own = gauge(joint);
    if (!own || excess(measureJoint(own, at).reading, poseLimits(profile)) === 0) return null;
    return inSteps(proposeInSteps(own, { ...at, drivers: false }), tick);
  },
});

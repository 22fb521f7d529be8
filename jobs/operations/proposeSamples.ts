import { z } from "zod";
import { proposeSamples as propose, type SamplesProposal } from "../../core/correctives/proposeSamples";
import { swingMapAt } from "../../core/correctives/swingMap";
import { sampleSetSchema } from "../../core/formats/poseDrivers";
import { jointIndexOf } from "../../core/model/jointIndex";
import { UserError } from "../../core/model/userError";
import { inSteps } from "../inSteps";
import { profile } from "../inputs";
import { job } from "../job";
import { poseLimits } from "../poseLimits";

/** Sampled poses of a joint over its whole swing; null where nothing is over the limits. */
export const proposeSamples = job({
  input: z.object({ set: sampleSetSchema, profile }),
  async run({ character, gauge, motions }, { set, profile }, tick): Promise<SamplesProposal | null> {
    const [{ joint, along }] = set.joints as [(typeof set.joints)[number]];
    const own = gauge(joint);
    if (!own || !character.skeleton) throw new UserError(`${joint} bends no skin.`, set.name, "Choose another joint.");
    const at = jointIndexOf(character.skeleton).get(joint)!;
    const map = swingMapAt(character.skeleton, at, along);
    const swings = motions.filter((m) => m.joint === joint);
    return inSteps(propose(own, map, swings, set, poseLimits(profile)), tick);
  },
});

import { z } from "zod";
import { proposeForJoint, type JointProposal } from "../../core/correctives/proposeForJoint";
import { newSamples } from "../../core/correctives/sampleEdits";
import { swingMapAt } from "../../core/correctives/swingMap";
import { jointIndexOf } from "../../core/model/jointIndex";
import { UserError } from "../../core/model/userError";
import { humanoidMap } from "../../core/skeleton/humanoidMap";
import { boneDirection } from "../../core/skeleton/boneDirection";
import { inSteps } from "../inSteps";
import { profile } from "../inputs";
import { job } from "../job";
import { aimWithin, poseLimits } from "../poseLimits";

/**
 * Correctives for motions of joints, by one angle each or sampled over a joint's whole swing; one answer a joint, null
 * where it bends no skin.
 */
export const correctJoints = job({
  input: z.object({ joints: z.array(z.object({ joint: z.string(), motions: z.array(z.string()) })), profile }),
  async run({ character, gauge, motions }, { joints, profile }, tick): Promise<(JointProposal | null)[]> {
    const { skeleton, jointMap } = character;
    if (!skeleton) return joints.map(() => null);
    const humanoid = humanoidMap(skeleton, jointMap);
    const limits = poseLimits(profile);
    const out: (JointProposal | null)[] = [];
    for (const [i, wanted] of joints.entries()) {
      const own = gauge(wanted.joint);
      const joint = jointIndexOf(skeleton).get(wanted.joint);
      if (joint === undefined) throw new UserError(`There is no joint named ${wanted.joint}.`, "", "");
      const along = boneDirection(skeleton, humanoid, joint);
      const swings = motions.filter((m) => m.joint === wanted.joint);
      out.push(
        own &&
          (await inSteps(
            proposeForJoint(
              own,
              swingMapAt(skeleton, joint, along),
              swings.filter((m) => wanted.motions.includes(m.id)),
              swings,
              newSamples(`${wanted.joint} swing`, [{ joint: wanted.joint, along }]),
              limits,
              aimWithin(limits),
            ),
            (share) => tick(i + share, joints.length),
          )),
      );
    }
    return out;
  },
});

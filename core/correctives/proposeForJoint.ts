import { measureJoint, type JointGauge } from "../measure/measureJoint";
import { dot } from "../math/vec3";
import type { SampleSet } from "../model/poseDriver";
import { motionPose, type JointMotion } from "../skeleton/jointMotions";
import { excess, proposeForRange, type DrivenShape, type PoseLimits } from "./proposeForRange";
import { proposeSamples, type SamplesProposal } from "./proposeSamples";
import { sculptMoment } from "./proposeSculpt";
import type { SwingMap } from "./swingMap";
import { withinShares } from "./withinShares";

/** What a joint needs to stay within the limits: shapes by one angle each, or sampled poses over its whole swing. */
export interface JointProposal {
  readonly made: readonly DrivenShape[];
  readonly samples: SamplesProposal | null;
}

/** Shares of the way to the end of a motion at which it is looked at first. */
const LOOKED = [1, 2 / 3, 1 / 3] as const;

/**
 * Correctives for those motions of one joint that are over the limits. Where more than one motion that swings the bone
 * is, shapes by one angle each would add up between them, so the whole swing is sampled instead. Yields the share done.
 * @param wanted motions of the joint to be corrected. @param swings all its motions. @param aim the limits with some
 * room, for what lies between the poses that are measured.
 */
export function* proposeForJoint(
  gauge: JointGauge,
  map: SwingMap,
  wanted: readonly JointMotion[],
  swings: readonly JointMotion[],
  empty: SampleSet,
  limits: PoseLimits,
  aim: PoseLimits,
): Generator<number, JointProposal> {
  const over = (motion: JointMotion, end: number): boolean =>
    LOOKED.some(
      (share) => excess(measureJoint(gauge, sculptMoment(motionPose(motion, share * end))).reading, limits) > 0,
    );
  const ends = wanted
    .flatMap((motion) => [motion.min, motion.max].map((end) => ({ motion, end })))
    .filter(({ motion, end }) => end !== 0 && over(motion, end));
  const swung = new Set(ends.flatMap(({ motion }) => (Math.abs(dot(motion.axis, map.along)) < 0.6 ? motion.id : [])));
  if (swung.size > 1) return { made: [], samples: yield* proposeSamples(gauge, map, swings, empty, aim) };
  const made: DrivenShape[] = [];
  for (const [i, { motion, end }] of ends.entries()) {
    const label = `${motion.label} ${end < 0 ? "below" : "beyond"}`;
    const steps = proposeForRange(gauge, motion, end, aim, { name: label, label });
    const proposal = yield* withinShares(i / ends.length, (i + 1) / ends.length, steps);
    made.push(...(proposal?.made ?? []));
  }
  return { made, samples: null };
}

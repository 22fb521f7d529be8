import { type Rig } from "../deform/rig";
import { REST_MOMENT, type Moment } from "../evaluate/moment";
import { humanoidMap } from "../skeleton/humanoidMap";
import { jointMotions, type JointMotion } from "../skeleton/jointMotions";
import { makeJointGauge, type JointGauge } from "./measureJoint";
import { sweepMotion, type SweepRow, type Tick } from "./sweepMotion";

/** One motion swept; `rows` is empty where the joint bends no skin. */
export interface SweptMotion {
  readonly motion: JointMotion;
  readonly rows: readonly SweepRow[];
}

/** Every motion of the figure swept at so many angles, correctives without and with. */
export async function sweepAll(
  rig: Rig,
  steps: number,
  moment: Moment = REST_MOMENT,
  tick: Tick = () => {},
): Promise<SweptMotion[]> {
  const { skeleton, jointMap } = rig.character;
  if (!skeleton) return [];
  const motions = jointMotions(skeleton, humanoidMap(skeleton, jointMap));
  const out: SweptMotion[] = [];
  // a joint's motions follow one another: its tables serve them all
  let [at, gauge]: [string | null, JointGauge | null] = [null, null];
  for (const [i, motion] of motions.entries()) {
    await tick(i, motions.length);
    if (motion.joint !== at)
      gauge = makeJointGauge(
        rig,
        skeleton.joints.findIndex((j) => j.name === motion.joint),
      );
    at = motion.joint;
    out.push({ motion, rows: gauge ? await sweepMotion(gauge, motion, steps, moment) : [] });
  }
  await tick(motions.length, motions.length);
  return out;
}

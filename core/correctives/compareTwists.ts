import { makeRig, withShapes, type Rig } from "../deform/rig";
import type { Moment } from "../evaluate/moment";
import type { JointGauge } from "../measure/measureJoint";
import type { Tick } from "../measure/sweepMotion";
import { twistLoss, twistStep, type TwistReading } from "../measure/twistLoss";
import type { Character } from "../model/character";
import { withoutShape } from "../model/withoutShape";
import type { HumanoidMap } from "../skeleton/humanoidMap";
import type { JointMotion } from "../skeleton/jointMotions";
import { sideOfBone } from "../names/humanoidBones";
import { spreadTwist, type TwistLimb } from "../weights/spreadTwist";
import { driversAlong } from "./insertSculpt";
import { proposeForRange, type PoseLimits } from "./proposeForRange";

/** A limb that is twisted: what it keeps of its cross-section now, and what with joints or with correctives. */
export interface TwistRow {
  readonly motion: string;
  readonly label: string;
  readonly limb: TwistLimb;
  readonly now: TwistReading;
  /** Shapes that correct this very twist now. */
  readonly own: readonly string[];
  /** In place of those; null where the twist is spread already, or its skin alone keeps enough. */
  readonly joints: { readonly left: number; readonly count: number } | null;
  /** Those that are there, or what would be sculpted by measure; null where none is asked for. */
  readonly correctives: { readonly left: number; readonly count: number } | null;
}

/** Share of its cross-section that a twisted limb may lose. */
export const TWIST_LOSS = 0.1;
/** How much more than that a spread limb keeps, for skin that is no even blend. */
const ROOM = 0.03;
const ENDS: Readonly<Record<string, string>> = { UpperArm: "LowerArm", LowerArm: "Hand", UpperLeg: "LowerLeg" };

/** The limbs that a character can twist, with the joints at which they end. */
export function twistedLimbs(
  rig: Rig,
  map: HumanoidMap,
  motions: readonly JointMotion[],
): { readonly motion: JointMotion; readonly end: string }[] {
  const joints = rig.character.skeleton?.joints ?? [];
  return motions.flatMap((motion) => {
    const side = sideOfBone(motion.bone);
    const end = motion.name === "twist" && side ? ENDS[motion.bone.slice(side.length)] : undefined;
    const at = end === undefined ? undefined : map.jointOfBone.get(`${side}${end}`);
    return at === undefined ? [] : [{ motion, end: joints[at]!.name }];
  });
}

/**
 * Reads every limb that can be twisted, the thinnest first; for those whose skin loses more than a tenth of a
 * cross-section also what joints that share the twist would keep, and what correctives do: those that are there, or
 * some sculpted by measure. Changes nothing.
 * @param gauge of a joint; null where it bends no skin.
 */
export async function compareTwists(
  rig: Rig,
  map: HumanoidMap,
  motions: readonly JointMotion[],
  gauge: (joint: string) => JointGauge | null,
  limits: PoseLimits,
  method: Moment["method"],
  tick: Tick = () => {},
): Promise<TwistRow[]> {
  const rows: TwistRow[] = [];
  const limbs = twistedLimbs(rig, map, motions);
  for (const [i, { motion, end }] of limbs.entries()) {
    await tick(i, limbs.length);
    const now = twistLoss(rig, motion, end, method);
    if (!now) continue;
    const far = Math.max(motion.max, -motion.min);
    const steps = Math.min(8, Math.max(2, Math.ceil(far / twistStep(1 - TWIST_LOSS + ROOM))));
    const limb: TwistLimb = { joint: motion.joint, end, steps };
    const spread = rig.character.twistJoints?.some((t) => t.of === motion.joint) ?? false;
    const own = correctivesOf(rig.character, motion);
    const bare = own.length ? makeRig(own.reduce(withoutShape, rig.character)) : rig;
    const thin = (own.length ? (twistLoss(bare, motion, end, method) ?? now) : now).left < 1 - TWIST_LOSS;
    const proposed = thin && !spread && !own.length;
    const there = own.length ? { left: now.left, count: own.length } : null;
    rows.push({
      motion: motion.id,
      label: motion.label,
      limb,
      now,
      own,
      joints: thin && !spread ? withJoints(bare, motion, limb, method) : null,
      correctives: proposed ? withCorrectives(rig, motion, end, gauge(motion.joint), limits, method) : there,
    });
  }
  await tick(limbs.length, limbs.length);
  return rows.sort((a, b) => a.now.left - b.now.left);
}

/** Shapes that one angle along the twist drives, to either side. */
const correctivesOf = (character: Character, { joint, axis }: JointMotion): string[] =>
  [1, -1].flatMap((side) => driversAlong(character, joint, axis, side).map((d) => d.driver.shape));

function withJoints(rig: Rig, motion: JointMotion, limb: TwistLimb, method: Moment["method"]): TwistRow["joints"] {
  const spread = spreadTwist(rig.character, limb);
  const read = twistLoss(makeRig(spread), motion, limb.end, method);
  const count = spread.skeleton!.joints.length - rig.character.skeleton!.joints.length;
  return read && { left: read.left, count };
}

function withCorrectives(
  rig: Rig,
  motion: JointMotion,
  end: string,
  gauge: JointGauge | null,
  limits: PoseLimits,
  method: Moment["method"],
): TwistRow["correctives"] {
  if (!gauge) return null;
  const made = [motion.min, motion.max].flatMap((degrees) => {
    if (degrees === 0) return [];
    const proposing = proposeForRange(gauge, motion, degrees, limits, {
      name: `${motion.id} ${degrees}`,
      label: motion.label,
    });
    for (;;) {
      const { done, value } = proposing.next();
      if (done) return value?.made ?? [];
    }
  });
  if (made.length === 0) return null;
  const { character } = rig;
  const corrected = withShapes(rig, {
    ...character,
    shapes: [...character.shapes, ...made.map((m) => m.shape)],
    drivers: [...character.drivers, ...made.map((m) => m.driver)],
  });
  const read = twistLoss(corrected, motion, end, method);
  return read && { left: read.left, count: made.length };
}

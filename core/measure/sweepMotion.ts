import type { Moment } from "../evaluate/moment";
import { motionPose, type JointMotion } from "../skeleton/jointMotions";
import { measureJoint, type JointGauge, type JointReading } from "./measureJoint";
import { roughness } from "./poseLooks";
import { drivingJoints } from "../model/drivenShapes";

/** Called between steps of long work; may wait, and throws to cancel. */
export type Tick = (done: number, total: number) => Promise<void> | void;

export interface SweepRow {
  readonly joint: string;
  readonly motion: string;
  /** Degrees from rest. */
  readonly angle: number;
  readonly without: JointReading;
  readonly with: JointReading;
}

/** Angles of a sweep: evenly spaced, both ends included, rest included when the range holds it. */
export function sweepAngles(min: number, max: number, steps: number): number[] {
  const angles = Array.from({ length: steps }, (_, i) => min + ((max - min) * i) / Math.max(1, steps - 1));
  if (min < 0 && max > 0 && !angles.some((a) => Math.abs(a) < 1e-9)) angles.push(0);
  return angles.sort((a, b) => a - b);
}

/** A moment measured without drivers and, where some may act, with them: how rough their movement is, too. */
function measureBoth(
  gauge: JointGauge,
  moment: Moment,
  acting: boolean,
): { without: JointReading; driven: JointReading | null } {
  const without = measureJoint(gauge, { ...moment, drivers: false }).reading;
  if (!acting) return { without, driven: null };
  const { part } = gauge.region;
  const bare = gauge.scratch.positions[part]!.slice();
  const { reading } = measureJoint(gauge, { ...moment, drivers: true });
  return { without, driven: { ...reading, roughness: roughness(gauge, bare, gauge.scratch.positions[part]!) } };
}

/** Moves one joint through its range and measures each step without and with the drivers. */
export async function sweepMotion(
  gauge: JointGauge,
  motion: JointMotion,
  steps: number,
  moment: Moment,
  tick: Tick = () => {},
): Promise<SweepRow[]> {
  const rows: SweepRow[] = [];
  const angles = sweepAngles(motion.min, motion.max, steps);
  const driven = drivingJoints(gauge.rig.character).has(motion.joint);
  for (const [i, angle] of angles.entries()) {
    await tick(i, angles.length);
    const pose = { ...moment.pose, ...motionPose(motion, angle) };
    const { without, driven: corrected } = measureBoth(gauge, { ...moment, pose }, driven);
    rows.push({ joint: motion.joint, motion: motion.name, angle, without, with: corrected ?? without });
  }
  await tick(angles.length, angles.length);
  return rows;
}

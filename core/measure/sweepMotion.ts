import type { Moment } from "../evaluate/moment";
import { motionPose, type JointMotion } from "../skeleton/jointMotions";
import { measureJoint, type JointGauge, type JointReading } from "./measureJoint";
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
    const without = measureJoint(gauge, { ...moment, pose, drivers: false }).reading;
    rows.push({
      joint: motion.joint,
      motion: motion.name,
      angle,
      without,
      with: driven ? measureJoint(gauge, { ...moment, pose, drivers: true }).reading : without,
    });
  }
  await tick(angles.length, angles.length);
  return rows;
}

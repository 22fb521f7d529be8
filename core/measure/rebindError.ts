import { makeRig, allocateDeformed, deform } from "../deform/rig";
import { REST_MOMENT } from "../evaluate/moment";
import { type Pose, poseRotation } from "../evaluate/poseSkeleton";
import { toEulerXYZ, multiplyQuat } from "../math/quat";
import { type Character, vertexCountOf } from "../model/character";
import { humanoidMap } from "../skeleton/humanoidMap";
import { jointMotions, motionPose } from "../skeleton/jointMotions";
import type { Tick } from "./sweepMotion";

export interface RebindError {
  /** Largest distance of any vertex between the old binding and the new one in the same pose, mm. */
  readonly largestMm: number;
  readonly pose: { readonly label: string; readonly degrees: number } | null;
  /** Root mean square over all vertices and poses, mm. */
  readonly rmsMm: number;
}
/**
 * Compares the old binding and the new one with their joints at the same places: at rest, and at both ends of every
 * joint's range.
 */
export async function rebindError(
  before: Character,
  after: Character,
  pose: Pose,
  tick: Tick = () => {},
): Promise<RebindError> {
  const motions = jointMotions(after.skeleton!, humanoidMap(after.skeleton!, after.jointMap));
  const poses: { label: string; degrees: number; pose: Pose }[] = [
    { label: "rest", degrees: 0, pose: {} },
    ...motions.flatMap((x) =>
      [x.min, x.max].filter((a) => a !== 0).map((a) => ({ label: x.label, degrees: a, pose: motionPose(x, a) })),
    ),
  ];
  const rigs = [makeRig(before), makeRig(after)] as const;
  const outs = rigs.map(allocateDeformed);
  let largest = 0;
  let worst: RebindError["pose"] = null;
  let sum = 0;
  let count = 0;
  for (const [i, moment] of poses.entries()) {
    await tick(i, poses.length);
    const together = {
      ...pose,
      ...Object.fromEntries(
        Object.keys(moment.pose).map((j) => [
          j,
          toEulerXYZ(multiplyQuat(poseRotation(pose, j), poseRotation(moment.pose, j))),
        ]),
      ),
    };
    const [A, B] = [together, moment.pose].map(
      (p, k) =>
        deform(rigs[k]!, { ...REST_MOMENT, pose: p, drivers: false }, { normals: false, out: outs[k]! }).positions,
    );
    before.parts.forEach((part, p) => {
      for (let v = 0; v < vertexCountOf(part); v++) {
        const d = Math.hypot(...[0, 1, 2].map((c) => A![p]![3 * v + c]! - B![p]![3 * v + c]!));
        sum += d * d;
        count++;
        if (d > largest + 1e-9) [largest, worst] = [d, { label: moment.label, degrees: moment.degrees }];
      }
    });
  }
  await tick(poses.length, poses.length);
  return { largestMm: 1000 * largest, pose: worst, rmsMm: 1000 * Math.sqrt(sum / Math.max(1, count)) };
}

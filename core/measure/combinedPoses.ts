import type { Rig } from "../deform/rig";
import type { Moment } from "../evaluate/moment";
import type { Pose } from "../evaluate/poseSkeleton";
import { poseRotation } from "../evaluate/poseSkeleton";
import { randomFrom } from "../math/random";
import { multiplyQuat, toEulerXYZ } from "../math/quat";
import { sideOfBone } from "../names/humanoidBones";
import { motionPose, type JointMotion } from "../skeleton/jointMotions";
import { makeJointGauge, measureJoint, type JointGauge, type JointReading } from "./measureJoint";
import type { Tick } from "./sweepMotion";

/** A pose of two motions at once. */
export interface CombinedPose {
  readonly a: JointMotion;
  readonly b: JointMotion;
  readonly degreesA: number;
  readonly degreesB: number;
}
export interface CombinedRow extends CombinedPose {
  /** The joint whose skin was read: the worse of the two. */
  readonly joint: string;
  readonly reading: JointReading;
}

/** Bones whose motions act on one region of skin, without the side. */
const NEIGHBOURS: readonly (readonly [string, string])[] = [
  ["UpperArm", "UpperArm"],
  ["Shoulder", "UpperArm"],
  ["LowerArm", "UpperArm"],
  ["Hand", "Hand"],
  ["UpperLeg", "UpperLeg"],
  ["LowerLeg", "UpperLeg"],
  ["Foot", "Foot"],
  ["neck", "neck"],
  ["head", "neck"],
  ["spine", "spine"],
  ["chest", "spine"],
];
/** Shares of each end at which the corners of two ranges are tried; full on both is where bodies end. */
const CORNER = 0.9;
/** Seeded poses inside, for each two motions. */
const INSIDE = 2;

const plain = (bone: string): string => bone.slice((sideOfBone(bone) ?? "").length);

/**
 * Poses of two neighbouring motions: the corners of both ranges, and some inside them. The same seed gives the same
 * poses.
 */
export function combinedPoses(motions: readonly JointMotion[], seed: number): CombinedPose[] {
  const random = randomFrom(seed);
  return motions.flatMap((a, i) =>
    motions.slice(i + 1).flatMap((b): CombinedPose[] => {
      if (sideOfBone(a.bone) !== sideOfBone(b.bone) || a.id === b.id) return [];
      const [x, y] = [plain(a.bone), plain(b.bone)];
      if (!NEIGHBOURS.some(([p, q]) => (p === x && q === y) || (p === y && q === x))) return [];
      const ends = (m: JointMotion): number[] =>
        [m.min, m.max].filter((d) => Math.abs(d) > 5).map((d) => Math.round(CORNER * d));
      const corners = ends(a).flatMap((degreesA) => ends(b).map((degreesB) => ({ a, b, degreesA, degreesB })));
      const inside = Array.from({ length: INSIDE }, () => ({
        a,
        b,
        degreesA: Math.round(a.min + random() * (a.max - a.min)),
        degreesB: Math.round(b.min + random() * (b.max - b.min)),
      }));
      return [...corners, ...inside];
    }),
  );
}

/** The pose of both motions; where both turn one joint, the second turns what the first has turned. */
export function combinedPose({ a, b, degreesA, degreesB }: CombinedPose): Pose {
  const [first, second] = [motionPose(a, degreesA), motionPose(b, degreesB)];
  const out: Record<string, readonly [number, number, number]> = { ...first };
  for (const [joint, angles] of Object.entries(second))
    out[joint] = first[joint]
      ? toEulerXYZ(multiplyQuat(poseRotation(first, joint), poseRotation(second, joint)))
      : angles;
  return out;
}

/**
 * Every such pose measured, with correctives as the moment has them; poses in whose joints no skin bends are left out.
 */
export async function readCombined(
  rig: Rig,
  poses: readonly CombinedPose[],
  moment: Moment,
  worse: (a: JointReading, b: JointReading) => boolean,
  tick: Tick = () => {},
): Promise<CombinedRow[]> {
  const gauges = new Map<string, JointGauge | null>();
  const gaugeOf = (joint: string): JointGauge | null => {
    if (!gauges.has(joint))
      gauges.set(
        joint,
        makeJointGauge(
          rig,
          rig.character.skeleton!.joints.findIndex((j) => j.name === joint),
        ),
      );
    return gauges.get(joint)!;
  };
  const rows: CombinedRow[] = [];
  for (const [i, pose] of poses.entries()) {
    await tick(i, poses.length);
    const now = { ...moment, pose: { ...moment.pose, ...combinedPose(pose) } };
    let row: CombinedRow | null = null;
    for (const joint of new Set([pose.a.joint, pose.b.joint])) {
      const gauge = gaugeOf(joint);
      if (!gauge) continue;
      const { reading } = measureJoint(gauge, now);
      if (!row || worse(reading, row.reading)) row = { ...pose, joint, reading };
    }
    if (row) rows.push(row);
  }
  await tick(poses.length, poses.length);
  return rows;
}

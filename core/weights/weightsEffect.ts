import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT } from "../evaluate/moment";
import type { Character } from "../model/character";
import { humanoidMap } from "../skeleton/humanoidMap";
import { jointMotions, motionPose } from "../skeleton/jointMotions";
import type { Tick } from "../measure/sweepMotion";

/** How far a change of weights moves a part, at worst. */
export interface WeightsEffect {
  readonly largestMm: number;
  /** The pose in which it does: label of the motion and its angle in degrees; null when nothing moves. */
  readonly pose: { readonly label: string; readonly degrees: number } | null;
  /** Vertices that move by more than a tenth of a millimetre in some pose. */
  readonly vertices: number;
}

/** Compares one part of a character before and after, at both ends of every joint's range. */
export async function weightsEffect(
  before: Character,
  after: Character,
  part: number,
  tick: Tick = () => {},
): Promise<WeightsEffect> {
  const motions = before.skeleton ? jointMotions(before.skeleton, humanoidMap(before.skeleton, before.jointMap)) : [];
  const poses = motions.flatMap((m) =>
    [m.min, m.max].filter((a) => a !== 0).map((degrees) => ({ motion: m, degrees })),
  );
  const rigs = [makeRig(before), makeRig(after)];
  const outs = rigs.map((r) => deform(r, REST_MOMENT, { normals: false, parts: [part] }));
  const touched = new Set<number>();
  let largest = 0;
  let pose: WeightsEffect["pose"] = null;
  for (const [i, { motion, degrees }] of poses.entries()) {
    await tick(i, poses.length);
    const [P, Q] = rigs.map(
      (r, k) =>
        deform(
          r,
          { ...REST_MOMENT, pose: motionPose(motion, degrees) },
          { normals: false, parts: [part], out: outs[k]! },
        ).positions[part]!,
    ) as [Float32Array, Float32Array];
    for (let v = 0; v < P.length / 3; v++) {
      const d = Math.hypot(P[3 * v]! - Q[3 * v]!, P[3 * v + 1]! - Q[3 * v + 1]!, P[3 * v + 2]! - Q[3 * v + 2]!);
      if (d > 1e-4) touched.add(v);
      if (d > largest + 1e-9) [largest, pose] = [d, { label: motion.label, degrees }];
    }
  }
  await tick(poses.length, poses.length);
  return { largestMm: 1000 * largest, pose, vertices: touched.size };
}

import { worldMatrices } from "../evaluate/poseSkeleton";
import { translationOf } from "../math/mat4";
import { fromAxisAngle, multiplyQuat, rotate } from "../math/quat";
import type { Quat, Vec3 } from "../math/vec3";
import { NO_JOINT, type Joint, type Skeleton } from "../model/character";
import { REQUIRED_BONES } from "../names/humanoidBones";
import { humanoidMap, type HumanoidMap } from "./humanoidMap";

/** Ways a figure may stand in a file: six axes for up, four quarter turns about each; as it is comes first. */
const STANDS: readonly Quat[] = [
  [0, 0, 0, 1] as const,
  ...[-90, 90, 180].map((deg) => fromAxisAngle([1, 0, 0], deg)),
  ...[-90, 90].map((deg) => fromAxisAngle([0, 0, 1], deg)),
].flatMap((up) => [0, 180, 90, -90].map((deg) => multiplyQuat(fromAxisAngle([0, 1, 0], deg), up)));

const turned = (skeleton: Skeleton, turn: Quat): Skeleton => ({
  ...skeleton,
  joints: skeleton.joints.map((j): Joint =>
    j.parent === NO_JOINT
      ? { ...j, translation: rotate(turn, j.translation), rotation: multiplyQuat(turn, j.rotation) }
      : j,
  ),
});

/** What holds of a figure that stands upright and faces +Z: each that does is a point. */
const HOLDS: readonly (readonly [bone: string, than: string, axis: 0 | 1 | 2])[] = [
  ["head", "hips", 1],
  ["hips", "leftFoot", 1],
  ["hips", "rightFoot", 1],
  ["leftLowerLeg", "leftFoot", 1],
  ["leftFoot", "rightFoot", 0],
  ["leftHand", "rightHand", 0],
  ["leftToes", "leftFoot", 2],
  ["rightToes", "rightFoot", 2],
];

function score(skeleton: Skeleton, map: HumanoidMap): number {
  const world = worldMatrices(skeleton, {});
  const at = (bone: string): Vec3 | null => {
    const j = map.jointOfBone.get(bone);
    return j === undefined ? null : translationOf(world, 16 * j);
  };
  const held = HOLDS.filter(([a, b, axis]) => {
    const [p, q] = [at(a), at(b)];
    return p && q && p[axis] > q[axis];
  }).length;
  return held + 2 * REQUIRED_BONES.filter((b) => map.jointOfBone.has(b)).length;
}
const MOST = HOLDS.length + 2 * REQUIRED_BONES.length;

/**
 * The humanoid map of a skeleton that may lie or face elsewhere in its file: where joints stand is asked of the figure
 * as it would stand upright. @param corrections joint name -> bone or null, set by hand.
 */
export function uprightMap(skeleton: Skeleton, corrections: Readonly<Record<string, string | null>> = {}): HumanoidMap {
  let best: HumanoidMap | null = null;
  let most = -1;
  for (const turn of STANDS) {
    const standing = turned(skeleton, turn);
    const map = humanoidMap(standing, corrections);
    const points = score(standing, map);
    if (points > most) [best, most] = [map, points];
    if (most >= MOST) break;
  }
  return best!;
}

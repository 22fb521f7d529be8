import { worldMatrices } from "../../core/evaluate/poseSkeleton";
import { translationOf } from "../../core/math/mat4";
import { fromAxisAngle, multiplyQuat } from "../../core/math/quat";
import { add, length, scale, sub, type Quat, type Vec3 } from "../../core/math/vec3";
import type { Character, Clip, ClipTrack, Skeleton } from "../../core/model/character";
import { humanoidMap } from "../../core/skeleton/humanoidMap";
import { jointMotions } from "../../core/skeleton/jointMotions";
import type { ClipScore } from "./clipScores";

/**
 * Plays a score on a character's own joints: rotation keys, and translation keys for the hips. Throws for a motion that
 * the character does not have.
 */
export function makeClip(character: Character, score: ClipScore): Clip {
  const skeleton = character.skeleton!;
  const map = humanoidMap(skeleton, character.jointMap);
  const motions = new Map(jointMotions(skeleton, map).map((m) => [`${m.bone}/${m.name}`, m]));
  const count = Math.round(score.seconds * score.fps) + 1;
  const times = Float32Array.from({ length: count }, (_, k) => k / score.fps);
  const moments = Array.from(times, (t) => score.at(t));
  const turned = new Map<string, Float32Array>();
  moments.forEach(({ angles }, k) => {
    const turns = new Map<string, Quat>();
    for (const [id, degrees] of Object.entries(angles)) {
      const motion = motions.get(id) ?? breathMotion(skeleton, id);
      if (!motion) throw new Error(`makeClip: ${score.name} needs the motion ${id}`);
      turns.set(
        motion.joint,
        multiplyQuat(turns.get(motion.joint) ?? [0, 0, 0, 1], fromAxisAngle(motion.axis, degrees)),
      );
    }
    for (const [joint, turn] of turns) {
      const keys = turned.get(joint) ?? new Float32Array(4 * count);
      turned.set(joint, keys);
      keys.set(multiplyQuat(skeleton.joints.find((j) => j.name === joint)!.rotation, turn), 4 * k);
    }
  });
  const tracks = [...turned].map(([joint, values]): ClipTrack => ({
    joint,
    path: "rotation",
    interpolation: "LINEAR",
    times,
    values,
  }));
  const hips = hipsTrack(
    character,
    moments.map((m) => m.hips ?? [0, 0, 0]),
    times,
  );
  return { name: score.name, tracks: moments.some((m) => m.hips) ? [...tracks, hips] : tracks };
}

/**
 * The breathing joint is no joint of the humanoid and has no range of its own: `breath/lift` turns it so that the front
 * of the chest rises.
 */
const breathMotion = (skeleton: Skeleton, id: string): { joint: string; axis: Vec3 } | null =>
  id === "breath/lift" && skeleton.joints.some((j) => j.name === "breath")
    ? { joint: "breath", axis: [-1, 0, 0] }
    : null;

function hipsTrack(
  character: Character,
  offsets: readonly (readonly [number, number, number])[],
  times: Float32Array,
): ClipTrack {
  const skeleton = character.skeleton!;
  const { jointOfBone } = humanoidMap(skeleton, character.jointMap);
  const world = worldMatrices(skeleton, {});
  const at = (bone: string): ReturnType<typeof translationOf> => translationOf(world, 16 * jointOfBone.get(bone)!);
  const leg = length(sub(at("leftUpperLeg"), at("leftFoot")));
  const hips = skeleton.joints[jointOfBone.get("hips")!]!;
  return {
    joint: hips.name,
    path: "translation",
    interpolation: "LINEAR",
    times,
    values: Float32Array.from(offsets.flatMap((o) => [...add(hips.translation, scale(o, leg))])),
  };
}

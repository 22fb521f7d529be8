import { worldMatrices } from "../../core/evaluate/poseSkeleton";
import { decomposeTRS } from "../../core/math/mat4";
import { conjugate, multiplyQuat } from "../../core/math/quat";
import { NO_JOINT, type Character, type Clip, type Joint } from "../../core/model/character";
import { foreignName, fromT } from "./foreignSkeleton";

const CENTIMETRES = 100;

/**
 * A clip as that other studio would export it: bare joints under its own names, lengths in centimetres, arms at T at
 * rest. The movement in space is the same.
 */
export function foreignClip(character: Character, clip: Clip): Character {
  const skeleton = character.skeleton!;
  const world = worldMatrices(skeleton, {});
  const atT = skeleton.joints.map((j, i) => multiplyQuat(conjugate(fromT(j.name)), decomposeTRS(world, 16 * i).q));
  const longer = ([x, y, z]: readonly [number, number, number]): [number, number, number] => [
    x * CENTIMETRES,
    y * CENTIMETRES,
    z * CENTIMETRES,
  ];
  const joints = skeleton.joints.map((j, i): Joint => ({
    ...j,
    name: foreignName(j.name),
    translation: longer(j.translation),
    rotation: j.parent === NO_JOINT ? atT[i]! : multiplyQuat(conjugate(atT[j.parent]!), atT[i]!),
  }));
  const tracks = clip.tracks.map((t) => ({
    ...t,
    joint: foreignName(t.joint),
    values: t.path === "translation" ? t.values.map((x) => x * CENTIMETRES) : t.values,
  }));
  // joints that the clip leaves alone must be brought from T to where the figure's own rest has them
  const keyed = new Set(tracks.filter((t) => t.path === "rotation").map((t) => t.joint));
  const held = skeleton.joints.flatMap((j, i) =>
    keyed.has(joints[i]!.name) || sameTurn(j.rotation, joints[i]!.rotation)
      ? []
      : [
          {
            joint: joints[i]!.name,
            path: "rotation" as const,
            interpolation: "LINEAR" as const,
            times: Float32Array.of(0),
            values: Float32Array.from(j.rotation),
          },
        ],
  );
  return {
    ...character,
    name: `${clip.name}, other skeleton`,
    parts: [],
    materials: [],
    shapes: [],
    drivers: [],
    shapeDrivers: [],
    jointMap: {},
    skeleton: { ...skeleton, joints },
    clips: [{ name: clip.name, tracks: [...tracks, ...held] }],
  };
}

const sameTurn = (a: readonly number[], b: readonly number[]): boolean =>
  Math.abs(Math.abs(a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]! + a[3]! * b[3]!) - 1) < 1e-9;

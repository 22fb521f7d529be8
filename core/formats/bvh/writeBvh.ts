import { worldMatrices } from "../../evaluate/poseSkeleton";
import { decomposeTRS, translationOf } from "../../math/mat4";
import { clipMatrices } from "../../evaluate/clipMatrices";
import { conjugate, multiplyQuat, rotate } from "../../math/quat";
import { degrees, scale, sub, type Quat, type Vec3 } from "../../math/vec3";
import { NO_JOINT, type Clip, type Skeleton } from "../../model/character";

export interface WriteBvhOptions {
  /** Units of the file per metre. */
  readonly unitsPerMetre: number;
  readonly fps: number;
  readonly rename: (joint: string) => string;
  /** Turn of each joint's surroundings in world axes that leads from the file's rest pose to the skeleton's own. */
  readonly restTurn: (joint: string) => Quat;
}
export const WRITE_BVH_DEFAULTS: WriteBvhOptions = {
  unitsPerMetre: 100,
  fps: 30,
  rename: (joint) => joint,
  restTurn: () => [0, 0, 0, 1],
};

/**
 * A clip as BVH text: the format's joints have no rest rotation, so every frame holds turns away from rest in world
 * axes, channels Z X Y.
 * Centimetres unless told otherwise. Only one root is written: the first joint without a parent and what hangs on it.
 * Source: the format's description by its makers' manual, from memory; read back by an independent reader in the tests.
 */
export function writeBvh(skeleton: Skeleton, clip: Clip, options: Partial<WriteBvhOptions> = {}): string {
  const { unitsPerMetre, fps, rename, restTurn } = { ...WRITE_BVH_DEFAULTS, ...options };
  const rest = worldMatrices(skeleton, {});
  const place = (j: number): Vec3 => translationOf(rest, 16 * j);
  const turn = skeleton.joints.map((j) => restTurn(j.name));
  const offset = (j: number): Vec3 => {
    const parent = skeleton.joints[j]!.parent;
    return parent === NO_JOINT ? place(j) : rotate(conjugate(turn[parent]!), sub(place(j), place(parent)));
  };
  const number = (x: number): string => (Math.abs(x) < 5e-7 ? "0" : x.toFixed(6));
  const row = (v: Vec3): string => scale(v, unitsPerMetre).map(number).join(" ");
  const order: number[] = [];
  const lines = ["HIERARCHY"];
  const walk = (j: number, indent: string): void => {
    order.push(j);
    lines.push(
      `${indent}${order.length === 1 ? "ROOT" : "JOINT"} ${rename(skeleton.joints[j]!.name)}`,
      `${indent}{`,
      `${indent}  OFFSET ${row(order.length === 1 ? [0, 0, 0] : offset(j))}`,
    );
    lines.push(
      `${indent}  CHANNELS ` +
        `${order.length === 1 ? "6 Xposition Yposition Zposition " + "Zrotation Xrotation Yrotation" : "3 Zrotation Xrotation Yrotation"}`,
    );
    const children = skeleton.joints.flatMap((c, i) => (c.parent === j ? [i] : []));
    for (const child of children) walk(child, `${indent}  `);
    if (!children.length)
      lines.push(
        `${indent}  End Site`,
        `${indent}  {`,
        `${indent}    OFFSET 0 ${number(0.02 * unitsPerMetre)} 0`,
        `${indent}  }`,
      );
    lines.push(`${indent}}`);
  };
  walk(
    skeleton.joints.findIndex((j) => j.parent === NO_JOINT),
    "",
  );

  const seconds = Math.max(0, ...clip.tracks.map((t) => t.times[t.times.length - 1] ?? 0));
  const frames = Math.round(seconds * fps) + 1;
  lines.push("MOTION", `Frames: ${frames}`, `Frame Time: ${(1 / fps).toFixed(6)}`);
  const restFrame = skeleton.joints.map((_, j) => decomposeTRS(rest, 16 * j).q);
  for (let f = 0; f < frames; f++) {
    const world = clipMatrices(skeleton, clip, f / fps);
    const delta = skeleton.joints.map((_, j) =>
      multiplyQuat(multiplyQuat(decomposeTRS(world, 16 * j).q, conjugate(restFrame[j]!)), turn[j]!),
    );
    const values = order.flatMap((j, i) => {
      const parent = skeleton.joints[j]!.parent;
      const local = parent === NO_JOINT ? delta[j]! : multiplyQuat(conjugate(delta[parent]!), delta[j]!);
      const angles = anglesZXY(local);
      return i === 0 ? [...scale(translationOf(world, 16 * j), unitsPerMetre), ...angles] : angles;
    });
    lines.push(values.map(number).join(" "));
  }
  return `${lines.join("\n")}\n`;
}

/** Angles in degrees of the turns about Z, then X, then Y, in the joint's own axes. */
export function anglesZXY([x, y, z, w]: Quat): Vec3 {
  // rows of the rotation matrix that this order needs
  const m21 = 2 * (y * z + x * w);
  const m01 = 2 * (x * y - z * w);
  const m11 = 1 - 2 * (x * x + z * z);
  const m20 = 2 * (x * z - y * w);
  const m22 = 1 - 2 * (x * x + y * y);
  const turnX = Math.asin(Math.min(1, Math.max(-1, m21)));
  if (Math.abs(m21) > 0.9999999)
    return [degrees(Math.atan2(2 * (x * y + z * w), 1 - 2 * (y * y + z * z))), degrees(turnX), 0];
  return [degrees(Math.atan2(-m01, m11)), degrees(turnX), degrees(Math.atan2(-m20, m22))];
}

import { withTracks } from "../model/character";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { decomposeTRS, invertAffine, multiplyMat4 } from "../math/mat4";
import { conjugate, multiplyQuat, rotate } from "../math/quat";
import { add, sub, type Quat, type Vec3 } from "../math/vec3";
import { NO_JOINT, type Character, type ClipTrack, type Driver, type Joint, type Skeleton } from "../model/character";
import { UserError } from "../model/userError";
import { atChangedJoints } from "../model/changeDrivers";
import { UNCHANGED, type JointChange } from "../model/terms/jointChange";

/**
 * The character with other rest places and frames of its joints. The mesh stays as it is at rest: every inverse bind
 * goes along. Clips keep the movement of each joint's frame in its parent's, drivers keep their axes in space.
 * Translation keys keep their distance from rest.
 * @param rest 16 x jointCount, joint space to character space at the new rest; joints that should stay keep their
 * present matrix (see worldMatrices).
 * @throws UserError without a skeleton. Changes nothing of its input.
 */
export function changeRest(character: Character, rest: Float64Array): Character {
  const { skeleton } = character;
  if (!skeleton) throw new UserError("The character has no skeleton.", "rest pose", "");
  const change = restChange(skeleton, rest);
  const { joints, turns } = change;
  const indexOf = new Map(skeleton.joints.map((j, i) => [j.name, i]));
  const bound = (binds: Float32Array): Float32Array => bindsAt(change, binds);
  return {
    ...character,
    skeleton: { ...skeleton, joints, inverseBinds: bound(skeleton.inverseBinds) },
    parts: character.parts.map((p) =>
      p.skin?.inverseBinds ? { ...p, skin: { ...p.skin, inverseBinds: bound(p.skin.inverseBinds) } } : p,
    ),
    drivers: character.drivers.map((d): Driver => {
      const j = indexOf.get(d.joint);
      return j === undefined ? d : { ...d, axis: rotate(conjugate(turns[j]!), d.axis) };
    }),
    ...atChangedJoints(character, (joint): JointChange => {
      const j = indexOf.get(joint);
      if (j === undefined) return { ...UNCHANGED, joint };
      const back = conjugate(turns[j]!);
      const turned = (v: Vec3): Vec3 => rotate(back, v);
      const turn = (q: Quat): Quat => multiplyQuat(multiplyQuat(back, q), turns[j]!);
      return { ...UNCHANGED, joint, axis: turned, along: turned, towards: turned, turn };
    }),
    clips: character.clips.map((c) => withTracks(c, (all) => all.map((t) => trackAt(change, skeleton, indexOf, t)))),
  };
}

/** Joints at another rest, and how each got there. */
interface RestChange {
  readonly joints: readonly Joint[];
  /** By joint: its turn in its own frame from the rest before to this one. */
  readonly turns: readonly Quat[];
  /** 16 x jointCount: from its frame before to its frame now. */
  readonly backs: Float64Array;
  /** By joint, whether its matrix is the same as before. */
  readonly stays: readonly boolean[];
}

function restChange(skeleton: Skeleton, rest: Float64Array): RestChange {
  const before = worldMatrices(skeleton, {});
  const inverse = new Float64Array(16);
  const m = new Float64Array(16);
  const turns: Quat[] = [];
  const backs = new Float64Array(rest.length);
  const stays = skeleton.joints.map((_, j) => same(before, rest, 16 * j));
  const joints = skeleton.joints.map((joint, j): Joint => {
    invertAffine(inverse, 0, before, 16 * j);
    multiplyMat4(m, 0, inverse, 0, rest, 16 * j);
    turns.push(decomposeTRS(m, 0).q);
    invertAffine(backs, 16 * j, m, 0);
    if (stays[j] && (joint.parent === NO_JOINT || stays[joint.parent])) return joint;
    if (joint.parent === NO_JOINT) m.set(rest.subarray(16 * j, 16 * j + 16));
    else {
      invertAffine(inverse, 0, rest, 16 * joint.parent);
      multiplyMat4(m, 0, inverse, 0, rest, 16 * j);
    }
    const { t, q, s } = decomposeTRS(m, 0);
    return {
      ...joint,
      translation: t,
      rotation: q,
      scale: s.map((x) => (Math.abs(x - 1) < 1e-6 ? 1 : x)) as unknown as Vec3,
    };
  });
  return { joints, turns, backs, stays };
}

/** Inverse binds that leave the mesh where it is. */
function bindsAt({ backs, stays }: RestChange, binds: Float32Array): Float32Array {
  const out = new Float32Array(binds.length);
  const m = new Float64Array(16);
  stays.forEach((isSame, j) => {
    if (isSame) return out.set(binds.subarray(16 * j, 16 * j + 16), 16 * j);
    multiplyMat4(m, 0, backs, 16 * j, binds, 16 * j);
    out.set(m, 16 * j);
  });
  return out;
}

/** Keys that move a joint's frame in its parent's as before. */
function trackAt(
  { joints, turns }: RestChange,
  before: Skeleton,
  indexOf: ReadonlyMap<string, number>,
  t: ClipTrack,
): ClipTrack {
  const j = indexOf.get(t.joint);
  if (j === undefined || t.interpolation === "CUBICSPLINE" || t.path === "scale") return t;
  const { parent, translation } = before.joints[j]!;
  const above = parent === NO_JOINT ? NO_TURN : conjugate(turns[parent]!);
  const values = t.values.slice();
  if (t.path === "rotation")
    for (let k = 0; k < values.length; k += 4)
      values.set(multiplyQuat(multiplyQuat(above, quatAt(values, k)), turns[j]!), k);
  else
    for (let k = 0; k < values.length; k += 3) {
      const away = sub([values[k]!, values[k + 1]!, values[k + 2]!], translation);
      values.set(add(joints[j]!.translation, rotate(above, away)), k);
    }
  return { ...t, values };
}
const NO_TURN: Quat = [0, 0, 0, 1];

const quatAt = (values: Float32Array, k: number): Quat => [values[k]!, values[k + 1]!, values[k + 2]!, values[k + 3]!];
const same = (a: Float64Array, b: Float64Array, at: number): boolean => {
  for (let i = at; i < at + 16; i++) if (Math.abs(a[i]! - b[i]!) > 1e-12) return false;
  return true;
};

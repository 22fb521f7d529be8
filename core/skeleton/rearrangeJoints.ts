import { withTracks } from "../model/character";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { decomposeTRS, invertAffine, multiplyMat4, transformDirection, transformPoint } from "../math/mat4";
import { multiplyQuat } from "../math/quat";
import type { Vec3 } from "../math/vec3";
import { NO_JOINT, type Character, type ClipTrack, type Joint, type SkinBinding } from "../model/character";
import { UserError } from "../model/userError";
import { drivingJoints } from "../model/drivenShapes";

/**
 * What hangs on what, by present index; joints that are left out go, and what they hold passes to the nearest joint
 * above that stays.
 */
export interface Rearrangement {
  readonly kept: (joint: number) => boolean;
  readonly parent: (joint: number) => number;
}

/** The joints that stay. */
interface Staying {
  /** Old indices, those above first. */
  readonly order: readonly number[];
  readonly newFromOld: Int32Array;
  /** The nearest joint from one up that stays. */
  readonly standing: (joint: number) => number;
  /** The joint that one hangs on now, by old index. */
  readonly above: (joint: number) => number;
  readonly hungElsewhere: (joint: number) => boolean;
}

/**
 * The character with joints hung elsewhere or taken out. Every joint stays where it is in space at rest; clips keep how
 * a joint turns and moves against what it hangs on. Tracks, drivers and map entries of joints that go are dropped.
 * @throws UserError for a joint under itself, or when a driven joint would go.
 */
export function rearrangeJoints(character: Character, rearrangement: Rearrangement): Character {
  const { skeleton } = character;
  const { kept } = rearrangement;
  if (!skeleton) throw new UserError("The character has no skeleton.", "joints", "");
  const { joints } = skeleton;
  refuseDriving(character, joints, kept);
  const staying = stayingJoints(joints, rearrangement);
  const { order, newFromOld, standing } = staying;
  const world = worldMatrices(skeleton, {});
  const made = placedJoints(joints, staying, world);
  refuseUnheld(character, joints, standing);
  const binds = (from: Float32Array): Float32Array => {
    const out = new Float32Array(16 * order.length);
    order.forEach((old, i) => out.set(from.subarray(16 * old, 16 * old + 16), 16 * i));
    return out;
  };
  const skin = (s: SkinBinding): SkinBinding => ({
    ...s,
    joints: s.joints.map((j) => {
      const stays = standing(j);
      return stays === NO_JOINT ? 0 : newFromOld[stays]!;
    }),
    inverseBinds: s.inverseBinds && binds(s.inverseBinds),
  });
  const indexOf = new Map(joints.map((j, i) => [j.name, i]));
  const gone = new Set(joints.filter((_, j) => !kept(j)).map((j) => j.name));
  const track = (t: ClipTrack): ClipTrack[] => {
    const j = indexOf.get(t.joint);
    if (j === undefined) return [t];
    if (!kept(j)) return [];
    if (!staying.hungElsewhere(j)) return [t];
    const between = betweenParents(world, joints[j]!.parent, staying.above(j));
    return [{ ...t, values: keysElsewhere(t, between, joints[j]!.scale, made[newFromOld[j]!]!.scale) }];
  };
  return {
    ...character,
    skeleton: {
      joints: made,
      inverseBinds: binds(skeleton.inverseBinds),
      inSkin: Uint8Array.from(order, (old) => skeleton.inSkin[old]!),
    },
    parts: character.parts.map((p) => (p.skin ? { ...p, skin: skin(p.skin) } : p)),
    shapes: character.shapes.map((s) =>
      s.jointOffsets ? { ...s, jointOffsets: s.jointOffsets.filter((o) => !gone.has(o.joint)) } : s,
    ),
    clips: character.clips.map((c) => withTracks(c, (all) => all.flatMap(track))),
    jointMap: Object.fromEntries(Object.entries(character.jointMap).filter(([joint]) => !gone.has(joint))),
  };
}

function refuseDriving(character: Character, joints: readonly Joint[], kept: Rearrangement["kept"]): void {
  const drives = drivingJoints(character);
  const driving = joints.find((j, i) => !kept(i) && drives.has(j.name));
  if (driving)
    throw new UserError(
      `${driving.name} drives ${drives.get(driving.name)}.`,
      "joints",
      "Remove the corrective first, or keep the joint.",
    );
}

function refuseUnheld(character: Character, joints: readonly Joint[], standing: Staying["standing"]): void {
  for (const p of character.parts)
    p.skin?.joints.forEach((j, n) => {
      if (p.skin!.weights[n]! > 0 && standing(j) === NO_JOINT)
        throw new UserError(
          `${p.name} hangs on ${joints[j]!.name}, and nothing above it stays.`,
          "joints",
          "Keep a joint for it, or bind the part elsewhere first.",
        );
    });
}

function stayingJoints(joints: readonly Joint[], { kept, parent }: Rearrangement): Staying {
  const standing = (j: number): number => (j === NO_JOINT || kept(j) ? j : standing(parent(j)));
  const above = (j: number): number => standing(parent(j));
  const order: number[] = [];
  const state = new Uint8Array(joints.length);
  const visit = (j: number): void => {
    if (state[j] === 2) return;
    if (state[j] === 1)
      throw new UserError(
        `${joints[j]!.name} would hang on itself.`,
        "joints",
        "Choose a joint that does not hang on it.",
      );
    state[j] = 1;
    const up = above(j);
    if (up !== NO_JOINT) visit(up);
    state[j] = 2;
    order.push(j);
  };
  joints.forEach((_, j) => kept(j) && visit(j));
  const newFromOld = new Int32Array(joints.length).fill(NO_JOINT);
  order.forEach((old, i) => (newFromOld[old] = i));
  return { order, newFromOld, standing, above, hungElsewhere: (j) => above(j) !== joints[j]!.parent };
}

/** The joints that stay, those that hang elsewhere with a place of their own there. @param world 16 numbers a joint. */
function placedJoints(
  joints: readonly Joint[],
  { order, newFromOld, above, hungElsewhere }: Staying,
  world: Float64Array,
): Joint[] {
  const m = new Float64Array(16);
  const inverse = new Float64Array(16);
  return order.map((old): Joint => {
    const up = above(old);
    const place = { ...joints[old]!, parent: up === NO_JOINT ? NO_JOINT : newFromOld[up]! };
    if (!hungElsewhere(old)) return place;
    if (up === NO_JOINT) m.set(world.subarray(16 * old, 16 * old + 16));
    else {
      invertAffine(inverse, 0, world, 16 * up);
      multiplyMat4(m, 0, inverse, 0, world, 16 * old);
    }
    const { t, q, s } = decomposeTRS(m, 0);
    return { ...place, translation: t, rotation: q, scale: s };
  });
}

/** The way from one parent's frame to another's, at rest, as a matrix of its own. */
function betweenParents(world: Float64Array, from: number, to: number): Float64Array {
  const above = from === NO_JOINT ? IDENTITY : world.slice(16 * from, 16 * from + 16);
  if (to === NO_JOINT) return above;
  const inverse = new Float64Array(16);
  const out = new Float64Array(16);
  invertAffine(inverse, 0, world, 16 * to);
  multiplyMat4(out, 0, inverse, 0, above, 0);
  return out;
}

const IDENTITY = Float64Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1);

/**
 * Keys of a joint as another parent's frame has them. Cubic keys are three each, the tangents before and after the
 * value: they turn and stretch, but are not moved.
 */
function keysElsewhere(
  { path, interpolation, values }: ClipTrack,
  between: Float64Array,
  scaleBefore: Vec3,
  scaleNow: Vec3,
): Float32Array {
  const out = values.slice();
  const size = path === "rotation" ? 4 : 3;
  const turn = decomposeTRS(between, 0).q;
  for (let k = 0, n = 0; k < values.length; k += size, n++) {
    const [x, y, z] = [values[k]!, values[k + 1]!, values[k + 2]!];
    if (path === "rotation") out.set(multiplyQuat(turn, [x, y, z, values[k + 3]!]), k);
    else if (path === "translation")
      out.set(
        interpolation === "CUBICSPLINE" && n % 3 !== 1
          ? transformDirection(between, 0, [x, y, z])
          : transformPoint(between, 0, [x, y, z]),
        k,
      );
    else
      out.set(
        [x, y, z].map((s, c) => (s * scaleNow[c]!) / (scaleBefore[c]! || 1)),
        k,
      );
  }
  return out;
}

/** One joint hung on another. */
export function reparentJoint(character: Character, joint: number, parent: number): Character {
  const old = character.skeleton!.joints;
  return rearrangeJoints(character, { kept: () => true, parent: (j) => (j === joint ? parent : old[j]!.parent) });
}

/** The character without some joints; what hung on them hangs on what is above. */
export function removeJoints(character: Character, gone: ReadonlySet<number>): Character {
  const old = character.skeleton!.joints;
  return rearrangeJoints(character, { kept: (j) => !gone.has(j), parent: (j) => old[j]!.parent });
}

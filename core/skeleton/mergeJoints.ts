import { worldMatrices } from "../evaluate/poseSkeleton";
import { decomposeTRS, invertAffine, multiplyMat4 } from "../math/mat4";
import { NO_JOINT, type Character, type Joint } from "../model/character";
import { UserError } from "../model/userError";

/**
 * A joint that comes from another file: what it hangs on here or among those before it, and where it stands at rest,
 * joint space to character space, column-major.
 */
export interface ComingJoint {
  readonly name: string;
  readonly parent: string;
  readonly rest: readonly number[];
}

/**
 * Joints of a file that the character lacks and that hang, directly or through each other, on one that it has: a
 * facial skeleton on a body's.
 * @param known name there -> name here. @param root joint here that a root which nothing here is called by is hung on;
 * null leaves such a tree out. Only joints that hold skin there, and what they hang on, come from such a tree.
 */
export function comingJoints(
  from: Character,
  to: Character,
  known: ReadonlyMap<string, string>,
  root: string | null = null,
): ComingJoint[] {
  if (!from.skeleton || !to.skeleton) return [];
  const { joints } = from.skeleton;
  const here = new Set(to.skeleton.joints.map((j) => j.name));
  const world = worldMatrices(from.skeleton, {});
  const nameHere = new Map<number, string>();
  const holds = holding(from);
  const out: ComingJoint[] = [];
  joints.forEach((joint, j) => {
    const match = known.get(joint.name) ?? (here.has(joint.name) ? joint.name : undefined);
    if (match !== undefined) return void nameHere.set(j, match);
    const parent = nameHere.get(joint.parent) ?? (holds.has(j) ? root : null);
    if (parent === null) return;
    nameHere.set(j, joint.name);
    out.push({ name: joint.name, parent, rest: Array.from(world.subarray(16 * j, 16 * j + 16)) });
  });
  return out;
}

/** Joints that hold weight, and all above them. */
function holding({ skeleton, parts }: Character): ReadonlySet<number> {
  const out = new Set<number>();
  for (const { skin } of parts)
    skin?.weights.forEach((w, i) => {
      if (w > 0)
        for (let j = skin.joints[i]!; j !== NO_JOINT && !out.has(j); j = skeleton!.joints[j]!.parent) out.add(j);
    });
  return out;
}

/**
 * The character with further joints, each where it stood in its file; nothing is bound to them yet. @throws UserError
 * when a name is taken or a parent is missing.
 */
export function mergeJoints(character: Character, coming: readonly ComingJoint[]): Character {
  if (!character.skeleton) throw new UserError("The character has no skeleton to hang joints on.", "add joints", "");
  const joints: Joint[] = [...character.skeleton.joints];
  const world: number[] = Array.from(worldMatrices(character.skeleton, {}));
  /** Joint space of each coming joint from that of what it hangs on. */
  const fromParent: { readonly parent: number; readonly inverse: Float64Array }[] = [];
  const inverse = new Float64Array(16);
  const local = new Float64Array(16);
  for (const { name, parent, rest } of coming) {
    if (joints.some((j) => j.name === name))
      throw new UserError(`A joint named ${name} is here already.`, "add joints", "Rename it in its file.");
    const up = joints.findIndex((j) => j.name === parent);
    if (up < 0) throw new UserError(`There is no joint named ${parent} to hang ${name} on.`, "add joints", "");
    invertAffine(inverse, 0, world, 16 * up);
    multiplyMat4(local, 0, inverse, 0, rest, 0);
    const { t, q, s } = decomposeTRS(local, 0);
    joints.push({ name, parent: up, translation: t, rotation: q, scale: s });
    world.push(...rest);
    const back = new Float64Array(16);
    invertAffine(back, 0, local, 0);
    fromParent.push({ parent: up, inverse: back });
  }
  // bound as it stands to its parent: a mesh may be bound in another pose than it rests in
  const grown = (from: Float32Array): Float32Array => {
    const out = new Float64Array(from.length + 16 * fromParent.length);
    out.set(from);
    fromParent.forEach(({ parent, inverse: own }, i) =>
      multiplyMat4(out, from.length + 16 * i, own, 0, out, 16 * parent),
    );
    return Float32Array.from(out);
  };
  return {
    ...character,
    skeleton: {
      joints,
      inverseBinds: grown(character.skeleton.inverseBinds),
      inSkin: Uint8Array.from([...character.skeleton.inSkin, ...coming.map(() => 1)]),
    },
    parts: character.parts.map((p) =>
      p.skin?.inverseBinds ? { ...p, skin: { ...p.skin, inverseBinds: grown(p.skin.inverseBinds) } } : p,
    ),
  };
}

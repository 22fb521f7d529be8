import { z } from "zod";
import { PART_KINDS, vertexCountOf, type Character } from "../model/character";
import { HUMANOID_BONES } from "../names/humanoidBones";
import { humanoidMap } from "../skeleton/humanoidMap";
import { matchByWords } from "../names/matchByWords";

/**
 * What a ledger's steps may speak of in the delivery they were made on; kept so that a later delivery with other names
 * can be matched.
 */
export const deliveryNamesSchema = z.object({
  joints: z.array(z.object({ name: z.string(), bone: z.enum(HUMANOID_BONES as [string, ...string[]]).nullable() })),
  parts: z.array(z.object({ name: z.string(), kind: z.enum(PART_KINDS), vertices: z.number().int() })),
  shapes: z.array(z.string()),
  clips: z.array(z.string()),
});
export type DeliveryNames = z.infer<typeof deliveryNamesSchema>;

export function deliveryNames(character: Character): DeliveryNames {
  const map = character.skeleton && humanoidMap(character.skeleton, character.jointMap);
  return {
    joints: (character.skeleton?.joints ?? []).map((j, i) => ({ name: j.name, bone: map?.boneOfJoint[i] ?? null })),
    parts: character.parts.map((p) => ({ name: p.name, kind: p.kind, vertices: vertexCountOf(p) })),
    shapes: character.shapes.map((s) => s.name),
    clips: character.clips.map((c) => c.name),
  };
}

/** What each name of one delivery is called in another; a name that has no match there is left out. */
export interface NameMatches {
  readonly joints: ReadonlyMap<string, string>;
  readonly parts: ReadonlyMap<string, string>;
  readonly shapes: ReadonlyMap<string, string>;
  readonly clips: ReadonlyMap<string, string>;
}

/**
 * Matches names: the same name first, then the same words after what all names begin with; joints also by the humanoid
 * bone they are, parts by being the only one of their kind.
 */
export function matchNames(from: DeliveryNames, to: DeliveryNames): NameMatches {
  const joints = matchByWords(
    from.joints.map((j) => j.name),
    to.joints.map((j) => j.name),
  );
  const jointOfBone = new Map(to.joints.flatMap((j) => (j.bone ? [[j.bone, j.name] as const] : [])));
  for (const { name, bone } of from.joints)
    if (!joints.has(name) && bone && jointOfBone.has(bone)) joints.set(name, jointOfBone.get(bone)!);
  const parts = matchByWords(
    from.parts.map((p) => p.name),
    to.parts.map((p) => p.name),
  );
  for (const { name, kind } of from.parts) {
    const [only, ...more] = to.parts.filter((p) => p.kind === kind);
    if (!parts.has(name) && only && more.length === 0 && from.parts.filter((p) => p.kind === kind).length === 1)
      parts.set(name, only.name);
  }
  return { joints, parts, shapes: matchByWords(from.shapes, to.shapes), clips: matchByWords(from.clips, to.clips) };
}

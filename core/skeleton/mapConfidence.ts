import type { Skeleton } from "../model/character";
import { humanoidMap } from "./humanoidMap";
import { mapByGeometry } from "./mapByGeometry";

export const MAP_GROUNDS = ["by hand", "name and place", "name", "place", "name against place"] as const;

/**
 * What a joint's bone rests on: the hand; name and place that agree; one of them where the other says nothing; a name
 * where the place says another joint.
 */
export type MapGround = (typeof MAP_GROUNDS)[number];

export interface BoneGround {
  readonly ground: MapGround;
  /** Joint that the place speaks for, where it is another. */
  readonly rival: number | null;
}

/** How sure each mapped bone is. @param corrections set by hand, joint name -> bone. */
export function mapConfidence(
  skeleton: Skeleton,
  corrections: Readonly<Record<string, string | null>> = {},
): Map<string, BoneGround> {
  const { jointOfBone } = humanoidMap(skeleton, corrections);
  // what names alone would say: a skeleton whose places tell nothing
  const named = humanoidMap(
    { ...skeleton, joints: skeleton.joints.map((j) => ({ ...j, translation: [0, 0, 0] as const })) },
    corrections,
  ).jointOfBone;
  const placed = mapByGeometry(skeleton);
  const out = new Map<string, BoneGround>();
  for (const [bone, joint] of jointOfBone) {
    const place = placed.get(bone);
    const byName = named.get(bone) === joint;
    const byHand = corrections[skeleton.joints[joint]!.name] === bone;
    const ground = byHand ? "by hand" : groundOf(byName, place, joint);
    out.set(bone, { ground, rival: ground === "name against place" ? place! : null });
  }
  return out;
}

/** What speaks for a joint as a bone: its name, the place that the bone would have, or both. */
function groundOf(byName: boolean, place: number | undefined, joint: number): MapGround {
  if (!byName) return "place";
  if (place === undefined) return "name";
  return place === joint ? "name and place" : "name against place";
}

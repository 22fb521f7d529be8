import type { Character } from "./character";

/**
 * Joints that skins list: those the delivery's skins list, and any that holds weight. The others are plain nodes above,
 * between or below them.
 */
export function skinJoints({ skeleton, parts }: Character): number[] {
  if (!skeleton) return [];
  const listed = skeleton.inSkin.slice();
  for (const { skin } of parts) skin?.weights.forEach((w, i) => w > 0 && (listed[skin.joints[i]!] = 1));
  return [...listed.keys()].filter((j) => listed[j]);
}

/** How many joints a character has, without plain nodes. */
export const jointCount = (character: Character): number => skinJoints(character).length;

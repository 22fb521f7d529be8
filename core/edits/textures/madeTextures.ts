import type { Character } from "../../model/character";
import { UserError } from "../../model/userError";

/** A texture that stands in a material after a step. */
export interface MadeTexture {
  readonly material: number;
  readonly bytes: Uint8Array;
}

/**
 * Textures that differ between a character and what a step made of it; null when the step did anything else than that.
 */
export function madeTextures(before: Character, after: Character): MadeTexture[] | null {
  if (
    before.materials.length !== after.materials.length ||
    before.parts !== after.parts ||
    before.shapes !== after.shapes ||
    before.skeleton !== after.skeleton
  )
    return null;
  return after.materials.flatMap((m, i) =>
    m.texture && m.texture.bytes !== before.materials[i]!.texture?.bytes
      ? [{ material: i, bytes: m.texture.bytes }]
      : [],
  );
}

/**
 * The character with those textures in its materials; materials that shared one share it again. @throws UserError when
 * a material has no texture.
 */
export function takeTextures(character: Character, made: readonly MadeTexture[]): Character {
  const at = new Map(made.map((m) => [m.material, m.bytes]));
  const missing = made.find((m) => !character.materials[m.material]?.texture);
  if (missing) throw new UserError(`There is no textured material ${missing.material}.`, "textures", "");
  return {
    ...character,
    materials: character.materials.map((m, i) =>
      at.has(i) && m.texture ? { ...m, texture: { ...m.texture, bytes: at.get(i)! } } : m,
    ),
  };
}

import { imagesOf } from "../../model/materialLook";
import { imageSize } from "../../formats/imageSize";
import type { Character, Material } from "../../model/character";
import { untold, within, type ShareDone } from "../../model/shareDone";
import { UserError } from "../../model/userError";
import { shrinkImage } from "./shrinkImage";

/** Longer side of a material's texture in pixels; 0 where it has none or one of another format. */
export function textureSide({ texture }: Material): number {
  const size = texture && imageSize(texture.bytes);
  return size ? Math.max(size.width, size.height) : 0;
}

/** Bytes of all textures together; one that several materials share is counted once. */
export const textureBytes = ({ materials }: Character): number =>
  [...new Set(materials.flatMap(imagesOf))].reduce((n, b) => n + b.length, 0);

/**
 * The character with every larger texture, or those of one part, brought down to so many pixels on the longer side.
 * @throws UserError when none is larger.
 */
export function shrinkTextures(
  character: Character,
  longest: number,
  partName: string | null = null,
  tell: ShareDone = untold,
): Character {
  const part = partName === null ? null : character.parts.find((p) => p.name === partName);
  if (part === undefined) throw new UserError(`There is no part named ${partName}.`, "textures", "");
  const concerned = character.materials.map(
    (m, i) => textureSide(m) > longest && (part === null || part.groups.some((g) => g.material === i)),
  );
  if (!concerned.includes(true)) throw new UserError(`No texture is larger than ${longest} pixels.`, "textures", "");
  // how long one takes goes by its pixels
  const sizes = new Map(
    character.materials.flatMap((m, i): [Uint8Array, number][] =>
      concerned[i] && m.texture ? [[m.texture.bytes, textureSide(m) ** 2]] : [],
    ),
  );
  const total = [...sizes.values()].reduce((a, b) => a + b, 0);
  const made = new Map<Uint8Array, Uint8Array>();
  let done = 0;
  for (const [bytes, size] of sizes) {
    made.set(
      bytes,
      shrinkImage(
        bytes,
        longest,
        character.materials.find((m) => m.texture?.bytes === bytes)!.name,
        within(tell, done / total, (done + size) / total),
      ),
    );
    done += size;
  }
  return {
    ...character,
    materials: character.materials.map((m, i) =>
      concerned[i] && m.texture ? { ...m, texture: { ...m.texture, bytes: made.get(m.texture.bytes)! } } : m,
    ),
  };
}

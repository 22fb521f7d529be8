import { LinearMipmapNearestFilter, NoColorSpace, RepeatWrapping, SRGBColorSpace, Texture } from "three";
import type { TextureImage } from "~core/model/character";
import { decodedImage } from "./decodedImage";
import { drawsInSoftware } from "./softwareRenderer";

/** Longest side that the stage draws, pixels. */
const MOST_PIXELS = 2048;

/** Samples along the slant of a surface seen at a glancing angle, where they cost nothing. */
const ANISOTROPY = 4;

/** What a picture holds: colours, or numbers such as normals and roughness. */
type Content = "colour" | "data";

/** Pictures that were decoded, by their bytes; null for what the browser cannot read. */
const known: Readonly<Record<Content, WeakMap<Uint8Array, Promise<Texture | null>>>> = {
  colour: new WeakMap(),
  data: new WeakMap(),
};

/** A texture of a material for drawing, made smaller where it is very large; decoded once, off the page's thread. */
export function stageTexture(image: TextureImage, content: Content = "colour"): Promise<Texture | null> {
  const made = known[content].get(image.bytes) ?? decode(image, content).catch(() => null);
  known[content].set(image.bytes, made);
  return made;
}

async function decode(image: TextureImage, content: Content): Promise<Texture> {
  const bitmap = await decodedImage(image, MOST_PIXELS);
  const texture = new Texture(bitmap);
  // texture coordinates count from the top, as in glTF
  texture.flipY = false;
  texture.colorSpace = content === "colour" ? SRGBColorSpace : NoColorSpace;
  texture.wrapS = texture.wrapT = RepeatWrapping;
  if (drawsInSoftware()) texture.minFilter = LinearMipmapNearestFilter;
  else texture.anisotropy = ANISOTROPY;
  texture.needsUpdate = true;
  return texture;
}

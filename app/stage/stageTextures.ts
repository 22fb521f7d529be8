import { LinearMipmapNearestFilter, NoColorSpace, RepeatWrapping, SRGBColorSpace, Texture } from "three";
import { imageSize } from "~core/formats/imageSize";
import type { TextureImage } from "~core/model/character";
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

async function decode({ bytes, mimeType }: TextureImage, content: Content): Promise<Texture> {
  const size = imageSize(bytes);
  const shrink = size ? Math.min(1, MOST_PIXELS / Math.max(size.width, size.height)) : 1;
  const fitted =
    size && shrink < 1
      ? { resizeWidth: Math.round(size.width * shrink), resizeHeight: Math.round(size.height * shrink) }
      : {};
  const bitmap = await createImageBitmap(new Blob([bytes as Uint8Array<ArrayBuffer>], { type: mimeType }), {
    premultiplyAlpha: "none",
    colorSpaceConversion: "none",
    ...fitted,
  });
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

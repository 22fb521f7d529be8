import { imageSize } from "~core/formats/imageSize";
import type { TextureImage } from "~core/model/character";

/** Decodes an image as its file has it, made smaller where a side is longer than asked. @throws if it cannot be. */
export function decodedImage(
  { bytes, mimeType }: Pick<TextureImage, "bytes" | "mimeType">,
  mostPixels: number,
): Promise<ImageBitmap> {
  const size = imageSize(bytes);
  const shrink = size ? Math.min(1, mostPixels / Math.max(size.width, size.height)) : 1;
  const fitted =
    size && shrink < 1
      ? { resizeWidth: Math.round(size.width * shrink), resizeHeight: Math.round(size.height * shrink) }
      : {};
  return createImageBitmap(new Blob([bytes as Uint8Array<ArrayBuffer>], { type: mimeType }), {
    premultiplyAlpha: "none",
    colorSpaceConversion: "none",
    ...fitted,
  });
}

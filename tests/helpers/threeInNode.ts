import { decode as decodePng } from "fast-png";

/** A picture as three's loaders hand it over here: numbers, row by row from the top. */
export interface ReadPicture {
  readonly width: number;
  readonly height: number;
  readonly channels: number;
  readonly data: ArrayLike<number>;
}

/** Gives three's loaders what they expect of a browser; textures (PNG) are decoded with fast-png. */
export function threeInNode(): void {
  Object.assign(globalThis, {
    self: globalThis,
    ProgressEvent: class extends Event {},
    createImageBitmap: async (blob: Blob): Promise<ReadPicture> => decodePng(new Uint8Array(await blob.arrayBuffer())),
  });
}

import type { Deformed, Rig } from "~core/deform/rig";
import { readPng } from "~core/edits/textures/readPng";
import { unpackedPng } from "~core/edits/textures/unpackedPng";
import { imageSize, isPng } from "~core/formats/imageSize";
import type { Vec3 } from "~core/math/vec3";
import { decodedImage } from "../decodedImage";
import { FIELD_OF_VIEW } from "../framings";
import { makeFrame, type Frame } from "./raster/frame";
import { lensOf } from "./raster/lens";
import { paintSurfaces } from "./raster/paintSurfaces";
import { pixelImage, type PixelImage } from "./raster/pixelImage";
import { surfacesOf, type Decode } from "./raster/surfaces";

/** Longest side of an image that small pictures show anything of, pixels. */
const MOST_PIXELS = 1024;
/** PNG up to this side are read here: the browser's way by a canvas takes longer for them. */
const SMALL = 256;

/** Images that were decoded, by their bytes; null for what the browser cannot read. */
const known = new WeakMap<Uint8Array, Promise<PixelImage | null>>();

const decode: Decode = (image) => {
  const made = known.get(image.bytes) ?? pixelsOf(image).catch(() => null);
  known.set(image.bytes, made);
  return made;
};

async function pixelsOf(image: Parameters<Decode>[0]): Promise<PixelImage> {
  const size = imageSize(image.bytes);
  if (size && isPng(image.bytes) && Math.max(size.width, size.height) <= SMALL)
    return pixelImage(readPng(await unpackedPng(image.bytes)));
  const bitmap = await decodedImage(image, MOST_PIXELS);
  const { width, height } = bitmap;
  const context = new OffscreenCanvas(width, height).getContext("2d", { willReadFrequently: true })!;
  context.drawImage(bitmap, 0, 0);
  bitmap.close();
  return pixelImage(context.getImageData(0, 0, width, height));
}

/** One for all characters: pictures come one after the other, and mostly of one size. */
let target: { readonly frame: Frame; readonly canvas: OffscreenCanvas } | null = null;

function targetOf(width: number, height: number): NonNullable<typeof target> {
  if (target?.frame.width === width && target.frame.height === height) return target;
  return (target = { frame: makeFrame(width, height), canvas: new OffscreenCanvas(width, height) });
}

/** Sets up a browser's canvas of a size, and its writing of PNG, which take long the first time. */
export function readyCanvas(width: number, height: number): Promise<unknown> {
  return onCanvas(targetOf(width, height)).convertToBlob({ type: "image/png" });
}

/** The canvas with what was painted on it. */
function onCanvas({ canvas, frame }: NonNullable<typeof target>): OffscreenCanvas {
  const pixels = new ImageData(frame.color, frame.width, frame.height);
  canvas.getContext("2d", { willReadFrequently: true })!.putImageData(pixels, 0, 0);
  return canvas;
}

export interface PictureSize {
  /** Pixels. */
  readonly width: number;
  readonly height: number;
  /** Whether each pixel is shaded; else pieces of two by two are, for pictures that are shown at half their size. */
  readonly fine: boolean;
}

/** Draws a character in its natural look, dressed. @returns a canvas that is good until the next picture. */
export type Paint = (from: Vec3, at: Vec3, size: PictureSize) => OffscreenCanvas;

/**
 * Makes ready to draw a character on the processor: no graphics card is waited for, nor its programs, and browsers
 * without one draw several times as many as they would by way of their own stand-in for it.
 *
 * @param deformed whose arrays are drawn from then on.
 */
export async function painterOf(rig: Rig, deformed: Deformed): Promise<Paint> {
  const surfaces = await surfacesOf(rig, decode);
  const parts = deformed.drawn.map((points, p) => ({
    points,
    normals: deformed.normals[p]!,
    screen: new Float32Array(points.length),
  }));
  return (from, at, { width, height, fine }) => {
    const on = targetOf(width, height);
    paintSurfaces(on.frame, lensOf(from, at, FIELD_OF_VIEW, width, height), surfaces, parts, fine);
    return onCanvas(on);
  };
}

/** A picture while it is drawn: what is seen in each pixel, and its colour. Row by row from the top. */
export interface Frame {
  readonly width: number;
  readonly height: number;
  /** One over the distance along the axis of what is nearest; 0 where nothing is. */
  readonly near: Float32Array;
  /** First corner of the triangle that is seen, as a place in its part's list. */
  readonly corner: Int32Array;
  /** One more than the surface that is seen; 0 for none. */
  readonly surface: Uint16Array;
  /** sRGB and opacity, 8 bits each, not multiplied. */
  readonly color: Uint8ClampedArray<ArrayBuffer>;
}

export function makeFrame(width: number, height: number): Frame {
  const pixels = width * height;
  return {
    width,
    height,
    near: new Float32Array(pixels),
    corner: new Int32Array(pixels),
    surface: new Uint16Array(pixels),
    color: new Uint8ClampedArray(4 * pixels),
  };
}

export function clearFrame({ near, surface, color }: Frame): void {
  near.fill(0);
  surface.fill(0);
  color.fill(0);
}

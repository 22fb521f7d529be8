import { lerp, type Vec3 } from "../../../core/math/vec3";

/** Linear RGB of an sRGB colour given 0..255 (IEC 61966-2-1). */
export const colour = (r: number, g: number, b: number): Vec3 =>
  [r, g, b].map((v) => {
    const c = v / 255;
    return c <= 0.04045 ? c / 12.92 : Math.pow((c + 0.055) / 1.055, 2.4);
  }) as unknown as Vec3;
export const mixColour = lerp;

/** A number 0..1 that looks random but is the same every time for the same n. */
export function scatter(n: number): number {
  const v = Math.sin(n * 127.1 + 311.7) * 43758.5453;
  return v - Math.floor(v);
}

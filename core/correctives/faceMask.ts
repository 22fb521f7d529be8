import type { Vec3 } from "../math/vec3";
import { smoothStep } from "../math/smoothStep";

export const FACE_AREAS = ["anywhere", "brows", "eyes", "nose and cheeks", "mouth", "painted"] as const;
export type FaceArea = (typeof FACE_AREAS)[number];

/**
 * Borders between the areas over the line of the eyes, in eye distances; the same as those between the regions of
 * shapes.
 */
const BORDERS: Readonly<Record<Exclude<FaceArea, "anywhere" | "painted">, readonly [low: number, high: number]>> = {
  brows: [0.2, 1.2],
  eyes: [-0.28, 0.2],
  "nose and cheeks": [-0.72, -0.28],
  mouth: [-1.9, -0.72],
};
/** Half of the width over which an area fades out at its borders, eye distances. */
const SOFT = 0.09;
/** How far behind the eyes the face still counts, eye distances. */
const BEHIND = 1.1;

/**
 * Where a brush may act on a face: 0 to 1 for each vertex, soft at the borders. @param positions at rest, 3 x
 * vertexCount. @param eyes middle between the eyes and their distance, metres; without them the brush may act anywhere.
 * @param painted what was painted over the part, for that area.
 */
export function faceMask(
  area: FaceArea,
  positions: Float32Array,
  eyes: { readonly centre: Vec3; readonly span: number } | null,
  painted: Float32Array | null = null,
): Float32Array {
  const out = new Float32Array(positions.length / 3).fill(1);
  if (area === "painted") return painted ?? out.fill(0);
  if (area === "anywhere" || !eyes) return out;
  const [low, high] = BORDERS[area];
  const rise = (x: number): number => smoothStep((x + SOFT) / (2 * SOFT));
  return out.map((_, v) => {
    const y = (positions[3 * v + 1]! - eyes.centre[1]) / eyes.span;
    const z = (positions[3 * v + 2]! - eyes.centre[2]) / eyes.span;
    return rise(y - low) * rise(high - y) * rise(z + BEHIND);
  });
}

import { worldMatrices } from "../evaluate/poseSkeleton";
import { translationOf } from "../math/mat4";
import { length, sub, type Vec3 } from "../math/vec3";
import { isDriven, type Character, type Shape } from "../model/character";
import { shapeMeaning } from "../names/shapeMeaning";
import type { HumanoidMap } from "../skeleton/humanoidMap";

export const SHAPE_REGIONS = [
  "brows",
  "lids",
  "gaze",
  "nose",
  "cheeks",
  "lips",
  "jaw",
  "tongue",
  "neck",
  "body",
  "correctives",
] as const;
export type ShapeRegion = (typeof SHAPE_REGIONS)[number];
export type ShapeSide = "left" | "right" | "both";

export interface ShapePlace {
  readonly region: ShapeRegion;
  readonly side: ShapeSide;
}

/** Centre of the eyes and the distance between them in bind space; null when no eyes are known. */
export function eyeFrame(character: Character, map: HumanoidMap | null): { centre: Vec3; span: number } | null {
  const left = map?.jointOfBone.get("leftEye");
  const right = map?.jointOfBone.get("rightEye");
  if (!character.skeleton || left === undefined || right === undefined) return null;
  const world = worldMatrices(character.skeleton, {});
  const a = translationOf(world, 16 * left);
  const b = translationOf(world, 16 * right);
  return { centre: [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2], span: length(sub(a, b)) };
}

/**
 * Units whose movement is largest beside the region they are named for (FACS, Ekman, Friesen & Hager 2002): a raised
 * cheek pushes the lid, gaze takes the lids along.
 */
const OF_UNIT: ReadonlyMap<number, ShapeRegion> = new Map([
  [6, "cheeks"],
  [33, "cheeks"],
  [34, "cheeks"],
  [35, "cheeks"],
  [9, "nose"],
  [38, "nose"],
  [39, "nose"],
  [21, "neck"],
  [19, "tongue"],
  [28, "lips"],
  [61, "gaze"],
  [62, "gaze"],
  [63, "gaze"],
  [64, "gaze"],
  [65, "gaze"],
  [66, "gaze"],
]);
const namedRegion = (name: string): ShapeRegion | undefined => {
  const meaning = shapeMeaning(name);
  return meaning?.system === "unit"
    ? OF_UNIT.get(meaning.unit)
    : meaning?.system === "preset" && meaning.name.startsWith("look")
      ? "gaze"
      : undefined;
};

/** Movement nearer to the middle than this is the nose's, and between these heights the neck's; eye distances. */
const NOSE = 0.38;
const CHIN = -2;
const THROAT = -3.6;

/**
 * Face region and side of a shape, read from what it moves: the centre of its movement (weighted by squared length)
 * against the eye line, in eye distances; a name counts only where it is a published one that says better. Driven
 * shapes are correctives. The borders between regions are common practice, no source.
 */
export function shapePlace(
  character: Character,
  shape: Shape,
  eyes: { centre: Vec3; span: number } | null,
): ShapePlace {
  const sum: [number, number, number] = [0, 0, 0];
  let total = 0;
  let onTongue = 0;
  let onTeeth = 0;
  let onEyes = 0;
  let left = 0;
  let beside = 0;
  for (const delta of shape.deltas) {
    const part = character.parts[delta.part]!;
    const { positions } = part;
    const { vertices, deltas } = delta;
    let [own, sumX, sumY, sumZ] = [0, 0, 0, 0];
    for (let k = 0; k < vertices.length; k++) {
      const w = deltas[3 * k]! ** 2 + deltas[3 * k + 1]! ** 2 + deltas[3 * k + 2]! ** 2;
      const v = 3 * vertices[k]!;
      const x = positions[v]!;
      sumX += w * x;
      sumY += w * positions[v + 1]!;
      sumZ += w * positions[v + 2]!;
      own += w;
      beside += w * Math.abs(x);
      if (x > 0) left += w;
    }
    sum[0] += sumX;
    sum[1] += sumY;
    sum[2] += sumZ;
    total += own;
    if (part.kind === "tongue") onTongue += own;
    if (part.kind === "teeth") onTeeth += own;
    if (part.kind === "eye") onEyes += own;
  }
  const share = total > 0 ? left / total : 0.5;
  const side: ShapeSide = share > 0.8 ? "left" : share < 0.2 ? "right" : "both";
  if (isDriven(character, shape.name)) return { region: "correctives", side };
  if (!eyes || total === 0 || shape.jointOffsets?.length) return { region: "body", side };
  if (onTongue > 0.5 * total) return { region: "tongue", side: "both" };
  const [x, y, z] = [0, 1, 2].map((c) => (sum[c]! / total - eyes.centre[c]!) / eyes.span) as [number, number, number];
  const named = namedRegion(shape.name);
  if (named) return { region: named, side };
  if (y < CHIN && y > THROAT && Math.hypot(x, z) < 1.6 && onTeeth === 0) return { region: "neck", side };
  if (Math.hypot(x, y, z) > 3) return { region: "body", side };
  if (onEyes > 0.5 * total) return { region: "gaze", side };
  if (onTeeth > 0.02 * total) return { region: "jaw", side };
  if (y > 0.2) return { region: "brows", side };
  if (y > -0.28) return { region: "lids", side };
  if (y <= -0.72) return { region: "lips", side };
  return { region: beside / total / eyes.span < NOSE ? "nose" : "cheeks", side };
}

import { invertAffine, multiplyMat4, transformDirection, transformPoint } from "../math/mat4";
import { degrees, dot, normalize, scale, sub, type Vec3 } from "../math/vec3";
import { NO_JOINT } from "../model/character";
import type { JointGauge } from "./measureJoint";
import type { JointRegion } from "./jointRegion";

/** How a joint folds the skin in a pose. Character space, metres, unit vectors. */
export interface JointFold {
  /** Posed place of the joint. */
  readonly centre: Vec3;
  /** Normal of the plane that halves the bend and in which both sides of the skin meet; towards the moving side. */
  readonly across: Vec3;
  /** In that plane, square to the bend's axis: from the joint into the fold. */
  readonly into: Vec3;
  /** The way from the limb that stays to the limb that moves, at rest, and as either of the two carries it. */
  readonly along: Vec3;
  readonly still: Vec3;
  readonly moving: Vec3;
  /** How far it is bent, twist left out. */
  readonly degrees: number;
}

/** Bent less than this nothing folds, degrees. */
const FLAT = 20;

const ways = new WeakMap<JointRegion, Vec3>();
/** The way from the limb that stays to the limb that moves at rest: where the share of weights grows. */
function alongOf(region: JointRegion, rest: Float32Array): Vec3 {
  const known = ways.get(region);
  if (known) return known;
  const sum: [number, number, number] = [0, 0, 0];
  for (let e = 0; e < region.edges.length; e += 2) {
    const [a, b] = [region.edges[e]!, region.edges[e + 1]!];
    const by = region.share[b]! - region.share[a]!;
    for (let k = 0; k < 3; k++) sum[k]! += by * (rest[3 * b + k]! - rest[3 * a + k]!);
  }
  const way = normalize(sum);
  ways.set(region, way);
  return way;
}

const back = new Float64Array(16);
/** What a pose does to a joint's skin against rest: its matrix after the inverse of its matrix at rest. */
function sinceRest(joint: number, posed: ArrayLike<number>, rest: Float64Array): Float64Array {
  const out = new Float64Array(16);
  invertAffine(back, 0, rest, 16 * joint);
  multiplyMat4(out, 0, posed, 16 * joint, back, 0);
  return out;
}

/**
 * @param matrices 16 x jointCount skinning matrices of the pose.
 * @returns null where the joint is bent too little to fold the skin, or only twisted.
 */
export function jointFold(
  { region, rig, rest, restMatrices }: JointGauge,
  matrices: ArrayLike<number>,
): JointFold | null {
  const { joint, centre } = region;
  const { parent } = rig.character.skeleton!.joints[joint]!;
  if (parent === NO_JOINT) return null;
  const along = alongOf(region, rest);
  const still = normalize(transformDirection(sinceRest(parent, matrices, restMatrices), 0, along));
  const own = sinceRest(joint, matrices, restMatrices);
  const moving = normalize(transformDirection(own, 0, along));
  const bent = degrees(Math.acos(Math.max(-1, Math.min(1, dot(still, moving)))));
  if (!(bent >= FLAT)) return null;
  return {
    centre: transformPoint(own, 0, centre),
    across: normalize([still[0] + moving[0], still[1] + moving[1], still[2] + moving[2]]),
    into: normalize(sub(moving, still)),
    along,
    still,
    moving,
    degrees: bent,
  };
}

/**
 * Skin over the tip of a bent joint (the point of the elbow, the knee cap, a knuckle): behind both limbs' ends.
 * @param P posed, 3 x vertexCount. @returns its distance from the joint, and from the bone's line at rest, metres; null
 * for other skin.
 */
export function overTip(
  { region, rest }: JointGauge,
  fold: JointFold,
  P: Float32Array,
  v: number,
): { readonly posed: number; readonly rest: number } | null {
  const x: Vec3 = [P[3 * v]! - fold.centre[0], P[3 * v + 1]! - fold.centre[1], P[3 * v + 2]! - fold.centre[2]];
  if (dot(x, fold.into) >= 0 || dot(x, fold.moving) > 0 || dot(x, fold.still) < 0) return null;
  const { centre } = region;
  const from: Vec3 = [rest[3 * v]! - centre[0], rest[3 * v + 1]! - centre[1], rest[3 * v + 2]! - centre[2]];
  return { posed: Math.hypot(...x), rest: Math.hypot(...sub(from, scale(fold.along, dot(from, fold.along)))) };
}

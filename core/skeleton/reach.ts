import { betweenDirections, conjugate, multiplyQuat, rotate } from "../math/quat";
import { add, clamp, cross, dot, length, normalize, scale, sub, type Quat, type Vec3 } from "../math/vec3";

/** A limb of two bones in space: its three joints, and how the first two are turned. */
export interface TwoBones {
  readonly root: Vec3;
  readonly middle: Vec3;
  readonly end: Vec3;
  readonly rootTurn: Quat;
  readonly middleTurn: Quat;
}

export interface Reached {
  readonly rootTurn: Quat;
  readonly middleTurn: Quat;
  readonly middle: Vec3;
  readonly end: Vec3;
  /** How far the end stays from the target, metres. */
  readonly short: number;
}

/** A limb is not drawn out further than this share of its length, so that the knee never snaps straight. */
const STRAIGHT = 0.9995;

/**
 * Two joints turned so that the end of the limb stands at a target, by the law of cosines; the limb folds in the plane
 * in which it folds already, and bones keep their length. A target out of reach is approached along the straight line.
 * @param pole which way the middle joint points where the limb is straight, a direction in space.
 */
export function reach(limb: TwoBones, target: Vec3, pole: Vec3): Reached {
  const { root, middle, end } = limb;
  const [a, b] = [length(sub(middle, root)), length(sub(end, middle))];
  const wanted = sub(target, root);
  const away = clamp(length(wanted), Math.abs(a - b) + 1e-6, STRAIGHT * (a + b));
  const along = length(wanted) > 1e-9 ? normalize(wanted) : normalize(sub(end, root));
  // the direction in which the middle joint stands off the line from root to end
  const line = normalize(sub(end, root));
  const off = sub(sub(middle, root), scale(line, dot(sub(middle, root), line)));
  const fold = length(off) > 1e-4 * (a + b) ? normalize(off) : normalize(pole);
  const carried = rotate(betweenDirections(line, along), fold);
  const aside = normalize(sub(carried, scale(along, dot(carried, along))));
  const cosine = clamp((a * a + away * away - b * b) / (2 * a * away), -1, 1);
  const sine = Math.sqrt(1 - cosine * cosine);
  const knee = add(root, add(scale(along, a * cosine), scale(aside, a * sine)));
  const tip = add(root, scale(along, away));
  // each bone is turned so that both its direction and the side it folds to go along
  const before = frame(sub(middle, root), fold);
  const after = frame(sub(knee, root), aside);
  const rootTurn = multiplyQuat(multiplyQuat(after, conjugate(before)), limb.rootTurn);
  const turned = multiplyQuat(multiplyQuat(after, conjugate(before)), limb.middleTurn);
  const now = rotate(multiplyQuat(after, conjugate(before)), sub(end, middle));
  const middleTurn = multiplyQuat(betweenDirections(now, sub(tip, knee)), turned);
  return { rootTurn, middleTurn, middle: knee, end: tip, short: length(sub(tip, target)) };
}

/** The turn of a frame whose y lies along a direction and whose z leans to a side. */
function frame(along: Vec3, side: Vec3): Quat {
  const y = normalize(along);
  const x = cross(y, side);
  const flat = length(x) > 1e-9 ? normalize(x) : normalize(cross(y, Math.abs(y[0]) < 0.9 ? [1, 0, 0] : [0, 0, 1]));
  const first = betweenDirections([0, 1, 0], y);
  const twist = betweenDirections(rotate(first, [1, 0, 0]), flat);
  return multiplyQuat(twist, first);
}

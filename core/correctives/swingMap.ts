import { worldMatrices } from "../evaluate/poseSkeleton";
import { decomposeTRS } from "../math/mat4";
import { betweenDirections, conjugate, multiplyQuat, rotate } from "../math/quat";
import { cross, degrees, dot, normalize, radians, scale, sub, type Quat, type Vec3 } from "../math/vec3";
import type { Skeleton } from "../model/character";
import type { JointMotion } from "../skeleton/jointMotions";

/**
 * A map of the directions in which a bone can point, seen from where it points at rest: the distance from the middle is
 * the angle from rest, degrees; up on the map is up in the character's space, or forward where the bone itself stands
 * upright.
 */
export interface SwingMap {
  readonly along: Vec3;
  readonly up: Vec3;
  readonly right: Vec3;
  /** What lies at the top, right, bottom and left of the map. */
  readonly sides: readonly [string, string, string, string];
}

const WORDS: readonly (readonly [Vec3, string])[] = [
  [[0, 1, 0], "up"],
  [[0, -1, 0], "down"],
  [[0, 0, 1], "front"],
  [[0, 0, -1], "back"],
  [[1, 0, 0], "left"],
  [[-1, 0, 0], "right"],
];
/** What a direction of the character's space is nearest to. */
const word = (v: Vec3): string => WORDS.reduce((best, w) => (dot(w[0], v) > dot(best[0], v) ? w : best))[1];

/**
 * @param along where the bone points, unit vector in the joint's own frame. @param frame the joint's frame at rest, in
 * the character's space.
 */
export function swingMap(along: Vec3, frame: Quat): SwingMap {
  const out = rotate(frame, along);
  const lead: Vec3 = Math.abs(out[1]) > 0.8 ? [0, 0, 1] : [0, 1, 0];
  const up = normalize(sub(lead, scale(out, dot(lead, out))));
  const right = cross(scale(out, -1), up);
  const back = conjugate(frame);
  return {
    along,
    up: rotate(back, up),
    right: rotate(back, right),
    sides: [word(up), word(right), word(scale(up, -1)), word(scale(right, -1))],
  };
}

/** The map of a joint of a skeleton, by its index. */
export const swingMapAt = (skeleton: Skeleton, joint: number, along: Vec3): SwingMap =>
  swingMap(along, decomposeTRS(worldMatrices(skeleton, {}), 16 * joint).q);

export type Place = readonly [x: number, y: number];

/** Where a direction lies on the map, degrees. */
export function placeOf({ along, up, right }: SwingMap, direction: Vec3): Place {
  const [x, y, z] = [dot(direction, right), dot(direction, up), dot(direction, along)];
  const off = degrees(Math.atan2(Math.hypot(x, y), z));
  const flat = Math.hypot(x, y);
  return flat < 1e-12 ? [0, off] : [(off * x) / flat, (off * y) / flat];
}

/** The direction that lies at a place of the map; beyond 180 degrees it is the one opposite to rest. */
export function directionAt({ along, up, right }: SwingMap, [x, y]: Place): Vec3 {
  const off = Math.hypot(x, y);
  if (off < 1e-9) return along;
  const angle = radians(Math.min(180, off));
  const side = normalize([
    (x * right[0] + y * up[0]) / off,
    (x * right[1] + y * up[1]) / off,
    (x * right[2] + y * up[2]) / off,
  ]);
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  return normalize([c * along[0] + s * side[0], c * along[1] + s * side[1], c * along[2] + s * side[2]]);
}

/** The turn that brings the bone to a place of the map without turning it about itself, and then that twist. */
export const turnTo = (map: SwingMap, place: Place, twist: Quat): Quat =>
  multiplyQuat(betweenDirections(map.along, directionAt(map, place)), twist);

/** What of a turn is about the bone itself. */
export function twistOf(along: Vec3, turn: Quat): Quat {
  const swing = betweenDirections(along, rotate(turn, along));
  return multiplyQuat(conjugate(swing), turn);
}

/** Steps in which the coast is drawn, degrees of azimuth. */
const COAST_STEP = 6;

/**
 * How far the bone goes in every direction by the ranges of its motions, as a line round the map: an ellipse's quarter
 * between two motions. Empty where no motion swings it.
 */
export function coastOf(map: SwingMap, motions: readonly Pick<JointMotion, "axis" | "min" | "max">[]): Place[] {
  const swings = motions.filter((m) => Math.abs(dot(m.axis, map.along)) < 0.6);
  if (swings.length === 0) return [];
  return Array.from({ length: 360 / COAST_STEP }, (_, i): Place => {
    const azimuth = radians(i * COAST_STEP);
    const way: Vec3 = [0, 1, 2].map(
      (k) => Math.cos(azimuth) * map.right[k]! + Math.sin(azimuth) * map.up[k]!,
    ) as unknown as Vec3;
    const axis = cross(map.along, way);
    const share = swings.reduce((sum, m) => {
      const c = dot(axis, m.axis);
      const limit = Math.max(1, c > 0 ? m.max : -m.min);
      return sum + (Math.abs(c) < 1e-6 ? 0 : (c / limit) ** 2);
    }, 0);
    const reach = Math.min(180, share > 1e-9 ? 1 / Math.sqrt(share) : 0);
    return [reach * Math.cos(azimuth), reach * Math.sin(azimuth)];
  });
}

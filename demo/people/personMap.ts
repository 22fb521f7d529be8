import { normalize, scale, sub, add, dot, type Vec3 } from "../../core/math/vec3";
import { monotoneTable } from "../modelling/monotoneTable";
import { BASE, type Person, type Push } from "./people";
import { smoothStep } from "../../core/math/smoothStep";

export type PointMap = (p: Vec3) => Vec3;

const { unit: UNIT } = BASE;

/** Beyond so many squared widths a push is less than any digit of a place. */
const OUT_OF_REACH = 100;

/** Adds soft pushes to a point; those off the middle act on both sides. */
export function pushed(pushes: readonly Push[], p: Vec3): Vec3 {
  let [x, y, z] = p;
  for (const { centre, width, by } of pushes)
    for (const side of centre[0] === 0 ? [1] : [1, -1]) {
      const high = ((p[1] - centre[1]) / width[1]) ** 2;
      if (high > OUT_OF_REACH) break;
      const d = ((p[0] - side * centre[0]) / width[0]) ** 2 + high + ((p[2] - centre[2]) / width[2]) ** 2;
      if (d > OUT_OF_REACH) continue;
      const share = Math.exp(-d);
      x += side * share * by[0];
      y += share * by[1];
      z += share * by[2];
    }
  return [x, y, z];
}

/** Factor for a coordinate that differs in front and behind, turned from one to the other without a step. */
const frontOrBehind = (z: number, front: number, behind: number, soft: number): number => {
  const t = 0.5 + 0.5 * Math.tanh(z / soft);
  return behind + (front - behind) * t;
};

/** Trunk and neck: heights by table, width and depth by factors of the height. Metres. */
export function torsoMap(person: Person): PointMap {
  const height = monotoneTable(person.body.height);
  const factors = monotoneTable(person.body.torso);
  return (p) => {
    const [x, y, z] = pushed(person.body.pushes, p);
    const [width, behind, front] = factors(y) as [number, number, number];
    return [x * width, height(y)[0]!, z * frontOrBehind(z, front, behind, 0.02)];
  };
}

/**
 * Head: a table for each direction about the head's origin, the nose scaled about its own middle, soft pushes. Metres.
 */
export function headMap(person: Person): PointMap {
  const { at, height, width, depth, pushes, nose } = person.head;
  const heights = monotoneTable(height);
  const widths = monotoneTable(width);
  const depths = monotoneTable(depth);
  const warp = (q: Vec3): Vec3 => {
    const [wFront, wBehind] = widths(q[1]) as [number, number];
    const [dFront, dBehind] = depths(q[1]) as [number, number];
    return [
      q[0] * frontOrBehind(q[2], wFront, wBehind, 30),
      heights(q[1])[0]! + beyond(height, q[1]),
      q[2] * frontOrBehind(q[2], dFront, dBehind, 30),
    ];
  };
  const noseAt: Vec3 = [...BASE.nose];
  const noseTo = warp(noseAt);
  return (p) => {
    const q = scale(sub(p, BASE.headAt as Vec3), 1 / UNIT);
    const plain = warp(pushed(pushes, q));
    // around the nose its own factors take over
    const d = ((q[0] - noseAt[0]) / 15) ** 2 + ((q[1] - noseAt[1]) / 22) ** 2 + ((q[2] - noseAt[2] - 6) / 20) ** 2;
    const share = Math.exp(-d * d);
    const own: Vec3 = [
      noseTo[0] + (q[0] - noseAt[0]) * nose[0],
      noseTo[1] + (q[1] - noseAt[1]) * nose[1],
      noseTo[2] + (q[2] - noseAt[2]) * nose[2],
    ];
    const mixed = add(plain, scale(sub(own, plain), share));
    return add(at as Vec3, scale(mixed, UNIT));
  };
}

/** What a height table leaves constant outside its rows goes on with slope 1. */
const beyond = (rows: readonly (readonly number[])[], y: number): number =>
  y > rows[rows.length - 1]![0]! ? y - rows[rows.length - 1]![0]! : y < rows[0]![0]! ? y - rows[0]![0]! : 0;

/** The eyeball, and what lies on it: carried and scaled as a whole, so that lids stay on the sphere. */
export function eyeMap(person: Person, side: 1 | -1): PointMap {
  const from = add(BASE.headAt as Vec3, [side * BASE.eye.x * UNIT, 0, BASE.eye.z * UNIT]);
  const to = add(person.head.at as Vec3, [side * person.head.eye.x * UNIT, 0, person.head.eye.z * UNIT]);
  const size = person.head.eye.radius / BASE.eye.radius;
  return (p) => add(to, scale(sub(p, from), size));
}

/** How much a point belongs to the eye: all within the lids, nothing from 26 units on. */
export function eyeShare(p: Vec3, side: 1 | -1): number {
  const q = scale(sub(p, BASE.headAt as Vec3), 1 / UNIT);
  const d = Math.hypot(q[0] - side * BASE.eye.x, q[1], q[2] - BASE.eye.z);
  return smoothStep((26 - d) / 9);
}

/** A limb about its joint: scaled along the bone and across it. @param along unit direction of the bone. */
export function limbMap(from: Vec3, to: Vec3, along: Vec3, length: number, girth: number): PointMap {
  return (p) => {
    const d = sub(p, from);
    const s = dot(d, along);
    return add(to, add(scale(along, s * length), scale(sub(d, scale(along, s)), girth)));
  };
}

/** A hand or foot about its joint: scaled as a whole, and a little more across. */
export function extremityMap(from: Vec3, to: Vec3, across: Vec3, size: number, wide: number): PointMap {
  const unit = normalize(across);
  return (p) => {
    const d = sub(p, from);
    const s = dot(d, unit);
    return add(to, scale(add(sub(d, scale(unit, s)), scale(unit, s * wide)), size));
  };
}

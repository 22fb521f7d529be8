import { add, cross, dot, normalize, scale, sub, type Vec3 } from "../../core/math/vec3";
import { jointIndex, JOINTS } from "./rig/joints";
import type { VertexWeights } from "./rig/skinWeights";

/** How one joint lays the surface round it out: round its axis and along it, metres. */
interface Lay {
  readonly origin: Vec3;
  readonly axis: Vec3;
  /** Where the way round begins; both sides count up from there, so that the layout has no seam. */
  readonly front: Vec3;
  readonly radius: number;
  /** Height at the origin; along a limb it falls. */
  readonly height: number;
}

const UP: Vec3 = [0, 1, 0];
const FORWARD: Vec3 = [0, 0, 1];
/** Rough radii of what lies round a joint, metres: how far apart a turn of one radian is. */
const RADII: readonly (readonly [RegExp, number])[] = [
  [/Thumb|Index|Middle|Ring|Little/, 0.008],
  [/Hand/, 0.026],
  [/LowerArm/, 0.036],
  [/UpperArm/, 0.046],
  [/UpperLeg/, 0.08],
  [/LowerLeg/, 0.05],
  [/Foot|Toes/, 0.04],
];
const TRUNK_RADIUS = 0.11;
const isLimb = (name: string): boolean => RADII.some(([words]) => words.test(name));

const lays = new Map<number, Lay>();

function layOf(joint: number): Lay {
  const known = lays.get(joint);
  if (known) return known;
  const made = makeLay(joint);
  lays.set(joint, made);
  return made;
}

function makeLay(joint: number): Lay {
  const { name, parent, place } = JOINTS[joint]!;
  if (!isLimb(name)) return { origin: [0, 0, -0.01], axis: UP, front: FORWARD, radius: TRUNK_RADIUS, height: 0 };
  const above = layOf(jointIndex(parent!));
  const child = JOINTS.find((j) => j.parent === name && isLimb(j.name) && !/Twist/.test(j.name));
  const twist = JOINTS.find((j) => j.parent === name && /Twist/.test(j.name));
  const to = child ?? JOINTS.find((j) => twist && j.parent === twist.name);
  const axis = to ? normalize(sub(to.place, place)) : above.axis;
  const fore: Vec3 = Math.abs(dot(axis, FORWARD)) > 0.7 ? UP : FORWARD;
  const front = normalize(sub(fore, scale(axis, dot(fore, axis))));
  const radius = RADII.find(([words]) => words.test(name))![1];
  return { origin: place, axis, front, radius, height: heightOn(above, place) };
}

const heightOn = (lay: Lay, p: Vec3): number => {
  const along = dot(sub(p, lay.origin), lay.axis);
  return lay.axis === UP ? along : lay.height - along;
};

function on(lay: Lay, p: Vec3): readonly [number, number] {
  const off = sub(p, lay.origin);
  const across = sub(off, scale(lay.axis, dot(off, lay.axis)));
  const far = Math.hypot(...across);
  const turn = far < 1e-9 ? 0 : Math.atan2(Math.hypot(...cross(lay.front, across)), dot(lay.front, across));
  return [lay.radius * turn, heightOn(lay, p)];
}

/**
 * Texture coordinates of skin or cloth, tiles of a size: each joint lays the surface out round and along its limb, and
 * a vertex follows them by its weights. Left and right share them, front to back both ways, so no vertex is doubled.
 * @param tile metres. @returns 2 x points.length.
 */
export function limbCoordinates(
  points: readonly Vec3[],
  weights: readonly VertexWeights[],
  tile: number,
): Float32Array {
  const out = new Float32Array(2 * points.length);
  points.forEach((p, v) => {
    let sum: Vec3 = [0, 0, 0];
    for (const [joint, share] of weights[v]!) {
      const [round, along] = on(layOf(joint), p);
      sum = add(sum, scale([round, along, 1], share));
    }
    out[2 * v] = sum[0] / sum[2] / tile;
    out[2 * v + 1] = -sum[1] / sum[2] / tile;
  });
  return out;
}

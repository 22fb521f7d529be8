import type { Vec3 } from "../../core/math/vec3";

/**
 * The head is written in a unit of its own, close to the millimetre: origin between the ear canals at the height of the
 * pupils, x to the figure's left, y up, z forward. The body is written in metres, y up from the ground.
 */
export const HEAD_UNIT = 0.00099;
const PUPIL_HEIGHT = 1.571;
const EAR_CANAL_DEPTH = 0.022;

export const headToWorld = (p: Vec3): Vec3 => [
  p[0] * HEAD_UNIT,
  PUPIL_HEIGHT + p[1] * HEAD_UNIT,
  EAR_CANAL_DEPTH + p[2] * HEAD_UNIT,
];
export const worldToHead = (p: Vec3): Vec3 => [
  p[0] / HEAD_UNIT,
  (p[1] - PUPIL_HEIGHT) / HEAD_UNIT,
  (p[2] - EAR_CANAL_DEPTH) / HEAD_UNIT,
];
export const mirrored = (p: Vec3): Vec3 => [-p[0], p[1], p[2]];

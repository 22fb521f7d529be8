import { normalize, radians, type Vec3 } from "../../../core/math/vec3";
import { smoothMax, smoothstep } from "../../modelling/blend";
import { ellipsoid, type Axes, type Field, type Mass } from "../../modelling/fields";
import { joining } from "../../modelling/joining";
import { monotoneTable } from "../../modelling/monotoneTable";
import { sectionRadius } from "../../modelling/superellipse";

/** Left arm in rest: 40 degrees below the horizontal, the forearm bent 4 degrees forward. Metres. */
const LOWERED = radians(40);
export const FOREARM_BEND = radians(4);
export const SHOULDER: Vec3 = [0.166, 1.341, -0.016];
/** Along the arm, and upward square to it. */
export const ARM: Vec3 = normalize([Math.cos(LOWERED), -Math.sin(LOWERED), 0]);
export const ARM_UP: Vec3 = [Math.sin(LOWERED), Math.cos(LOWERED), 0];
export const UPPER_ARM_LENGTH = 0.3125;
export const FOREARM_LENGTH = 0.245;

/** Sections by distance from the shoulder: reach of the flesh up, down, front, back. */
const SECTIONS = monotoneTable([
  [-0.03, 0.036, 0.055, 0.04, 0.042],
  [0, 0.04, 0.055, 0.046, 0.049],
  [0.04, 0.043, 0.053, 0.047, 0.049],
  [0.08, 0.042, 0.049, 0.045, 0.047],
  [0.12, 0.037, 0.046, 0.044, 0.045],
  [0.16, 0.0345, 0.0435, 0.043, 0.043],
  [0.2, 0.034, 0.041, 0.041, 0.04],
  [0.26, 0.0335, 0.037, 0.0375, 0.0365],
  [0.3125, 0.035, 0.036, 0.037, 0.037],
  [0.335, 0.037, 0.036, 0.04, 0.035],
  [0.37, 0.039, 0.036, 0.041, 0.033],
  [0.42, 0.036, 0.033, 0.037, 0.03],
  [0.48, 0.03, 0.028, 0.031, 0.027],
  [0.525, 0.0225, 0.0215, 0.0275, 0.0265],
  [0.545, 0.0195, 0.0185, 0.0255, 0.0245],
  [0.5575, 0.0165, 0.0155, 0.0225, 0.0215],
  [0.6, 0.009, 0.009, 0.014, 0.014],
]);

/** How far forward the arm's middle line has come at a distance from the shoulder. */
export function armForward(along: number): number {
  const soft = 0.03;
  const t = along - UPPER_ARM_LENGTH;
  return Math.tan(FOREARM_BEND) * (t > soft ? t : t < -soft ? 0 : (t + soft) ** 2 / (4 * soft));
}

/** How far above the arm's line a place lies, seen from the front; negative below it. */
export const overArm = (x: number, y: number): number => (x - SHOULDER[0]) * ARM_UP[0] + (y - SHOULDER[1]) * ARM_UP[1];

/** A place of the arm: distance along it, up from it, forward. */
export const onArm = (along: number, up: number, forward: number): Vec3 => [
  SHOULDER[0] + ARM[0] * along + ARM_UP[0] * up,
  SHOULDER[1] + ARM[1] * along + ARM_UP[1] * up,
  SHOULDER[2] + forward,
];

const AXES: Axes = [ARM, ARM_UP, [0, 0, 1]];
const MASSES: readonly Mass[] = [
  /* deltoid */ [ellipsoid(onArm(0.048, 0.007, -0.001), [0.076, 0.0415, 0.05], AXES), 0.025],
  /* biceps */ [ellipsoid(onArm(0.155, -0.004, 0.012), [0.075, 0.03, 0.034], AXES), 0.03],
  /* point of the elbow */ [ellipsoid(onArm(0.306, 0, -0.027), [0.02, 0.013, 0.0115], AXES), 0.025],
];

const withFlesh = joining(MASSES);
/** Arm without the hand. */
export const armForm: Field = (x, y, z) => {
  const qx = x - SHOULDER[0];
  const qy = y - SHOULDER[1];
  const along = qx * ARM[0] + qy * ARM[1];
  const up = qx * ARM_UP[0] + qy * ARM_UP[1];
  const forward = z - SHOULDER[2] - armForward(along);
  const [above, below, front, back] = SECTIONS(along) as [number, number, number, number];
  const u = up - (above - below) / 2;
  const v = forward - (front - back) / 2;
  const l = Math.sqrt(u * u + v * v) || 1e-9;
  const exponent = 2 + 0.1 * smoothstep(0.36, 0.5, along);
  const d = l - sectionRadius(u / l, v / l, (above + below) / 2, (front + back) / 2, exponent);
  return withFlesh(smoothMax(smoothMax(d, -along - 0.03, 0.03), along - 0.585, 0.01), x, y, z);
};

import { radians, type Vec3 } from "../../../core/math/vec3";
import { smoothMax, smoothMin, smoothstep } from "../../modelling/blend";
import { ellipsoid, roundCone, type Axes, type Field, type Mass } from "../../modelling/fields";
import { joining } from "../../modelling/joining";
import { monotoneTable } from "../../modelling/monotoneTable";
import { sectionRadius } from "../../modelling/superellipse";

/** Sections of the left leg by height: inner and outer side, back, front. Metres. */
const SECTIONS = monotoneTable([
  [0.05, 0.062, 0.124, -0.045, 0.03],
  [0.09, 0.061, 0.125, -0.045, 0.031],
  [0.13, 0.063, 0.121, -0.043, 0.028],
  [0.2, 0.059, 0.125, -0.051, 0.03],
  [0.28, 0.049, 0.137, -0.066, 0.035],
  [0.35, 0.043, 0.143, -0.074, 0.04],
  [0.4, 0.044, 0.141, -0.069, 0.044],
  [0.445, 0.045, 0.139, -0.056, 0.051],
  [0.478, 0.043, 0.141, -0.053, 0.059],
  [0.5, 0.042, 0.142, -0.054, 0.062],
  [0.54, 0.038, 0.147, -0.06, 0.071],
  [0.62, 0.027, 0.158, -0.073, 0.085],
  [0.7, 0.014, 0.163, -0.083, 0.089],
  [0.74, 0.011, 0.166, -0.086, 0.088],
  [0.78, 0.012, 0.167, -0.087, 0.084],
  [0.84, 0.012, 0.164, -0.092, 0.08],
  [0.92, 0.01, 0.16, -0.086, 0.078],
]);

/** How far back the leg's middle line lies at a height. */
const legForward = (y: number): number =>
  -0.03 * Math.min(1, Math.max(0, (0.478 - y) / 0.4)) + 0.006 * smoothstep(0.85, 0.5, y);

/** The leg's middle at a height. */
export function legMiddle(y: number): Vec3 {
  const [inner, outer, back, front] = SECTIONS(y) as [number, number, number, number];
  return [(inner + outer) / 2, y, (back + front) / 2 + legForward(y)];
}

/** Leg without its flesh. */
export const legCore: Field = (x, y, z) => {
  const [inner, outer, back, front] = SECTIONS(y) as [number, number, number, number];
  const u = x - (inner + outer) / 2;
  const v = z - (back + front) / 2 - legForward(y);
  const l = Math.sqrt(u * u + v * v) || 1e-9;
  const d = l - sectionRadius(u / l, v / l, (outer - inner) / 2, (front - back) / 2, 2.15);
  return smoothMax(smoothMax(d, y - 0.9, 0.05), 0.05 - y, 0.02);
};

const MASSES: readonly Mass[] = [
  /* kneecap */ [ellipsoid([0.091, 0.487, 0.036 + legForward(0.487)], [0.022, 0.028, 0.023]), 0.03],
  /* below the kneecap */ [ellipsoid([0.091, 0.44, 0.036 + legForward(0.44)], [0.013, 0.02, 0.014]), 0.03],
  /* calf, inner head */ [ellipsoid([0.071, 0.365, -0.048 + legForward(0.365)], [0.027, 0.08, 0.03]), 0.025],
  /* calf, outer head */ [ellipsoid([0.115, 0.375, -0.044 + legForward(0.375)], [0.026, 0.075, 0.029]), 0.025],
  /* vastus, inner */ [ellipsoid([0.068, 0.545, 0.03], [0.026, 0.06, 0.034]), 0.04],
  /* vastus, outer */ [ellipsoid([0.122, 0.57, 0.025], [0.026, 0.08, 0.04]), 0.04],
];
const withFlesh = joining(MASSES);
export const legForm: Field = (x, y, z) => (y < 0.75 ? withFlesh(legCore(x, y, z), x, y, z) : legCore(x, y, z));

// ---- foot, turned out 8 degrees
export const ANKLE: Vec3 = [0.0935, 0.066, -0.034];
const TOE_OUT = radians(8);
/** Forward along the foot, and across it toward the little toe. */
export const FOOT: Vec3 = [Math.sin(TOE_OUT), 0, Math.cos(TOE_OUT)];
export const FOOT_ACROSS: Vec3 = [Math.cos(TOE_OUT), 0, -Math.sin(TOE_OUT)];
/** A place of the foot: forward of the ankle, across, height above the ground. */
export const onFoot = (forward: number, across: number, height: number): Vec3 => [
  ANKLE[0] + FOOT[0] * forward + FOOT_ACROSS[0] * across,
  height,
  ANKLE[2] + FOOT[2] * forward + FOOT_ACROSS[2] * across,
];

const AXES: Axes = [FOOT, FOOT_ACROSS, [0, 1, 0]];
const FOOT_MASSES: readonly Mass[] = [
  /* heel */ [ellipsoid(onFoot(-0.012, 0.001, 0.031), [0.036, 0.0305, 0.04], AXES), 0.02],
  /* instep */ [roundCone(onFoot(0.008, 0, 0.088), onFoot(0.095, -0.008, 0.036), 0.031, 0.022), 0.03],
  /* inner border */ [roundCone(onFoot(0, 0, 0.03), onFoot(0.118, -0.012, 0.022), 0.027, 0.021), 0.02],
  /* outer border */ [roundCone(onFoot(0, 0.008, 0.022), onFoot(0.112, 0.024, 0.016), 0.022, 0.016), 0.02],
  /* ball */ [ellipsoid(onFoot(0.118, -0.003, 0.015), [0.036, 0.042, 0.017], AXES), 0.02],
  /* inner ankle bone */ [ellipsoid(onFoot(0.006, -0.022, 0.083), [0.014, 0.012, 0.015], AXES), 0.016],
  /* outer ankle bone */ [ellipsoid(onFoot(-0.003, 0.0235, 0.073), [0.013, 0.012, 0.016], AXES), 0.016],
];
/** Toes, great to little: root (forward, across, height), tip, radius at root and tip. */
const TOES: readonly Mass[] = [
  [0.132, -0.0255, 0.015, 0.184, -0.025, 0.0115, 0.0135, 0.0112],
  [0.14, -0.005, 0.014, 0.184, -0.004, 0.0095, 0.0105, 0.0088],
  [0.136, 0.0105, 0.013, 0.176, 0.0122, 0.009, 0.0098, 0.0082],
  [0.128, 0.0235, 0.012, 0.165, 0.0265, 0.0085, 0.0092, 0.0077],
  [0.117, 0.035, 0.011, 0.15, 0.039, 0.008, 0.0088, 0.0073],
].map(([f0, l0, h0, f1, l1, h1, r0, r1]) => [roundCone(onFoot(f0!, l0!, h0!), onFoot(f1!, l1!, h1!), r0!, r1!), 0.004]);
const ARCH = ellipsoid(onFoot(0.052, -0.042, 0), [0.055, 0.03, 0.017], AXES);

const footAlone = joining(FOOT_MASSES);
const toes = joining(TOES);
export const footForm: Field = (x, y, z) => {
  const foot = smoothMin(footAlone(1, x, y, z), toes(1, x, y, z), 0.012);
  return smoothMax(foot, -ARCH(x, y, z), 0.02);
};

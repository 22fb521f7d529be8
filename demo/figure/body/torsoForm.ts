import { radians, type Vec3 } from "../../../core/math/vec3";
import { bell, smoothMax, smoothMin, smoothstep } from "../../modelling/blend";
import { ellipsoid, roundCone, turnedAxes, type Field, type Mass } from "../../modelling/fields";
import { joining } from "../../modelling/joining";
import { sectionRadius } from "../../modelling/superellipse";
import { monotoneTable } from "../../modelling/monotoneTable";
import { onArm } from "./armForm";

/** Sections of the trunk: height, half width, back, front, exponent of the superellipse. Metres. */
const SECTION_ROWS: readonly (readonly number[])[] = [
  [0.76, 0.16, -0.09, 0.07, 2.1],
  [0.8, 0.16, -0.092, 0.074, 2.15],
  [0.84, 0.162, -0.095, 0.081, 2.2],
  [0.88, 0.159, -0.092, 0.087, 2.2],
  [0.92, 0.153, -0.088, 0.093, 2.2],
  [0.96, 0.145, -0.083, 0.097, 2.2],
  [1.0, 0.136, -0.078, 0.098, 2.2],
  [1.04, 0.13, -0.076, 0.096, 2.2],
  [1.07, 0.126, -0.077, 0.092, 2.2],
  [1.1, 0.128, -0.081, 0.09, 2.2],
  [1.14, 0.134, -0.089, 0.091, 2.2],
  [1.18, 0.139, -0.098, 0.092, 2.25],
  [1.22, 0.142, -0.106, 0.09, 2.3],
  [1.26, 0.143, -0.111, 0.084, 2.3],
  [1.3, 0.141, -0.112, 0.073, 2.3],
  [1.34, 0.128, -0.108, 0.057, 2.2],
  [1.37, 0.097, -0.098, 0.041, 2.1],
  [1.395, 0.069, -0.087, 0.034, 2],
  [1.42, 0.057, -0.077, 0.034, 2],
  [1.45, 0.0525, -0.069, 0.037, 2],
  [1.48, 0.0515, -0.065, 0.041, 2],
  [1.53, 0.051, -0.062, 0.046, 2],
];
const SECTIONS = monotoneTable(SECTION_ROWS);
/** The same just above and below a place: each remembers its own last height. */
const SECTIONS_ABOVE = monotoneTable(SECTION_ROWS);
const SECTIONS_BELOW = monotoneTable(SECTION_ROWS);
const BOTTOM = 0.783;
const TOP = 1.405;

function radiusOf(section: readonly number[], c: number, s: number): number {
  return sectionRadius(c, s, section[0]!, (section[2]! - section[1]!) / 2, section[3]!);
}

/** Farther from the trunk than any seam reaches its slope is of no account. */
const FAR_OFF = 0.15;
const trunk: Field = (x, y, z) => {
  const section = SECTIONS(y);
  const depth = z - (section[2]! + section[1]!) / 2;
  const l = Math.sqrt(x * x + depth * depth) || 1e-9;
  const c = x / l;
  const s = depth / l;
  let d = l - radiusOf(section, c, s);
  if (d < FAR_OFF) {
    const e = 0.004;
    const slope = (radiusOf(SECTIONS_ABOVE(y + e), c, s) - radiusOf(SECTIONS_BELOW(y - e), c, s)) / (2 * e);
    d /= Math.sqrt(1 + slope * slope);
  }
  return smoothMax(smoothMax(d, BOTTOM - y, 0.05), y - TOP, 0.03);
};

const X: Vec3 = [1, 0, 0];
const Y: Vec3 = [0, 1, 0];
const Z: Vec3 = [0, 0, 1];
const turned = (axis: Vec3, degrees: number): ReturnType<typeof turnedAxes> => turnedAxes(axis, radians(degrees));

/** Flesh on the trunk, left half. */
export const TORSO_MASSES: readonly Mass[] = [
  /* slope above the breast */ [ellipsoid([0.076, 1.255, 0.058], [0.062, 0.075, 0.032], turned(X, -16)), 0.05],
  /* breast */ [ellipsoid([0.081, 1.2, 0.074], [0.06, 0.058, 0.046], turned(Y, 16)), 0.04],
  /* below the collarbone */ [ellipsoid([0.105, 1.305, 0.03], [0.06, 0.045, 0.034]), 0.04],
  /* fold in front of the armpit */ [roundCone([0.095, 1.285, 0.052], onArm(0.055, -0.02, 0.026), 0.026, 0.02), 0.035],
  /* fold behind the armpit */ [roundCone([0.102, 1.205, -0.056], onArm(0.06, -0.02, -0.028), 0.022, 0.02), 0.06],
  /* shoulder blade */ [ellipsoid([0.086, 1.295, -0.073], [0.052, 0.085, 0.026], turned(Z, 12)), 0.07],
  /* trapezius */ [roundCone([0.014, 1.41, -0.046], [0.15, 1.371, -0.026], 0.021, 0.0215), 0.034],
  /* collarbone, inner part */ [roundCone([0.018, 1.361, 0.037], [0.075, 1.373, 0.033], 0.0115, 0.0105), 0.012],
  /* collarbone, outer part */ [roundCone([0.075, 1.373, 0.033], [0.158, 1.383, -0.01], 0.0105, 0.011), 0.016],
  /* belly */ [ellipsoid([0, 0.925, 0.056], [0.09, 0.075, 0.043]), 0.05],
  /* pubic mound */ [ellipsoid([0, 0.825, 0.046], [0.05, 0.055, 0.034]), 0.06],
  /* side of the hip */ [ellipsoid([0.121, 0.832, -0.008], [0.038, 0.115, 0.064]), 0.06],
];
export const GLUTE_MASSES: readonly Mass[] = [
  [ellipsoid([0.078, 0.842, -0.064], [0.071, 0.08, 0.06], turned(X, 16)), 0.05],
];

// ---- neck: sections along a line that leans forward 20 degrees; shared by head and body
const NECK_SECTIONS = monotoneTable([
  [1.36, 0.064, 0.056],
  [1.395, 0.055, 0.053],
  [1.42, 0.0468, 0.048],
  [1.45, 0.0416, 0.0445],
  [1.48, 0.0403, 0.0436],
  [1.53, 0.04, 0.043],
]);
const neckDepth = (y: number): number => -0.03 + 0.364 * (y - 1.395);
const NECK_FLOOR = 1.345;
const NECK_MASSES: readonly Mass[] = [
  /* sternomastoid, mastoid to breastbone */ [
    roundCone([0.0495, 1.5285, 0.0085], [0.014, 1.371, 0.0195], 0.0085, 0.0085),
    0.022,
  ],
  /* upper trapezius, occiput to nape */ [
    roundCone([0.011, 1.519, -0.036], [0.024, 1.425, -0.056], 0.011, 0.0165),
    0.03,
  ],
];
const withCords = joining(NECK_MASSES);
export const neckForm: Field = (x, y, z) => {
  const across = Math.abs(x);
  const [halfWidth, halfDepth] = NECK_SECTIONS(y) as [number, number];
  const depth = z - neckDepth(y);
  const q = Math.sqrt((across / halfWidth) ** 2 + (depth / halfDepth) ** 2);
  return withCords(smoothMax((q - 1) * Math.min(halfWidth, halfDepth), NECK_FLOOR - y, 0.02), across, y, z);
};

/** Trunk with the neck's root, without flesh. */
export const torsoForm: Field = (x, y, z) =>
  y > 1.3 ? smoothMin(trunk(x, y, z), neckForm(x, y, z), 0.022) : trunk(x, y, z);

/** Shallow furrows along the middle: spine, breastbone, navel, pit of the throat. Added to the distance. */
export function midlineFurrows(x: number, y: number, z: number): number {
  if (y < (z < 0 ? 0.9 : 0.85)) return 0; // nothing is left of them below
  if (z < 0) return 0.0055 * bell(x, 0.016) * smoothstep(0.9, 1, y) * smoothstep(1.42, 1.3, y);
  return (
    0.0022 * bell(x, 0.022) * smoothstep(0.95, 1.02, y) * smoothstep(1.33, 1.22, y) +
    0.006 * Math.exp(-((x / 0.011) ** 2 + ((y - 1.003) / 0.013) ** 2)) +
    0.0065 * Math.exp(-((x / 0.015) ** 2 + ((y - 1.364) / 0.014) ** 2))
  );
}

import type { Vec3 } from "../../../core/math/vec3";
import { smoothMin, smoothstep } from "../../modelling/blend";
import { ellipsoid, roundCone, rotateAbout, type Axes, type Field } from "../../modelling/fields";
import { fitRadialField } from "../../modelling/radialField";
import { neckForm } from "../body/torsoForm";
import { headToWorld, HEAD_UNIT } from "../placement";
import { HEAD_LANDMARKS } from "./headLandmarks";

/** Head form in head units; x is taken as the left half's. */
export const SKULL_CENTRE: Vec3 = [0, -5, 0];
/** Left eyeball: centre, radius; the shells on which the inner and outer side of the lids lie. */
export const EYE_CENTRE: Vec3 = [31, 0, 67.5];
export const EYE_RADIUS = 12.6;
export const LID_SHELL = 13.35;
const LID_BULGE = 14.8;

// ---- skull: a radius for each direction from its centre, kept in a table over azimuth and elevation
const TABLE_SIZE = 361;
const radii = new Float32Array(TABLE_SIZE * TABLE_SIZE).fill(NaN);
const radiusToward = fitted();

function fitted(): (direction: Vec3) => number {
  // the border of the jaw sits up to 2 higher than its landmarks: the neck's seam takes that much away
  const landmarks = HEAD_LANDMARKS.map((p): Vec3 =>
    p[1] < -84 && p[2] > -5 ? [p[0], p[1] + 2 * Math.min(1, (-84 - p[1]) / 14), p[2]] : p,
  );
  return fitRadialField(landmarks, SKULL_CENTRE);
}

/** A place of the table, filled in when it is first asked for. */
function radiusIn(i: number): number {
  const known = radii[i]!;
  if (!Number.isNaN(known)) return known;
  const azimuth = (Math.floor(i / TABLE_SIZE) * Math.PI) / (TABLE_SIZE - 1);
  const elevation = -Math.PI / 2 + ((i % TABLE_SIZE) * Math.PI) / (TABLE_SIZE - 1);
  radii[i] = radiusToward([
    Math.sin(azimuth) * Math.cos(elevation),
    Math.sin(elevation),
    Math.cos(azimuth) * Math.cos(elevation),
  ]);
  return radii[i]!;
}

function skullRadius(x: number, y: number, z: number): number {
  const azimuth = (Math.atan2(Math.abs(x), z) / Math.PI) * (TABLE_SIZE - 1);
  const elevation = ((Math.atan2(y, Math.sqrt(x * x + z * z)) + Math.PI / 2) / Math.PI) * (TABLE_SIZE - 1);
  const column = Math.min(TABLE_SIZE - 2, Math.floor(azimuth));
  const row = Math.min(TABLE_SIZE - 2, Math.max(0, Math.floor(elevation)));
  const a = azimuth - column;
  const e = elevation - row;
  const i = column * TABLE_SIZE + row;
  return (
    (radiusIn(i) * (1 - a) + radiusIn(i + TABLE_SIZE) * a) * (1 - e) +
    (radiusIn(i + 1) * (1 - a) + radiusIn(i + TABLE_SIZE + 1) * a) * e
  );
}

// ---- what stands out of it
/** Axes of a form turned about y by yaw, then about x by pitch. Radians. */
const nodded = (yaw: number, pitch: number): Axes =>
  (
    [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ] as const
  ).map((v) => rotateAbout(rotateAbout(v, [1, 0, 0], pitch), [0, 1, 0], yaw)) as unknown as Axes;
const NOSE_BRIDGE = roundCone([0, 5, 82], [0, -17, 91.2], 5.5, 5.7);
const NOSE_BACK = roundCone([0, -17, 91.2], [0, -35, 100.4], 5.7, 7);
const NOSE_TIP = ellipsoid([1.5, -37.4, 102.7], [5.8, 5.9, 6.2]);
const NOSE_WING = ellipsoid([10.2, -38.9, 92.8], [4.6, 5.3, 7.4], nodded(0.42, 0.2));
const COLUMELLA = roundCone([0, -42.9, 102], [0, -46.8, 90], 2.7, 3.4);
const NOSE_ROOT = roundCone([0, 2, 77], [0, -30, 86.5], 9, 13);
const NASOLABIAL_LINE = roundCone([17.5, -42, 86], [29.5, -66, 80], 0, 0);
/** Soft swellings (and hollows, negative) of the face. */
const SWELLINGS: readonly {
  readonly what: string;
  readonly centre: Vec3;
  readonly size: Vec3;
  readonly height: number;
}[] = [
  { what: "chin", centre: [0, -96.5, 90], size: [11, 7, 12], height: 0.9 },
  { what: "fold above the chin", centre: [0, -84, 88], size: [14, 3.6, 12], height: -0.9 },
  { what: "cheekbone", centre: [45, -21, 73], size: [13, 10, 16], height: 1.3 },
  { what: "hollow at the mouth's corner", centre: [29.5, -67, 80], size: [4, 5, 8], height: -0.6 },
  { what: "beside the mouth", centre: [33, -62, 76], size: [6, 8, 10], height: 0.5 },
  { what: "nostril", centre: [6.3, -45.6, 95], size: [3.2, 2.8, 4.4], height: -1 },
  { what: "cheek", centre: [38, -44, 76], size: [14, 13, 16], height: 0.9 },
];

function noseForm(x: number, y: number, z: number): number {
  let nose = smoothMin(NOSE_BRIDGE(x, y, z), NOSE_BACK(x, y, z), 3);
  nose = smoothMin(nose, NOSE_TIP(x, y, z), 4);
  nose = smoothMin(nose, NOSE_WING(x, y, z), 8);
  return smoothMin(nose, COLUMELLA(x, y, z), 3.5);
}

/** Groove and ridges between nose and upper lip; added to the distance. */
function philtrum(x: number, y: number): number {
  if (y >= -44 || y <= -62) return 0;
  const share = Math.min(1, (-44 - y) / 4) * Math.min(1, (62 + y) / 3);
  return share * (0.85 * Math.exp(-((x / 2.6) ** 2)) - 0.35 * Math.exp(-(((x - 5) / 1.9) ** 2)));
}

function swelling(x: number, y: number, z: number): number {
  let height = 0;
  for (const { centre, size, height: most } of SWELLINGS) {
    const q = ((x - centre[0]) / size[0]) ** 2 + ((y - centre[1]) / size[1]) ** 2 + ((z - centre[2]) / size[2]) ** 2;
    if (q <= 9) height += most * Math.exp(-q);
  }
  return height;
}

/** Skull and face without the neck. */
export const skullForm: Field = (signedX, y, z) => {
  const x = Math.abs(signedX);
  const dy = y - SKULL_CENTRE[1];
  let d = Math.sqrt(x * x + dy * dy + z * z) - skullRadius(x, dy, z);
  if (z <= 55) return d;
  d = smoothMin(d, NOSE_ROOT(x, y, z), 9);
  d = smoothMin(d, noseForm(x, y, z), 3.2 + 5.2 * smoothstep(-38, -24, y));
  d += philtrum(x, y) + 0.55 * Math.exp(-((NASOLABIAL_LINE(x, y, z) / 3.2) ** 2));
  const [ex, ey, ez] = [x - EYE_CENTRE[0], y - EYE_CENTRE[1], z - EYE_CENTRE[2]];
  d = smoothMin(d, Math.sqrt(ex * ex + ey * ey + ez * ez) - LID_BULGE, 7);
  return d - swelling(x, y, z);
};

/** Width of the seam between head and neck: tight under the jaw, wide at the nape. */
export const neckSeam = (z: number): number => 7 + 17 * smoothstep(0, 40, -z);

export const headForm: Field = (x, y, z) => {
  const skull = skullForm(x, y, z);
  if (y >= -5) return skull;
  const [wx, wy, wz] = headToWorld([x, y, z]);
  return smoothMin(skull, neckForm(wx, wy, wz) / HEAD_UNIT, neckSeam(z));
};

// ---- measuring and walking on the head
/** Gradient by four evaluations at the corners of a tetrahedron. */
function slope([x, y, z]: Vec3, e = 0.25): Vec3 {
  const a = headForm(x + e, y - e, z - e);
  const b = headForm(x - e, y - e, z + e);
  const c = headForm(x - e, y + e, z - e);
  const d = headForm(x + e, y + e, z + e);
  return [(a - b - c + d) / (4 * e), (-a - b + c + d) / (4 * e), (-a + b - c + d) / (4 * e)];
}

export function normalAt(p: Vec3): Vec3 {
  const g = slope(p);
  const l = Math.sqrt(g[0] ** 2 + g[1] ** 2 + g[2] ** 2) || 1;
  return [g[0] / l, g[1] / l, g[2] / l];
}

/** Newton steps onto the head's surface, none longer than 4. */
export function onHead(p: Vec3, rounds = 6): Vec3 {
  let [x, y, z] = p;
  for (let i = 0; i < rounds; i++) {
    const d = headForm(x, y, z);
    if (Math.abs(d) < 1e-3) break;
    const g = slope([x, y, z]);
    const squared = Math.max(0.15, g[0] ** 2 + g[1] ** 2 + g[2] ** 2);
    const length = Math.sqrt(squared);
    const step = Math.abs(d) / length > 4 ? (4 * Math.sign(d)) / length : d / squared;
    x -= step * g[0];
    y -= step * g[1];
    z -= step * g[2];
  }
  return [x, y, z];
}

/** The outermost surface point on a ray, found from outside. @param far where the walk starts. */
export function outermost(from: Vec3, direction: Vec3, far = 220): Vec3 {
  const at = (t: number): Vec3 => [from[0] + direction[0] * t, from[1] + direction[1] * t, from[2] + direction[2] * t];
  const distance = (t: number): number =>
    headForm(from[0] + direction[0] * t, from[1] + direction[1] * t, from[2] + direction[2] * t);
  let t = far;
  let previous = far;
  for (let i = 0; i < 400 && t > 0; i++) {
    const d = distance(t);
    if (d < 0.01) {
      let inside = t;
      let outside = previous;
      for (let k = 0; k < 24; k++) {
        const middle = (inside + outside) / 2;
        if (distance(middle) < 0) inside = middle;
        else outside = middle;
      }
      return at(inside);
    }
    previous = t;
    t -= Math.max(0.15, d * 0.6);
  }
  return at(t);
}

/** How far forward the face reaches at a place seen from the front. */
export const faceDepth = (x: number, y: number): number => outermost([x, y, 40], [0, 0, 1], 110)[2];

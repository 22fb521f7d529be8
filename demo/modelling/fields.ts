import { cross, dot, normalize, scale, sub, type Vec3 } from "../../core/math/vec3";

/**
 * Signed distance (or a bound of it) of a point to a form: negative inside. Coordinates come apart, so that no point
 * has to be made for each call.
 */
export type Field = (x: number, y: number, z: number) => number;
/** A form and the width of the seam with which it is joined to the others. */
export type Mass = readonly [form: Field, seam: number];
export type Axes = readonly [Vec3, Vec3, Vec3];

export const UNIT_AXES: Axes = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];
export const addScaled = (a: Vec3, d: Vec3, s: number): Vec3 => [a[0] + d[0] * s, a[1] + d[1] * s, a[2] + d[2] * s];

/** Turns a vector about a unit axis (Rodrigues). @param angle radians. */
export function rotateAbout(v: Vec3, axis: Vec3, angle: number): Vec3 {
  const c = Math.cos(angle);
  const s = Math.sin(angle);
  const k = dot(axis, v) * (1 - c);
  const x = cross(axis, v);
  return [v[0] * c + x[0] * s + axis[0] * k, v[1] * c + x[1] * s + axis[1] * k, v[2] * c + x[2] * s + axis[2] * k];
}
/** The world's axes turned about an axis. @param angle radians. */
export const turnedAxes = (axis: Vec3, angle: number): Axes => [
  rotateAbout([1, 0, 0], axis, angle),
  rotateAbout([0, 1, 0], axis, angle),
  rotateAbout([0, 0, 1], axis, angle),
];

/** Per form what its distance is at least, for all places within a reach of one. */
export const leastWithin = new WeakMap<Field, (x: number, y: number, z: number, reach: number) => number>();

/** Ellipsoid, first-order distance k0 (k0 - 1) / k1. @param radii along its axes. */
export function ellipsoid(centre: Vec3, radii: Vec3, axes: Axes = UNIT_AXES): Field {
  const [cx, cy, cz] = centre;
  const [[ax, ay, az], [bx, by, bz], [dx, dy, dz]] = axes;
  const [ra, rb, rd] = radii;
  const least = Math.min(ra, rb, rd);
  const field: Field = (x, y, z) => {
    const qx = x - cx;
    const qy = y - cy;
    const qz = z - cz;
    const u = (qx * ax + qy * ay + qz * az) / ra;
    const v = (qx * bx + qy * by + qz * bz) / rb;
    const w = (qx * dx + qy * dy + qz * dz) / rd;
    const k0 = Math.sqrt(u * u + v * v + w * w);
    const k1 = Math.sqrt((u / ra) ** 2 + (v / rb) ** 2 + (w / rd) ** 2);
    return k1 < 1e-9 ? -least : (k0 * (k0 - 1)) / k1;
  };
  // the distance is at least (k0 - 1) of the least radius, and k0 grows by no more than 1 / that radius
  const k0 = (x: number, y: number, z: number): number =>
    Math.hypot(...axes.map((axis, k) => dot(sub([x, y, z], centre), axis) / radii[k]!));
  leastWithin.set(field, (x, y, z, reach) => (k0(x, y, z) - 1) * least - reach);
  return field;
}

/** Segment with a radius that goes straight from one end to the other. */
export function roundCone(a: Vec3, b: Vec3, radiusA: number, radiusB: number): Field {
  const [ax, ay, az] = a;
  const [bx, by, bz] = sub(b, a);
  const perLength = 1 / (bx * bx + by * by + bz * bz);
  const field: Field = (x, y, z) => {
    const px = x - ax;
    const py = y - ay;
    const pz = z - az;
    let t = (px * bx + py * by + pz * bz) * perLength;
    t = t < 0 ? 0 : t > 1 ? 1 : t;
    const dx = px - bx * t;
    const dy = py - by * t;
    const dz = pz - bz * t;
    return Math.sqrt(dx * dx + dy * dy + dz * dz) - (radiusA + (radiusB - radiusA) * t);
  };
  const steepest = 1 + Math.abs(radiusB - radiusA) * Math.sqrt(perLength);
  leastWithin.set(field, (x, y, z, reach) => field(x, y, z) - steepest * reach);
  return field;
}

/** The field seen from the left half: both sides give the same distance. */
export const mirroredField =
  (field: Field): Field =>
  (x, y, z) =>
    field(Math.abs(x), y, z);
export const at = (field: Field, p: Vec3): number => field(p[0], p[1], p[2]);

/** Direction in which the distance grows: central differences, unit length. */
export const gradientDirection = (field: Field, p: Vec3, step = 6e-4): Vec3 =>
  normalize([
    field(p[0] + step, p[1], p[2]) - field(p[0] - step, p[1], p[2]),
    field(p[0], p[1] + step, p[2]) - field(p[0], p[1] - step, p[2]),
    field(p[0], p[1], p[2] + step) - field(p[0], p[1], p[2] - step),
  ]);

export interface ProjectOptions {
  /** Longest step of one round, in the field's unit. */
  readonly maxStep: number;
  readonly rounds: number;
  /** Distance at which the point counts as on the form. */
  readonly close: number;
}
export const PROJECT_DEFAULTS: ProjectOptions = { maxStep: 0.01, rounds: 4, close: 5e-5 };

/** Moves a point onto the form along the gradient's direction, step by step. */
export function projectTo(field: Field, p: Vec3, options: Partial<ProjectOptions> = {}): Vec3 {
  const { maxStep, rounds, close } = { ...PROJECT_DEFAULTS, ...options };
  let q = p;
  for (let i = 0; i < rounds; i++) {
    const d = at(field, q);
    if (Math.abs(d) < close) break;
    q = addScaled(q, gradientDirection(field, q), -Math.min(maxStep, Math.max(-maxStep, d)));
  }
  return q;
}

const STEP = 0.004;

/**
 * First crossing of the form's surface on a ray from inside, to 1 micrometre; the ray's end when there is none; null
 * when the start lies outside.
 */
export function castRay(field: Field, from: Vec3, direction: Vec3, reach: number): Vec3 | null {
  if (at(field, from) > 0) return null;
  for (let t = STEP; t <= reach; t += STEP) {
    if (at(field, addScaled(from, direction, t)) <= 0) continue;
    let inside = t - STEP;
    let outside = t;
    for (let i = 0; i < 12; i++) {
      const middle = (inside + outside) / 2;
      if (at(field, addScaled(from, direction, middle)) > 0) outside = middle;
      else inside = middle;
    }
    return addScaled(from, direction, (inside + outside) / 2);
  }
  return addScaled(from, direction, reach);
}

/** The same for a start that must lie inside. Throws when it does not. */
export function surfaceFrom(field: Field, from: Vec3, direction: Vec3, reach: number): Vec3 {
  const p = castRay(field, from, direction, reach);
  if (!p) throw new Error(`surfaceFrom: start ${from.map((v) => v.toFixed(4)).join(", ")} lies outside the form`);
  return p;
}

/** The part of a vector along a surface. @param normal unit. */
export const alongSurface = (v: Vec3, normal: Vec3): Vec3 => sub(v, scale(normal, dot(v, normal)));

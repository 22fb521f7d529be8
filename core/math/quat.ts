import { type Quat, type Vec3, clamp, cross, degrees, dot, normalize, radians } from "./vec3";

export const IDENTITY_QUAT: Quat = [0, 0, 0, 1];

/** Hamilton product: turn by b first, then by a. */
export const multiplyQuat = (a: Quat, b: Quat): Quat => [
  a[3] * b[0] + a[0] * b[3] + a[1] * b[2] - a[2] * b[1],
  a[3] * b[1] - a[0] * b[2] + a[1] * b[3] + a[2] * b[0],
  a[3] * b[2] + a[0] * b[1] - a[1] * b[0] + a[2] * b[3],
  a[3] * b[3] - a[0] * b[0] - a[1] * b[1] - a[2] * b[2],
];
export const conjugate = (q: Quat): Quat => [-q[0], -q[1], -q[2], q[3]];
export const normalizeQuat = (q: Quat): Quat => {
  const l = Math.hypot(q[0], q[1], q[2], q[3]);
  return l > 1e-12 ? [q[0] / l, q[1] / l, q[2] / l, q[3] / l] : IDENTITY_QUAT;
};
export const rotate = (q: Quat, v: Vec3): Vec3 => {
  const t = cross([q[0], q[1], q[2]], v);
  const u = cross([q[0], q[1], q[2]], t);
  return [v[0] + 2 * (q[3] * t[0] + u[0]), v[1] + 2 * (q[3] * t[1] + u[1]), v[2] + 2 * (q[3] * t[2] + u[2])];
};
/** Turn by an angle in degrees about a unit axis. */
export const fromAxisAngle = (axis: Vec3, deg: number): Quat => {
  const h = radians(deg) / 2;
  const s = Math.sin(h);
  return [axis[0] * s, axis[1] * s, axis[2] * s, Math.cos(h)];
};
/** Intrinsic XYZ angles in degrees: about x first, then the turned y, then the turned z. */
export const fromEulerXYZ = (rx: number, ry: number, rz: number): Quat =>
  multiplyQuat(multiplyQuat(fromAxisAngle([1, 0, 0], rx), fromAxisAngle([0, 1, 0], ry)), fromAxisAngle([0, 0, 1], rz));
/** Inverse of fromEulerXYZ; the y angle lies in -90..90. */
export const toEulerXYZ = (q: Quat): Vec3 => {
  const [x, y, z, w] = q;
  const m02 = 2 * (x * z + w * y);
  const ry = Math.asin(clamp(m02, -1, 1));
  if (Math.abs(m02) > 0.9999999)
    return [degrees(Math.atan2(2 * (x * w + y * z), 1 - 2 * (x * x + z * z))), degrees(ry), 0];
  return [
    degrees(Math.atan2(-2 * (y * z - w * x), 1 - 2 * (x * x + y * y))),
    degrees(ry),
    degrees(Math.atan2(-2 * (x * y - w * z), 1 - 2 * (y * y + z * z))),
  ];
};
/**
 * Signed turn in degrees, -180..180, of q about a unit axis: the twist of the swing-twist decomposition
 * (Dobrowolski 2015, "Swing-twist decomposition in Clifford algebra").
 */
export const twistDegrees = (q: Quat, axis: Vec3): number => {
  const s = dot([q[0], q[1], q[2]], axis);
  let deg = degrees(2 * Math.atan2(s, q[3]));
  if (deg > 180) deg -= 360;
  if (deg < -180) deg += 360;
  return deg;
};
/**
 * Smallest turn that takes direction a to direction b; exact also close to opposite directions, where 1 + cos loses its
 * digits.
 */
export const betweenDirections = (a: Vec3, b: Vec3): Quat => {
  const u = normalize(a);
  const v = normalize(b);
  const sum = Math.hypot(u[0] + v[0], u[1] + v[1], u[2] + v[2]);
  if (sum < 1e-7) {
    const axis = normalize(Math.abs(u[0]) < 0.9 ? cross(u, [1, 0, 0]) : cross(u, [0, 1, 0]));
    return [axis[0], axis[1], axis[2], 0];
  }
  const c = cross(u, v);
  return normalizeQuat([c[0] / sum, c[1] / sum, c[2] / sum, sum / 2]);
};
export const angleBetweenQuats = (a: Quat, b: Quat): number => {
  const r = multiplyQuat(conjugate(a), b);
  return degrees(2 * Math.atan2(Math.hypot(r[0], r[1], r[2]), Math.abs(r[3])));
};
/** Frame from three orthonormal axes. */
/** Turn between two turns on the shorter way at constant speed (Shoemake 1985); t 0 gives a, 1 gives b. */
export function slerp(a: Quat, b: Quat, t: number): Quat {
  const cosine = a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3];
  const near: Quat = cosine < 0 ? [-b[0], -b[1], -b[2], -b[3]] : b;
  const angle = Math.acos(Math.min(1, Math.abs(cosine)));
  const s = Math.sin(angle);
  const [u, v] = s < 1e-6 ? [1 - t, t] : [Math.sin((1 - t) * angle) / s, Math.sin(t * angle) / s];
  return normalizeQuat([
    a[0] * u + near[0] * v,
    a[1] * u + near[1] * v,
    a[2] * u + near[2] * v,
    a[3] * u + near[3] * v,
  ]);
}
export const fromAxes = (x: Vec3, y: Vec3, z: Vec3): Quat => {
  const t = x[0] + y[1] + z[2];
  if (t > 0) {
    const s = 2 * Math.sqrt(t + 1);
    return [(y[2] - z[1]) / s, (z[0] - x[2]) / s, (x[1] - y[0]) / s, s / 4];
  }
  if (x[0] > y[1] && x[0] > z[2]) {
    const s = 2 * Math.sqrt(1 + x[0] - y[1] - z[2]);
    return [s / 4, (y[0] + x[1]) / s, (z[0] + x[2]) / s, (y[2] - z[1]) / s];
  }
  if (y[1] > z[2]) {
    const s = 2 * Math.sqrt(1 + y[1] - x[0] - z[2]);
    return [(y[0] + x[1]) / s, s / 4, (z[1] + y[2]) / s, (z[0] - x[2]) / s];
  }
  const s = 2 * Math.sqrt(1 + z[2] - x[0] - y[1]);
  return [(z[0] + x[2]) / s, (z[1] + y[2]) / s, s / 4, (x[1] - y[0]) / s];
};

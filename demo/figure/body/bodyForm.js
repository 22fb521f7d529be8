// vector helpers
export const V = (x, y, z) => [x, y, z],
  add = (a, b) => [a[0] + b[0], a[1] + b[1], a[2] + b[2]],
  sub = (a, b) => [a[0] - b[0], a[1] - b[1], a[2] - b[2]],
  mul = (a, s) => [a[0] * s, a[1] * s, a[2] * s],
  dot = (a, b) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2],
  cross = (a, b) => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]],
  len = (a) => Math.hypot(a[0], a[1], a[2]),
  norm = (a) => {
    const l = len(a) || 1;
    return [a[0] / l, a[1] / l, a[2] / l];
  },
  lerp = (a, b, t) => [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t],
  mad = (a, d, s) => [a[0] + d[0] * s, a[1] + d[1] * s, a[2] + d[2] * s];
export const mix = (a, b, t) => a + (b - a) * t,
  clamp = (x, a, b) => Math.min(b, Math.max(a, x)),
  sst = (a, b, x) => {
    const t = clamp((x - a) / (b - a), 0, 1);
    return t * t * (3 - 2 * t);
  };
const D2R = Math.PI / 180;
export function rotAxis(v, ax, ang) {
  const c = Math.cos(ang),
    s = Math.sin(ang),
    k = dot(ax, v) * (1 - c),
    x = cross(ax, v);
  return [v[0] * c + x[0] * s + ax[0] * k, v[1] * c + x[1] * s + ax[1] * k, v[2] * c + x[2] * s + ax[2] * k];
}
export const smin = (a, b, k) => {
    const h = Math.max(k - Math.abs(a - b), 0) / k;
    return Math.min(a, b) - h * h * k * 0.25;
  },
  smax = (a, b, k) => -smin(-a, -b, k);
// monotone cubic table: rows [t, v1, v2...]
export function table(rows) {
  const n = rows.length,
    m = rows[0].length - 1,
    t = rows.map((r) => r[0]),
    S = [];
  for (let k = 1; k <= m; k++) {
    const v = rows.map((r) => r[k]),
      d = [],
      s = [];
    for (let i = 0; i < n - 1; i++) s[i] = (v[i + 1] - v[i]) / (t[i + 1] - t[i]);
    d[0] = s[0];
    d[n - 1] = s[n - 2];
    for (let i = 1; i < n - 1; i++) {
      if (s[i - 1] * s[i] <= 0) d[i] = 0;
      else {
        const h0 = t[i] - t[i - 1],
          h1 = t[i + 1] - t[i],
          w1 = 2 * h1 + h0,
          w2 = h1 + 2 * h0;
        d[i] = (w1 + w2) / (w1 / s[i - 1] + w2 / s[i]);
      }
    }
    S.push({ v, d });
  }
  return (x) => {
    x = clamp(x, t[0], t[n - 1]);
    let i = 0;
    while (i < n - 2 && x > t[i + 1]) i++;
    const h = t[i + 1] - t[i],
      u = (x - t[i]) / h,
      a = 2 * u * u * u - 3 * u * u + 1,
      b = u * u * u - 2 * u * u + u,
      c = -2 * u * u * u + 3 * u * u,
      e = u * u * u - u * u;
    return S.map(({ v, d }) => a * v[i] + b * h * d[i] + c * v[i + 1] + e * h * d[i + 1]);
  };
}
// primitives
export function ell(c, r, axes) {
  axes = axes || [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ];
  return (p) => {
    const q = sub(p, c),
      x = dot(q, axes[0]),
      y = dot(q, axes[1]),
      z = dot(q, axes[2]);
    const k0 = Math.hypot(x / r[0], y / r[1], z / r[2]),
      k1 = Math.hypot(x / r[0] ** 2, y / r[1] ** 2, z / r[2] ** 2);
    return k1 < 1e-9 ? -Math.min(...r) : (k0 * (k0 - 1)) / k1;
  };
}
export function cone(a, b, r1, r2) {
  const ba = sub(b, a),
    l2 = dot(ba, ba);
  return (p) => {
    const pa = sub(p, a),
      h = clamp(dot(pa, ba) / l2, 0, 1);
    return len(mad(pa, ba, -h)) - mix(r1, r2, h);
  };
}
export function axesFrom(x, yHint) {
  const a = norm(x),
    c = norm(cross(a, yHint)),
    b = cross(c, a);
  return [a, b, c];
}
export { D2R };
// ---------- body definition, left half (x>0); y up, z forward ----------
export const TORSO = table([
  // y, halfwidth, zback, zfront, n
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
]);
export const LEG = table([
  // y, xin, xout, zback, zfront
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
export const legZ = (y) => -0.03 * clamp((0.478 - y) / 0.4, 0, 1) + 0.006 * sst(0.85, 0.5, y);
export const S = [0.166, 1.341, -0.016];
export const ad = norm([Math.cos(40 * D2R), -Math.sin(40 * D2R), 0]),
  au = [Math.sin(40 * D2R), Math.cos(40 * D2R), 0];
export const L1 = 0.3125,
  L2 = 0.245;
export const ARM = table([
  // s, up, down, front, back
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
const bend = 4 * D2R;
export const armZ = (s) => {
  const t = s - L1,
    e = 0.03;
  return Math.tan(bend) * (t > e ? t : t < -e ? 0 : (t + e) ** 2 / (4 * e));
};
function sec(len2, ca, sa, a, b, n) {
  const q = Math.pow(Math.abs(ca) / a, n) + Math.pow(Math.abs(sa) / b, n);
  return Math.pow(q, -1 / n);
}
function torsoR(y, ca, sa, c) {
  const [a, zb, zf, n] = TORSO(y);
  return sec(0, ca, sa, a, (zf - zb) / 2, n);
}
export function fTorso(p) {
  const y = p[1],
    [a, zb, zf, n] = TORSO(y),
    c = (zf + zb) / 2,
    x = p[0],
    z = p[2] - c,
    l = Math.hypot(x, z) || 1e-9,
    ca = x / l,
    sa = z / l;
  const R = sec(0, ca, sa, a, (zf - zb) / 2, n),
    e = 0.004,
    g = (torsoR(y + e, ca, sa) - torsoR(y - e, ca, sa)) / (2 * e);
  let d = (l - R) / Math.sqrt(1 + g * g);
  return smax(smax(d, 0.783 - y, 0.05), y - 1.405, 0.03);
}
export function fLeg(p) {
  const [xi, xo, zb, zf] = LEG(p[1]),
    oz = legZ(p[1]),
    cx = (xi + xo) / 2,
    a = (xo - xi) / 2,
    cz = (zb + zf) / 2 + oz,
    b = (zf - zb) / 2,
    x = p[0] - cx,
    z = p[2] - cz,
    l = Math.hypot(x, z) || 1e-9;
  let d = l - sec(0, x / l, z / l, a, b, 2.15);
  return smax(smax(d, p[1] - 0.9, 0.05), 0.05 - p[1], 0.02);
}
export function fArm(p) {
  const q = sub(p, S),
    s = dot(q, ad),
    u = dot(q, au),
    z = q[2] - armZ(s),
    [ru, rd, rf, rb] = ARM(s),
    l = Math.hypot(u, z) || 1e-9;
  const cu = (ru - rd) / 2,
    a = (ru + rd) / 2,
    cz = (rf - rb) / 2,
    b = (rf + rb) / 2,
    u2 = u - cu,
    z2 = z - cz,
    l2 = Math.hypot(u2, z2) || 1e-9;
  const sh = sst(0.36, 0.5, s);
  let d = l2 - sec(0, u2 / l2, z2 / l2, a, b, 2 + 0.1 * sh);
  return smax(smax(d, -s - 0.03, 0.03), s - 0.585, 0.01);
}
const A = (s, u, z) => add(add(S, mul(ad, s)), [au[0] * u, au[1] * u, z]);
export { A as armPt };
const hx = (deg, ax) => rotAxis;
// ---------- neck (shared by head and body; metres). Section table along a line leaning forward 20 degrees
const neckC = (y) => -0.03 + 0.364 * (y - 1.395); // centre line z(y), 20 degrees from the upright
export const NECK = table([
  [1.36, 0.064, 0.056],
  [1.395, 0.055, 0.053],
  [1.42, 0.0468, 0.048],
  [1.45, 0.0416, 0.0445],
  [1.48, 0.0403, 0.0436],
  [1.53, 0.04, 0.043],
]); // y, half width, half depth
const neckMass = [
  [cone([0.0525, 1.5285, 0.0095], [0.015, 1.371, 0.0225], 0.0065, 0.0065), 0.012], // sternomastoid, mastoid to breastbone
  [cone([0.011, 1.519, -0.036], [0.024, 1.425, -0.056], 0.011, 0.0165), 0.03],
]; // upper trapezius, occiput to nape
export function fNeck(p) {
  const y = p[1],
    x = Math.abs(p[0]),
    [a, b] = NECK(y),
    z = p[2] - neckC(y),
    q = Math.hypot(x / a, z / b);
  let d = (q - 1) * Math.min(a, b);
  d = smax(d, 1.345 - y, 0.02);
  const P = [x, y, p[2]];
  for (const [f, k] of neckMass) d = smin(d, f(P), k);
  return d;
}
// masses: [fn,k]
export const M = {};
function rotE(ax, deg) {
  const a = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ];
  return a.map((v) => rotAxis(v, ax, deg * D2R));
}
export const torsoMass = [
  [ell([0.076, 1.255, 0.058], [0.062, 0.075, 0.032], rotE([1, 0, 0], -16)), 0.05], // upper breast slope
  [ell([0.081, 1.2, 0.074], [0.06, 0.058, 0.046], rotE([0, 1, 0], 16)), 0.04], // breast
  [ell([0.105, 1.305, 0.03], [0.06, 0.045, 0.034]), 0.04],
  [cone([0.095, 1.285, 0.052], A(0.055, -0.02, 0.026), 0.026, 0.02), 0.035], // pectoral fold
  [cone([0.102, 1.205, -0.056], A(0.06, -0.02, -0.028), 0.022, 0.02), 0.06], // back fold
  [ell([0.086, 1.295, -0.073], [0.052, 0.085, 0.026], rotE([0, 0, 1], 12)), 0.07], // scapula
  [cone([0.014, 1.41, -0.046], [0.15, 1.371, -0.026], 0.021, 0.0215), 0.034], // trapezius
  [cone([0.018, 1.361, 0.037], [0.075, 1.373, 0.033], 0.0115, 0.0105), 0.012],
  [cone([0.075, 1.373, 0.033], [0.158, 1.383, -0.01], 0.0105, 0.011), 0.016], // clavicle
  [ell([0, 0.925, 0.056], [0.09, 0.075, 0.043]), 0.05], // belly
  [ell([0, 0.825, 0.046], [0.05, 0.055, 0.034]), 0.06], // mons
  [ell([0.121, 0.832, -0.008], [0.038, 0.115, 0.064]), 0.06], // hip side
];
export const gluteMass = [[ell([0.078, 0.842, -0.064], [0.071, 0.08, 0.06], rotE([1, 0, 0], 16)), 0.05]];
export const armMass = [
  [ell(A(0.048, 0.007, -0.001), [0.076, 0.0415, 0.05], [ad, au, [0, 0, 1]]), 0.025],
  [ell(A(0.155, -0.004, 0.012), [0.075, 0.03, 0.034], [ad, au, [0, 0, 1]]), 0.03],
  [ell(A(0.306, 0.0, -0.027), [0.02, 0.013, 0.0115], [ad, au, [0, 0, 1]]), 0.025],
];
const lz = (y) => legZ(y);
export const legMass = [
  [ell([0.091, 0.487, 0.036 + lz(0.487)], [0.022, 0.028, 0.023]), 0.03],
  [ell([0.091, 0.44, 0.036 + lz(0.44)], [0.013, 0.02, 0.014]), 0.03],
  [ell([0.071, 0.365, -0.048 + lz(0.365)], [0.027, 0.08, 0.03]), 0.025],
  [ell([0.115, 0.375, -0.044 + lz(0.375)], [0.026, 0.075, 0.029]), 0.025],
  [ell([0.068, 0.545, 0.03], [0.026, 0.06, 0.034]), 0.04],
  [ell([0.122, 0.57, 0.025], [0.026, 0.08, 0.04]), 0.04],
];
// foot
export const ANK = [0.0935, 0.066, -0.034],
  toe = 8 * D2R,
  ff = [Math.sin(toe), 0, Math.cos(toe)],
  fl = [Math.cos(toe), 0, -Math.sin(toe)];
export const FP = (f, l, y) => [ANK[0] + ff[0] * f + fl[0] * l, y, ANK[2] + ff[2] * f + fl[2] * l];
const fax = [ff, fl, [0, 1, 0]];
const footBase = [
  [ell(FP(-0.012, 0.001, 0.031), [0.036, 0.0305, 0.04], fax), 0.02],
  [cone(FP(0.008, 0, 0.088), FP(0.095, -0.008, 0.036), 0.031, 0.022), 0.03],
  [cone(FP(0, 0, 0.03), FP(0.118, -0.012, 0.022), 0.027, 0.021), 0.02],
  [cone(FP(0.0, 0.008, 0.022), FP(0.112, 0.024, 0.016), 0.022, 0.016), 0.02],
  [ell(FP(0.118, -0.003, 0.015), [0.036, 0.042, 0.017], fax), 0.02],
  [ell(FP(0.006, -0.022, 0.083), [0.014, 0.012, 0.015], fax), 0.016],
  [ell(FP(-0.003, 0.0235, 0.073), [0.013, 0.012, 0.016], fax), 0.016],
];
const toesDef = [
  [0.132, -0.0255, 0.015, 0.184, -0.025, 0.0115, 0.0135, 0.0112],
  [0.14, -0.005, 0.014, 0.184, -0.004, 0.0095, 0.0105, 0.0088],
  [0.136, 0.0105, 0.013, 0.176, 0.0122, 0.009, 0.0098, 0.0082],
  [0.128, 0.0235, 0.012, 0.165, 0.0265, 0.0085, 0.0092, 0.0077],
  [0.117, 0.035, 0.011, 0.15, 0.039, 0.008, 0.0088, 0.0073],
];
const toes = toesDef.map((t) => cone(FP(t[0], t[1], t[2]), FP(t[3], t[4], t[5]), t[6], t[7]));
const archE = ell(FP(0.052, -0.042, 0), [0.055, 0.03, 0.017], fax);
export function fFoot(p) {
  let d = 1;
  for (const [f, k] of footBase) d = smin(d, f(p), k);
  let t = 1;
  for (const f of toes) t = smin(t, f(p), 0.004);
  d = smin(d, t, 0.012);
  d = smax(d, -archE(p), 0.02);
  return d;
}
// full body field (left half, hand excluded)
export function disp(p) {
  let d = 0;
  const x = p[0],
    y = p[1],
    z = p[2];
  if (z < 0) {
    d += 0.0055 * Math.exp(-((x / 0.016) ** 2)) * sst(0.9, 1.0, y) * sst(1.42, 1.3, y);
  } else {
    d += 0.0022 * Math.exp(-((x / 0.022) ** 2)) * sst(0.95, 1.02, y) * sst(1.33, 1.22, y);
    d += 0.006 * Math.exp(-((x / 0.011) ** 2 + ((y - 1.003) / 0.013) ** 2));
    d += 0.0065 * Math.exp(-((x / 0.015) ** 2 + ((y - 1.364) / 0.014) ** 2));
  }
  return d;
}
export function fBody(p) {
  if (p[0] < 0) p = [-p[0], p[1], p[2]];
  const y = p[1];
  let d = 1;
  if (y > 0.7) {
    d = fTorso(p);
    if (y > 1.3) d = smin(d, fNeck(p), 0.022);
    for (const [f, k] of torsoMass) d = smin(d, f(p), k);
  }
  if (y < 0.95) {
    let l = fLeg(p);
    for (const [f, k] of legMass) if (y < 0.75) l = smin(l, f(p), k);
    d = y > 0.7 ? smin(d, l, 0.045) : l;
    if (y > 0.7) for (const [f, k] of gluteMass) d = smin(d, f(p), k);
  }
  if (y < 0.16) {
    const ft = fFoot(p);
    d = smin(d, ft, 0.02);
    d = smax(d, -p[1], 0.006);
  }
  if (p[0] > 0.08 && y > 0.85) {
    let a = fArm(p);
    for (const [f, k] of armMass) a = smin(a, f(p), k);
    d = smin(d, a, 0.028);
  }
  return d + disp(p);
}
export const grad = (F, p, e = 6e-4) =>
  norm([
    F([p[0] + e, p[1], p[2]]) - F([p[0] - e, p[1], p[2]]),
    F([p[0], p[1] + e, p[2]]) - F([p[0], p[1] - e, p[2]]),
    F([p[0], p[1], p[2] + e]) - F([p[0], p[1], p[2] - e]),
  ]);
export function project(F, p, maxStep = 0.01, it = 4) {
  for (let i = 0; i < it; i++) {
    const d = F(p);
    if (Math.abs(d) < 5e-5) break;
    const g = grad(F, p);
    p = mad(p, g, -clamp(d, -maxStep, maxStep));
  }
  return p;
}
export function ray(F, o, d, max = 0.3) {
  let a = 0,
    st = 0.004;
  if (F(o) > 0) return null;
  for (let t = st; t <= max; t += st) {
    if (F(mad(o, d, t)) > 0) {
      let lo = t - st,
        hi = t;
      for (let i = 0; i < 12; i++) {
        const m = (lo + hi) / 2;
        F(mad(o, d, m)) > 0 ? (hi = m) : (lo = m);
      }
      return mad(o, d, (lo + hi) / 2);
    }
  }
  return mad(o, d, max);
}
// ---------- hand ----------
export const W = A(L1 + L2, 0, armZ(L1 + L2)); // wrist centre
const fdir = norm(add(mul(ad, Math.cos(bend)), [0, 0, Math.sin(bend)]));
export const HH = fdir,
  HU = au,
  HR = norm(cross(HU, HH)).map((v) => v); // will be checked to point +z
export const hs = HR[2] > 0 ? 1 : -1;
export const R_ = mul(HR, hs);
export const HP = (h, r, u) => add(add(add(W, mul(HH, h)), mul(R_, r)), mul(HU, u));
export const FING = [
  // mcp, splay deg, lengths, radii(mcp,pip,dip,tip), curl
  { mcp: [0.088, 0.0265, 0.001], sp: 5, L: [0.042, 0.025, 0.02], r: [0.0102, 0.0086, 0.0077, 0.0068], c: [12, 14, 10] },
  { mcp: [0.09, 0.0065, 0.003], sp: 0.5, L: [0.045, 0.029, 0.021], r: [0.0104, 0.0088, 0.0079, 0.007], c: [14, 16, 11] },
  { mcp: [0.085, -0.0125, 0.001], sp: -4, L: [0.041, 0.027, 0.021], r: [0.0099, 0.0084, 0.0075, 0.0067], c: [17, 18, 12] },
  { mcp: [0.077, -0.0295, -0.003], sp: -10, L: [0.032, 0.02, 0.018], r: [0.009, 0.0075, 0.0067, 0.006], c: [20, 19, 13] },
];
for (const f of FING) {
  const ax0 = R_;
  let dir = norm(add(mul(HH, Math.cos(f.sp * D2R)), mul(R_, Math.sin(f.sp * D2R))));
  const side = norm(cross(HU, dir));
  f.hinge = side; // rotate so that positive curl bends toward -HU
  const test = rotAxis(dir, side, 0.3);
  const sg = dot(test, HU) < 0 ? 1 : -1;
  f.hinge = mul(side, sg);
  f.pts = [HP(...f.mcp)];
  f.dirs = [];
  let a = 0;
  for (let i = 0; i < 3; i++) {
    a += f.c[i] * D2R;
    const d = rotAxis(dir, f.hinge, a);
    f.dirs.push(d);
    f.pts.push(mad(f.pts[i], d, f.L[i]));
  }
  const rr = f.r;
  const cs = [
    cone(f.pts[0], f.pts[1], rr[0], rr[1]),
    cone(f.pts[1], f.pts[2], rr[1], rr[2]),
    cone(f.pts[2], mad(f.pts[3], f.dirs[2], -rr[3]), rr[2], rr[3]),
  ];
  const upv = (i) => norm(cross(f.hinge, f.dirs[i])).map((v) => v);
  f.up = (i) => {
    const u = norm(cross(f.dirs[i], f.hinge));
    return dot(u, HU) > 0 ? u : mul(u, -1);
  };
  const kn = [
    ell(mad(f.pts[1], f.up(1), rr[1] * 0.25), [rr[1] * 1.2, rr[1] * 0.9, rr[1] * 0.84], [f.dirs[0], f.hinge, f.up(0)]),
    ell(mad(f.pts[2], f.up(2), rr[2] * 0.2), [rr[2] * 1.1, rr[2] * 0.9, rr[2] * 0.84], [f.dirs[1], f.hinge, f.up(1)]),
  ];
  const pad = [
    cone(
      mad(mad(f.pts[0], f.dirs[0], f.L[0] * 0.45), f.up(0), -rr[0] * 0.25),
      mad(mad(f.pts[0], f.dirs[0], f.L[0] * 0.7), f.up(0), -rr[0] * 0.2),
      rr[0] * 0.86,
      rr[1] * 0.9,
    ),
  ];
  f.F = (p) => {
    let d = 1;
    for (const c of cs) d = smin(d, c(p), 0.0015);
    for (const c of kn) d = smin(d, c(p), 0.003);
    for (const c of pad) d = smin(d, c(p), 0.005);
    return d;
  };
}
export const TH = {
  pts: [HP(0.014, 0.014, -0.01), HP(0.0475, 0.0415, -0.02), HP(0.0735, 0.0605, -0.0235), HP(0.0955, 0.0745, -0.024)],
  r: [0.0135, 0.0102, 0.0094, 0.008],
};
{
  const t = TH;
  t.dirs = [0, 1, 2].map((i) => norm(sub(t.pts[i + 1], t.pts[i])));
  // thumb hinge: flexion toward palm & across: nail faces radial-dorsal
  t.nail = norm(add(mul(R_, 0.55), mul(HU, 0.75)));
  t.up = (i) => {
    const d = t.dirs[i];
    return norm(mad(t.nail, d, -dot(t.nail, d)));
  };
  t.hinge = norm(cross(t.dirs[1], t.up(1)));
  {
    const x = rotAxis(t.dirs[1], t.hinge, 0.3);
    if (dot(x, t.up(1)) > 0) t.hinge = mul(t.hinge, -1);
  }
  const r = t.r,
    cs = [
      cone(t.pts[0], t.pts[1], r[0], r[1]),
      cone(t.pts[1], t.pts[2], r[1], r[2]),
      cone(t.pts[2], mad(t.pts[3], t.dirs[2], -r[3]), r[2], r[3]),
    ];
  const pad = ell(
    mad(mad(t.pts[2], t.dirs[2], 0.01), t.up(2), -0.001),
    [0.015, 0.0105, 0.0085],
    [t.dirs[2], norm(cross(t.dirs[2], t.up(2))), t.up(2)],
  );
  t.F = (p) => {
    let d = 1;
    for (const c of cs) d = smin(d, c(p), 0.005);
    return smin(d, pad(p), 0.006);
  };
}
const hax = [HH, R_, HU];
const palmPr = FING.map((f, i) => [
  cone(HP(-0.008, [0.0135, 0.0045, -0.0045, -0.0125][i], 0), f.pts[0], [0.0118, 0.0125, 0.0125, 0.0118][i], f.r[0] * 0.97),
  0.012,
]).concat([
  [ell(HP(0.038, 0.0185, -0.0125), [0.034, 0.0165, 0.0145], [norm(add(HH, mul(R_, 0.55))), norm(add(R_, mul(HH, -0.55))), HU]), 0.014], // thenar
  [ell(HP(0.042, -0.0215, -0.0095), [0.036, 0.0135, 0.0135], hax), 0.014], // hypothenar
  [ell(HP(0.083, -0.001, -0.0075), [0.014, 0.033, 0.0105], hax), 0.012], // distal pad
]);
const webTh = cone(HP(0.036, 0.026, -0.011), HP(0.05, 0.035, -0.013), 0.011, 0.009);
const knuck = FING.map((f) => ell(mad(f.pts[0], HU, f.r[0] * 0.45), [0.0095, 0.0075, 0.0075], hax));
export function fPalm(p) {
  let d = 1;
  for (const [f, k] of palmPr) d = smin(d, f(p), k);
  for (const k of knuck) d = smin(d, k(p), 0.006);
  d = smin(d, webTh(p), 0.012);
  let a = fArm(p);
  for (const [f, k] of armMass) a = smin(a, f(p), k);
  return smin(d, a, 0.022);
}
export function fHandAll(p) {
  let d = fPalm(p);
  for (const f of FING) d = smin(d, f.F(p), 0.006);
  return smin(d, TH.F(p), 0.012);
}
const thMeta = cone(TH.pts[0], lerp(TH.pts[0], TH.pts[1], 0.9), TH.r[0], TH.r[1] * 1.02);
export const fPalmT = (p) => {
  let d = smin(fPalm(p), thMeta(p), 0.016);
  for (const f of FING) d = smin(d, f.F(p), 0.006);
  return d;
};
export const fHandU = (p) => smin(fPalmT(p), TH.F(p), 0.015);
export const fFinger = (i) => (p) => smin(fPalm(p), FING[i].F(p), 0.006);
export const fThumb = (p) => smin(smin(fPalm(p), thMeta(p), 0.016), TH.F(p), 0.015);

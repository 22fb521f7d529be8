// implicit head, millimetres. x=subject left, y up (0 = pupil line), z forward (0 = ear canal)
import { fNeck } from "../body/bodyForm.js";
// placement of the head in the figure (metres): pupils at EYE_Y, ear canal at EAR_Z
export const K = 0.00099,
  EYE_Y = 1.571,
  EAR_Z = 0.022;
export const toW = (p) => [p[0] * K, EYE_Y + p[1] * K, EAR_Z + p[2] * K],
  toH = (p) => [p[0] / K, (p[1] - EYE_Y) / K, (p[2] - EAR_Z) / K];
export const C = [0, -5, 0];
export const EYE = [31, 0, 67.5],
  RE = 12.6,
  RLI = 13.35,
  RLO = 14.8;
const L = [
  // midline
  [0, 110, -8],
  [0, 104, 30],
  [0, 92, 60],
  [0, 78, 77.5],
  [0, 62, 88],
  [0, 45, 93],
  [0, 28, 94.5],
  [0, 17, 94],
  [0, 4, 87.5],
  [0, -10, 86.5],
  [0, -25, 87.5],
  [0, -40, 91],
  [0, -47, 93.3],
  [0, -58, 95],
  [0, -67, 94],
  [0, -77, 92],
  [0, -85, 88],
  [0, -92, 89.5],
  [0, -98, 90.5],
  [0, -105, 87.5],
  [0, -109.5, 80],
  [0, -111, 68],
  [0, -112, 50],
  [0, -112, 25],
  [0, -105, -10],
  [0, -85, -50],
  [0, -60, -76],
  [0, -30, -89],
  [0, 0, -95],
  [0, 35, -94],
  [0, 70, -78],
  [0, 95, -48],
  // y=100,85,60,30
  [20, 100, 37],
  [36, 100, 12],
  [41, 100, -10],
  [36, 100, -32],
  [20, 85, 65.5],
  [35, 85, 55],
  [48, 85, 33],
  [57, 85, 5],
  [60, 85, -15],
  [54, 85, -45],
  [35, 83, -62],
  [20, 60, 86],
  [38, 60, 75],
  [52, 60, 55],
  [62, 60, 30],
  [69, 60, 0],
  [71, 60, -20],
  [64, 60, -55],
  [42, 60, -77],
  [20, 38, 91.8],
  [38, 36, 81.5],
  [53, 34, 63],
  [63, 32, 40],
  [71, 30, 5],
  [74, 35, -20],
  [68, 30, -55],
  [45, 30, -82],
  // brow ridge, orbit
  [10, 18, 93.5],
  [20, 20, 91.6],
  [32, 21.5, 87],
  [44, 19, 77.5],
  [52, 12, 65.5],
  [11, 9, 87.5],
  [16.5, 8, 84.4],
  [23, 11, 85.4],
  [32, 12, 83],
  [42, 10, 76.3],
  [16, 0, 77.2],
  [31, 0, 76],
  [42, 0, 71],
  [19, -10, 81.2],
  [31, -13.5, 80.8],
  [42, -12, 74],
  [50, 0, 63],
  [51, -10, 63.5],
  [60, 8, 45.5],
  [66, 8, 22],
  [71, 0, -8],
  [72, 0, -25],
  [66, 0, -58],
  [43, 0, -83],
  // cheek y=-24
  [15, -24, 84.5],
  [28, -25, 82],
  [40, -25, 76.5],
  [50, -24, 66.5],
  [58, -22, 52],
  [64, -20, 33],
  [66.5, -24, 12],
  [68, -24, -8],
  [67, -24, -25],
  [61, -24, -55],
  [40, -26, -79],
  // y=-45
  [14, -45, 89.5],
  [25, -45, 84.3],
  [35, -45, 77],
  [44.5, -45, 65],
  [52.5, -45, 47],
  [57.5, -45, 25],
  [59.5, -45, 5],
  [57, -45, -20],
  [50, -45, -50],
  [30, -45, -72],
  // y=-67
  [12, -67, 92],
  [24, -67, 85],
  [34, -67, 75.6],
  [43, -67, 61.2],
  [49.5, -67, 41],
  [52.5, -66, 18],
  [51, -65, 2],
  [45, -67, -20],
  [36, -67, -45],
  // y=-85
  [10, -85, 86.3],
  [19, -85, 80.5],
  [28.5, -85, 70],
  [36.5, -85, 54.5],
  [42.5, -84, 34],
  [46, -79.5, 14],
  [40, -82, -8],
  // jaw border and chin
  [8.5, -98, 89],
  [17, -97, 81.5],
  [26, -93.5, 67],
  [10, -106, 83.5],
  [18.5, -103.5, 73],
  [28, -98, 57],
  [36, -91.5, 40],
  [42.5, -84.5, 22],
  [46.5, -76, 6],
  [16, -109.5, 55],
  [24, -104, 38],
  [30, -96, 16],
  [32, -84, -10],
];
export const LAND = L;
const phi = (r) => r * r * r,
  LAM = 2e-4;
let W;
for (const p of L) if (p[1] < -84) p[1] += 2 * Math.min(1, (-84 - p[1]) / 14) * (p[2] > -5 ? 1 : 0);
const D = L.map((p) => {
  const d = [p[0] - C[0], p[1] - C[1], p[2] - C[2]];
  const r = Math.hypot(...d);
  return { d: d.map((v) => v / r), r };
});
const dist = (a, b) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]),
  distm = (a, b) => Math.hypot(a[0] + b[0], a[1] - b[1], a[2] - b[2]);
function basis(d, i) {
  return phi(dist(d, D[i].d)) + phi(distm(d, D[i].d));
}
(function solve() {
  const n = D.length,
    m = n + 3,
    A = [];
  for (let i = 0; i < m; i++) {
    A.push(new Float64Array(m + 1));
  }
  for (let i = 0; i < n; i++) {
    for (let j = 0; j < n; j++) A[i][j] = basis(D[i].d, j);
    A[i][i] += LAM;
    const P = [1, D[i].d[1], D[i].d[2]];
    for (let k = 0; k < 3; k++) {
      A[i][n + k] = P[k];
      A[n + k][i] = P[k];
    }
    A[i][m] = D[i].r;
  }
  for (let c = 0; c < m; c++) {
    let p = c;
    for (let r = c + 1; r < m; r++) if (Math.abs(A[r][c]) > Math.abs(A[p][c])) p = r;
    [A[c], A[p]] = [A[p], A[c]];
    for (let r = 0; r < m; r++)
      if (r !== c) {
        const f = A[r][c] / A[c][c];
        if (f) for (let k = c; k <= m; k++) A[r][k] -= f * A[c][k];
      }
  }
  W = A.map((r, i) => r[m] / r[i]);
})();
function Rdir(d) {
  const n = D.length;
  let s = W[n] + W[n + 1] * d[1] + W[n + 2] * d[2];
  for (let i = 0; i < n; i++) s += W[i] * basis(d, i);
  return s;
}
const NA = 361,
  NE = 361,
  T = new Float32Array(NA * NE);
for (let a = 0; a < NA; a++)
  for (let e = 0; e < NE; e++) {
    const az = (a * Math.PI) / (NA - 1),
      el = -Math.PI / 2 + (e * Math.PI) / (NE - 1);
    T[a * NE + e] = Rdir([Math.sin(az) * Math.cos(el), Math.sin(el), Math.cos(az) * Math.cos(el)]);
  }
export const fitError = () => Math.max(...D.map((o) => Math.abs(Rdir(o.d) - o.r)));
function headR(x, y, z) {
  const h = Math.hypot(x, z);
  let a = (Math.atan2(Math.abs(x), z) / Math.PI) * (NA - 1),
    e = ((Math.atan2(y, h) + Math.PI / 2) / Math.PI) * (NE - 1);
  let a0 = Math.min(NA - 2, Math.floor(a)),
    e0 = Math.min(NE - 2, Math.max(0, Math.floor(e)));
  a -= a0;
  e -= e0;
  const i = a0 * NE + e0;
  return (T[i] * (1 - a) + T[i + NE] * a) * (1 - e) + (T[i + 1] * (1 - a) + T[i + NE + 1] * a) * e;
}
export const smin = (a, b, k) => {
  const h = Math.max(k - Math.abs(a - b), 0) / k;
  return Math.min(a, b) - (h * h * k) / 4;
};
export const smax = (a, b, k) => -smin(-a, -b, k);
const cone = (p, a, b, ra, rb) => {
  const bx = b[0] - a[0],
    by = b[1] - a[1],
    bz = b[2] - a[2];
  const px = p[0] - a[0],
    py = p[1] - a[1],
    pz = p[2] - a[2];
  let t = (px * bx + py * by + pz * bz) / (bx * bx + by * by + bz * bz);
  t = t < 0 ? 0 : t > 1 ? 1 : t;
  return Math.hypot(px - bx * t, py - by * t, pz - bz * t) - (ra + (rb - ra) * t);
};
// ellipsoid with yaw (about y) then pitch (about x)
const ell = (p, c, r, yaw = 0, pitch = 0) => {
  let x = p[0] - c[0],
    y = p[1] - c[1],
    z = p[2] - c[2];
  if (yaw) {
    const s = Math.sin(yaw),
      k = Math.cos(yaw);
    [x, z] = [x * k - z * s, x * s + z * k];
  }
  if (pitch) {
    const s = Math.sin(pitch),
      k = Math.cos(pitch);
    [y, z] = [y * k + z * s, -y * s + z * k];
  }
  const k0 = Math.hypot(x / r[0], y / r[1], z / r[2]),
    k1 = Math.hypot(x / r[0] ** 2, y / r[1] ** 2, z / r[2] ** 2);
  return k1 < 1e-9 ? -Math.min(...r) : (k0 * (k0 - 1)) / k1;
};
const bump = (p, c, s, a) => {
  const q = ((p[0] - c[0]) / s[0]) ** 2 + ((p[1] - c[1]) / s[1]) ** 2 + ((p[2] - c[2]) / s[2]) ** 2;
  return q > 9 ? 0 : a * Math.exp(-q);
};
export const BUMPS = [
  [[0, -96.5, 90], [11, 7, 12], 0.9],
  [[0, -84, 88], [14, 3.6, 12], -0.9],
  [[45, -21, 73], [13, 10, 16], 1.3],
  [[29.5, -67, 80], [4, 5, 8], -0.6],
  [[33, -62, 76], [6, 8, 10], 0.5],
  [[38, -44, 76], [14, 13, 16], 0.9],
];
export function f(q) {
  const d = fSkull(q);
  return q[1] < -5 ? smin(d, fNeck(toW(q)) / K, kNape(q[2])) : d;
}
export const kNape = (z) => {
  const t = Math.min(1, Math.max(0, -z / 40));
  return 7 + 17 * t * t * (3 - 2 * t);
}; // head/neck blend radius in mm: tight under the jaw, wide at the nape
export function fSkull(q) {
  const p = [Math.abs(q[0]), q[1], q[2]];
  const dx = p[0] - C[0],
    dy = p[1] - C[1],
    dz = p[2] - C[2];
  let h = Math.hypot(dx, dy, dz) - headR(dx, dy, dz);
  if (p[2] > 55) {
    // nose
    let n = cone(p, [0, 5, 82], [0, -17, 91.2], 5.5, 5.7);
    n = smin(n, cone(p, [0, -17, 91.2], [0, -35, 100.4], 5.7, 7.0), 3);
    n = smin(n, ell(p, [2.8, -37.2, 102.5], [5.7, 6.0, 6.2]), 4);
    n = smin(n, ell(p, [10.2, -38.9, 92.8], [4.6, 5.3, 7.4], 0.42, 0.2), 8);
    n = smin(n, cone(p, [0, -42.9, 102], [0, -46.8, 90], 2.7, 3.4), 3.5);
    h = smin(h, cone(p, [0, 2, 77], [0, -30, 86.5], 9, 13), 9);
    const ky = Math.min(1, Math.max(0, (p[1] + 38) / 14));
    h = smin(h, n, 3.2 + 5.2 * ky * ky * (3 - 2 * ky));
    // philtrum groove + columns, nasolabial fold, chin pad, malar
    if (p[1] < -44 && p[1] > -62) {
      const w = Math.min(1, (-44 - p[1]) / 4) * Math.min(1, (62 + p[1]) / 3);
      h += w * (0.85 * Math.exp(-((p[0] / 2.6) ** 2)) - 0.35 * Math.exp(-(((p[0] - 5) / 1.9) ** 2)));
    }
    const nl = cone(p, [17.5, -42, 86], [29.5, -66, 80], 0, 0);
    h += 0.55 * Math.exp(-((nl / 3.2) ** 2));
    // lid bulge
    h = smin(h, Math.hypot(p[0] - EYE[0], p[1] - EYE[1], p[2] - EYE[2]) - RLO, 7);
    for (const b of BUMPS) h -= bump(p, b[0], b[1], b[2]);
  }
  return h;
}
export function grad(p, e = 0.25) {
  const k = [
    [1, -1, -1],
    [-1, -1, 1],
    [-1, 1, -1],
    [1, 1, 1],
  ];
  const g = [0, 0, 0];
  for (const v of k) {
    const d = f([p[0] + v[0] * e, p[1] + v[1] * e, p[2] + v[2] * e]);
    g[0] += v[0] * d;
    g[1] += v[1] * d;
    g[2] += v[2] * d;
  }
  return g.map((v) => v / (4 * e));
}
export function project(p, n = 6) {
  let q = p.slice();
  for (let i = 0; i < n; i++) {
    const d = f(q);
    if (Math.abs(d) < 1e-3) break;
    const g = grad(q);
    const l2 = Math.max(0.15, g[0] ** 2 + g[1] ** 2 + g[2] ** 2);
    let s = d / l2;
    const gl = Math.sqrt(l2);
    if (Math.abs(s) * gl > 4) s = (Math.sign(s) * 4) / gl;
    for (let k = 0; k < 3; k++) q[k] -= s * g[k];
  }
  return q;
}
export function normal(p) {
  const g = grad(p);
  const l = Math.hypot(...g) || 1;
  return g.map((v) => v / l);
}
export function march(o, d, tmax = 220) {
  let t = tmax;
  let prev = t;
  for (let i = 0; i < 400 && t > 0; i++) {
    const p = [o[0] + d[0] * t, o[1] + d[1] * t, o[2] + d[2] * t];
    const v = f(p);
    if (v < 0.01) {
      let a = t,
        b = prev;
      for (let k = 0; k < 24; k++) {
        const m = (a + b) / 2;
        if (f([o[0] + d[0] * m, o[1] + d[1] * m, o[2] + d[2] * m]) < 0) a = m;
        else b = m;
      }
      t = a;
      break;
    }
    prev = t;
    t -= Math.max(0.15, v * 0.6);
  }
  return [o[0] + d[0] * t, o[1] + d[1] * t, o[2] + d[2] * t];
}
export const zfront = (x, y) => march([x, y, 40], [0, 0, 1], 110)[2];

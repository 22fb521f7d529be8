// Landmarks, and per-vertex coordinates on the +x half of the face (mm).
import * as F from "./headForm.js";
export const HINGE = [0, -16, 8]; // jaw hinge axis
export const MARK = {
  corner: [25, -66.5, 83],
  cheek: [41, -33, 75],
  hollow: [40, -60, 67],
  wing: [14, -40, 93],
  wingSide: [17, -33, 85],
  chin: [0, -95, 91],
  chinSide: [13, -88, 87],
  browHead: [9.5, 16, 92],
  browFold: [4.6, 18, 94],
  browTail: [50, 14, 66],
  outerEye: [49, 0, 67],
  underEye: [32, -12, 80],
  bridge: [0, 7, 88],
  upperLipSkin: [0, -53, 95],
  lowerLipSkin: [0, -84, 89],
  nasolabial: [
    [18.5, -41, 87],
    [35, -65, 77],
  ],
  dimple: [30, -66, 80],
};
export const ss = (a, b, x) => {
  x = Math.min(1, Math.max(0, (x - a) / (b - a)));
  return x * x * (3 - 2 * x);
};
export const gs = (p, c, s) => Math.exp(-(((p[0] - c[0]) / s[0]) ** 2 + ((p[1] - c[1]) / s[1]) ** 2 + ((p[2] - c[2]) / s[2]) ** 2));
// mouth ring index -> share of the lip from border (0) to seam (1), and how much the inside follows
const FR = { 4: 0, 5: 0.2, 6: 0.48, 7: 0.78, 8: 1, 9: 1, 10: 1, 11: 1, 12: 1, 13: 1, 14: 1, 99: 1 },
  INW = { 4: 1, 5: 1, 6: 1, 7: 1, 8: 1, 9: 1, 10: 0.97, 11: 0.72, 12: 0.3, 13: 0.06, 14: 0, 99: 0 };
// c = {v,p (half space),s (sign of x),t (build tag),n (surface normal),m (mouth coordinate)}
// m = {on: on the lips, t: 0 middle..1 corner, u: 1 upper..0 lower, fr, d: mm outside the border, off: mm above the seam, x}
export function marks(M) {
  const R = M.info.mouthRings,
    n = M.info.mouthN,
    border = R.find((r) => M.tag[r[3]].kind === "border"),
    seam = R.find((r) => M.tag[r[3]].kind === "seam");
  const half = (n - 1) / 2,
    ys = (k) => (M.X[seam[k]][1] + M.X[seam[n - 1 - k]][1]) / 2;
  const B = border.map((v, k) => ({
    p: M.X[v],
    t: M.tag[v].t,
    u: k < half ? 1 : k > half ? 0 : 0.5,
    off: M.X[v][1] - ys(k),
    x: M.X[v][0],
  }));
  const ysT = (t) => {
    const k = Math.min(half, Math.max(0, t * half)),
      a = Math.floor(k),
      b = Math.min(half, a + 1);
    return ys(a) + (ys(b) - ys(a)) * (k - a);
  };
  return M.X.map((P, v) => {
    const t = M.tag[v],
      s = t.side === 0 ? 0 : Math.sign(P[0]) || 0,
      p = [Math.abs(P[0]), P[1], P[2]];
    let m = { far: 1 };
    if (t.mouth && !t.skin)
      m = {
        on: 1,
        t: t.t,
        u: t.throat !== undefined ? 1 - t.throat : t.up ? 1 : 0,
        fr: FR[t.r],
        inW: INW[t.r],
        d: 0,
        off: p[1] - ysT(t.t),
        x: p[0],
        r: t.r,
      };
    else if (p[2] > 10 && p[1] < 5 && p[1] > -150) {
      let best = 1e9;
      for (const b of B) {
        b.q = Math.hypot(p[0] - b.p[0], p[1] - b.p[1], p[2] - b.p[2]);
        if (b.q < best) best = b.q;
      }
      const sg = 1 + 0.5 * best;
      let W = 0,
        a = [0, 0, 0, 0];
      for (const b of B) {
        const w = Math.exp(-(b.q * b.q - best * best) / (2 * sg * sg));
        W += w;
        a[0] += w * b.t;
        a[1] += w * b.u;
        a[2] += w * b.off;
        a[3] += w * b.x;
      }
      if (best < 45) m = { on: 0, t: a[0] / W, u: a[1] / W, off: a[2] / W, x: a[3] / W, fr: 0, d: best, r: 0 };
    }
    const nn = p[2] > -40 ? F.normal(p) : [1, 0, 0];
    return { v, p, s, t, n: nn, m };
  });
}

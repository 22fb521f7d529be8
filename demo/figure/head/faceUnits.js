// The table of facial shapes: small functions against landmarks, each returning a displacement in mm on the +x half.
import * as F from "./headForm.js";
import { lidMargin, lidShell, creaseDepth, INNER, S } from "./headTopology.js";
import { MARK, HINGE, ss, gs, marks } from "./faceMarks.js";
const { EYE, RE, RLI, project, normal } = F;
const rad = (d) => (d * Math.PI) / 180;
const Z = [0, 0, 0],
  add = (...l) => {
    const s = [0, 0, 0];
    for (const d of l) for (let k = 0; k < 3; k++) s[k] += d[k];
    return s;
  },
  mul = (d, k) => [d[0] * k, d[1] * k, d[2] * k];
const mixn = (a, b, t) => a + (b - a) * t;
// ---------- building blocks
// soft patch moved by a vector
export const patch = (c, at, size, vec) => {
  const g = gs(c.p, at, size);
  return g < 0.004 || (c.t.eye && c.t.inner) ? Z : mul(vec, g * (c.m.on ? 0 : c.m.far ? 1 : ss(0, 7, c.m.d)));
};
// soft patch moved along the surface normal; never on the lips themselves
export const puff = (c, at, size, mm) => {
  const g = gs(c.p, at, size);
  return g < 0.004 || c.m.on || c.t.inner ? Z : mul(c.n, mm * g * (c.m.far ? 1 : ss(0, 7, c.m.d)));
};
// groove along a segment
export const fold = (c, [a, b], width, mm) => {
  const p = c.p;
  if (c.m.on || c.t.inner || p[2] < 25) return Z;
  const d = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
  let t = ((p[0] - a[0]) * d[0] + (p[1] - a[1]) * d[1] + (p[2] - a[2]) * d[2]) / (d[0] ** 2 + d[1] ** 2 + d[2] ** 2);
  const e = ss(-0.15, 0.2, t) * (1 - ss(0.8, 1.15, t));
  t = Math.min(1, Math.max(0, t));
  const q = Math.hypot(p[0] - a[0] - d[0] * t, p[1] - a[1] - d[1] * t, p[2] - a[2] - d[2] * t) / width;
  // furrow with a small raised bank above it
  return q > 4
    ? Z
    : mul(c.n, e * (-mm * Math.exp(-q * q) + 0.22 * mm * Math.exp(-((q - 1.9) ** 2) / 0.9) * (p[0] > a[0] + d[0] * t ? 1 : 0.2)));
};
// lips and the skin round them. fn(t,up,fr,m) gives the movement at lip place t (0 middle, 1 corner), up 1/0; r = reach in mm above, below, beside
export const lips = (c, fn, r = [11, 13, 14]) => {
  const m = c.m;
  if (m.far) return Z;
  let w;
  if (m.on) w = m.inW;
  else {
    const q = m.d / mixn(m.u * r[0] + (1 - m.u) * r[1], r[2], m.t ** 3);
    if (q > 2.4) return Z;
    w = Math.exp(-q * q);
    const nose = ss(-51, -44, c.p[1]) * (1 - ss(16, 24, c.p[0]));
    w *= 1 - 0.65 * nose;
  }
  if (!w) return Z;
  const a = fn(m.t, 1, m.fr, m),
    b = fn(m.t, 0, m.fr, m);
  return [0, 1, 2].map((k) => w * (m.u * a[k] + (1 - m.u) * b[k]));
};
const bell = (t) => Math.pow(Math.max(0, 1 - t * t), 0.8); // 1 in the middle, 0 at the corner
// thin the red lip: pull towards the seam by share k
const thin = (m, k) => -m.off * k * (1 - 0.7 * m.t ** 4) * (m.on ? (m.r <= 8 ? 1 : 0) : 1);
// ---------- lids: upper edge lowered by up mm, lower edge raised by low mm (at the widest place), both shifted sideways by dx
const apAt = (s) => lidMargin(s, true)[1] - lidMargin(s, false)[1];
export const APERTURE = Math.max(...Array.from({ length: 101 }, (_, i) => apAt(i / 100)));
const cornea = (q, gaze) => {
  const th = (Math.acos(Math.min(1, (q[0] * gaze[0] + q[1] * gaze[1] + q[2] * gaze[2]) / Math.hypot(...q))) / Math.PI) * 180;
  return RE + 0.55 * Math.max(0, 1 - (th / 33) ** 2);
};
const NR = 8;
function lidPoint(c, up, low, dx, open) {
  const { p, t } = c,
    a = apAt(t.s) / APERTURE,
    q0 = lidMargin(t.s, t.up),
    dy = t.up ? -up * a : low * a,
    q = [q0[0] + dx * a, q0[1] + dy],
    m = { up: t.up, s: t.s };
  if (t.inner) {
    const k = t.r - NR - 1,
      I = lidShell(q, m, 0);
    if (k === 0) return I;
    const { deg, f } = INNER[k - 1],
      rr = RLI + INNER[k - 1].r;
    const I0 = lidShell(q0, m, 0),
      d0 = I0.map((v, j) => v - EYE[j]),
      h0 = Math.hypot(d0[0], d0[1]) || 1,
      th0 = Math.atan2(h0, d0[2]),
      T = Math.min(th0 + rad(deg), Math.max(th0 + 0.05, rad(118)));
    const P0 = [EYE[0] + (d0[0] / h0) * Math.sin(T) * rr, EYE[1] + (d0[1] / h0) * Math.sin(T) * rr, EYE[2] + Math.cos(T) * rr];
    const e = P0.map((v, j) => v + (I[j] - I0[j]) * f - EYE[j]),
      l = Math.hypot(...e);
    return e.map((v, j) => EYE[j] + (v / l) * rr);
  }
  if (t.r === NR) return lidShell(q, m, 1, open);
  const f = t.up ? Math.pow(Math.min(1, Math.max(0, (t.t - 0.12) / 0.88)), 1.15) : Math.pow(t.t, 1.5),
    cr = creaseDepth[t.r] || 0;
  let P = [p[0] + dx * a * f, p[1] + dy * f, p[2]];
  const y1 = P[1];
  P = project(P, 6);
  P[1] = P[1] * 0.3 + y1 * 0.7;
  P = project(P, 3);
  if (t.up && cr) {
    const w = Math.pow(Math.sin(Math.PI * Math.min(1, Math.max(0, t.s))), 0.9),
      d = P.map((v, j) => v - EYE[j]),
      l = Math.hypot(...d),
      shut = Math.max(0, Math.min(1, up / APERTURE));
    P = P.map((v, j) => v - (d[j] / l) * cr * w * (1 - 0.45 * shut));
  }
  return P;
}
export function lids(c, up, low, { dx = 0, shut = 0, gaze = [0, 0, 1] } = {}) {
  const t = c.t;
  if (!t.eye) return Z;
  const A = lidPoint(c, up, low, dx, 1 - shut),
    B = lidPoint(c, 0, 0, 0, 1);
  let q = c.p.map((v, k) => v + A[k] - B[k]);
  if (t.r >= NR - 1) {
    const e = q.map((v, k) => v - EYE[k]),
      l = Math.hypot(...e),
      R = cornea(e, gaze) + (t.r > NR ? 0.33 : 0.48);
    if (l < R) q = e.map((v, k) => EYE[k] + (v / l) * R);
  }
  return q.map((v, k) => v - c.p[k]);
}
// ---------- brow
const browField = (p) => {
  const x = p[0],
    up = p[1] - (16 + 6 * ss(8, 36, x) - 7 * ss(40, 54, x));
  return Math.exp(-((up / (up > 0 ? 20 : 8.5)) ** 2)) * (1 - ss(46, 66, x)) * (p[2] > 40 ? 1 : 0);
};
// slide skin over the skull: move, then put back on the form, keeping the fine relief
const slide = (c, d) => {
  const p = c.p,
    q = project([p[0] + d[0], p[1] + d[1], p[2] + d[2]], 5),
    q0 = project(p, 4);
  return q.map((v, k) => v - q0[k]);
};
const browMove = (c, share, dx, dy) => {
  const { t, p } = c;
  if (t.eye && t.inner) return Z;
  let w = browField(p) * share(p[0]);
  if (t.eye) w *= t.up ? 1 - ss(0.55, 1, t.t) * 0.87 : 0;
  return w < 0.004 ? Z : slide(c, [dx * w, dy * w, 0]);
};
const inner = (x) => 1 - ss(9, 38, x),
  outer = (x) => 0.18 + 0.82 * ss(9, 38, x);
const furrows = (c, env, amp, bow) => {
  if (c.p[2] < 35 || c.t.eye) return Z;
  const e = env * Math.exp(-(((c.p[1] - 49) / 13) ** 2));
  return e < 0.01 ? Z : mul(c.n, amp * e * Math.sin(((c.p[1] + bow * c.p[0] ** 2) * 2 * Math.PI) / 10.5));
};
// ---------- jaw
export function jawW(c) {
  const { p, t, m } = c,
    x = p[0],
    a = (Math.atan2(-(p[1] - HINGE[1]), p[2] - HINGE[2]) / Math.PI) * 180,
    fx = Math.min(1, x / 26),
    mid = 31.5 + 4.5 * fx,
    hw = 7 + 9 * Math.min(1, x / 45);
  let w = ss(mid - hw, mid + hw, a);
  w *= 1 - ss(58, 112, a) * ss(92, 118, -p[1] + (p[2] < 45 ? (45 - p[2]) * 0.25 : 0));
  w *= 1 - 0.55 * ss(60, 100, a) * (1 - ss(20, 60, p[2]));
  w *= 1 - ss(70, 124, a);
  if (p[1] < -112) w *= 1 - ss(112, 150, -p[1]);
  w *= 1 - ss(55, 63, x) * ss(-50, -38, p[1]);
  if (a > 125 || a < 0) w = 0;
  if (t.mouth) {
    const bag = t.kind === "bag",
      wl =
        t.throat !== undefined
          ? ss(0.1, 0.9, t.throat)
          : t.up
            ? 0.5 * Math.pow(t.t, bag ? 10 : 3)
            : 1 - 0.5 * Math.pow(t.t, bag ? 10 : 2.6),
      k = t.skin ? ss(0, 1, t.w) : 1;
    w = w * (1 - k) + wl * k;
  }
  return w;
}
// pose: {deg, fwd, lat}; w = share of it. The condyle slides forward as it turns.
export function jawMove(p, { deg = 0, fwd = 0, lat = 0 }, w = 1) {
  const a = rad(deg) * w,
    c = Math.cos(a),
    s = Math.sin(a),
    y = p[1] - HINGE[1],
    z = p[2] - HINGE[2],
    sl = (2.5 * w * deg) / 20;
  return [(lat * w * Math.max(0, p[2] - 10)) / 80, y * c - z * s - sl * 0.5 - y - fwd * w * 0.25, y * s + z * c + sl - z + fwd * w];
}
// how far the two lips are parted at lip place t by a jaw pose: [dy,dz] in mm at the seam
const parted = (t, J) => {
  const P = [0, -67.2, 93.5 - 10 * t * t],
    a = jawMove(P, J, 0.5 * t ** 3),
    b = jawMove(P, J, 1 - 0.5 * t ** 2.6);
  return [a[1] - b[1], a[2] - b[2]];
};
// closes that parting: upper lip comes down share up, lower lip comes up the rest; z also closes the step front to back
const seal = (t, u, fr, J, up, z = 1) => {
  const [dy, dz] = parted(t, J),
    k = u ? -up * (0.3 + 0.7 * fr) : (1 - up) * (0.45 + 0.55 * fr);
  return [0, k * dy, z * k * dz];
};
// ---------- tongue poses in the jaw frame: middle line (z,y) root to tip, half width, half thickness
const T0 = {
  line: [
    [44, -86],
    [53, -77],
    [63, -75.2],
    [71, -75.8],
    [78.6, -77.6],
  ],
  w: [14, 17.5, 18, 16, 11.5],
  h: [7, 6.2, 5.4, 4.4, 3],
};
export const TONGUE = {
  rest: T0,
  out: {
    line: [
      [47, -84],
      [61, -73],
      [76, -67.4],
      [92, -66.8],
      [111, -75.5],
    ],
    w: [14, 16.5, 15.5, 14.5, 11.5],
    h: [7, 6, 4.4, 3.4, 2.6],
  },
  up: {
    line: [
      [44, -86],
      [53, -77],
      [63, -76.5],
      [72, -72.5],
      [77.8, -62.6],
    ],
    w: [14, 17.5, 16.5, 13.5, 9],
    h: [7, 6.2, 5, 3.8, 2.4],
  },
  back: {
    line: [
      [44, -80],
      [53, -66.5],
      [62, -67.5],
      [69, -74],
      [76, -77.6],
    ],
    w: [14, 17.5, 17.5, 15.5, 11],
    h: [7, 7.5, 6.5, 4.6, 3],
  },
  teeth: {
    line: [
      [45, -85],
      [56, -74.5],
      [68, -69.4],
      [80, -66.9],
      [93.5, -67.4],
    ],
    w: [14, 17, 16, 14, 11],
    h: [7, 6, 4.6, 2.6, 1.7],
  },
  wide: { line: T0.line, w: T0.w.map((v, i) => v * [1, 1.06, 1.12, 1.2, 1.3][i]), h: T0.h.map((v) => v * 0.84) },
  narrow: { line: T0.line, w: T0.w.map((v, i) => v * [1, 0.9, 0.76, 0.68, 0.62][i]), h: T0.h.map((v) => v * 1.14) },
};
// ---------- the table
const gz = (yaw, pitch) => [Math.sin(rad(yaw)) * Math.cos(rad(pitch)), Math.sin(rad(pitch)), Math.cos(rad(yaw)) * Math.cos(rad(pitch))];
export const GAZE = { up: [0, 24], down: [0, -28], in: [-28, 0], out: [30, 0] }; // yaw (+ = outward), pitch
export const JAW = {
  26: { deg: 12 },
  27: { deg: 22 },
  28: { deg: 4.2 },
  29: { fwd: 5, deg: 1 },
  "30L": { lat: 6.2, deg: 0.9 },
  "30R": { lat: -6.2, deg: 0.9 },
};
const jawD = (c, J) => {
  const w = jawW(c);
  if (w < 1e-4) return Z;
  const d = jawMove(c.p, J, w),
    y = c.p[1],
    z = c.p[2];
  if (d[2] < 0) d[2] *= 1 - 0.42 * ss(84, 112, -y) * (1 - ss(40, 86, z)); // the floor of the jaw sinks rather than driving into the neck
  return [d[0] * (c.s || 1), d[1], d[2]];
};
const T = [];
const U = (id, label, view, d, o = {}) => T.push({ id, label, view, d, sided: true, ...o });
// brows and eyes
U("1", "inner brow up", "brow", (c) => add(browMove(c, inner, -1, 9), furrows(c, 1 - ss(12, 30, c.p[0]), 0.5, 0)));
U("2", "outer brow up", "brow", (c) =>
  add(browMove(c, outer, 0, 9.2), furrows(c, ss(12, 30, c.p[0]) * (1 - ss(40, 58, c.p[0])), 0.42, 0.004)),
);
U("4", "brow lowerer", "brow", (c) => {
  const x = c.p[0];
  if (c.t.eye && c.t.inner) return Z;
  let w = browField(c.p);
  if (c.t.eye) w *= c.t.up ? 1 - ss(0.55, 1, c.t.t) * 0.87 : 0;
  if (w < 0.004) return Z;
  return add(
    slide(c, [-3 * w * ss(3, 14, x) * (1 - ss(24, 44, x)), -w * (2.6 + 2.6 * inner(x)), 0]),
    mul(c.n, 1.7 * gs(c.p, MARK.browHead, [6, 7, 12]) - 1.6 * gs(c.p, MARK.browFold, [1.9, 9, 10])),
  );
});
U("5", "upper lid raiser", "eye", (c) => lids(c, -2.3, 0));
U("6", "cheek raiser", "eye", (c) =>
  add(
    lids(c, 0.9, 1.9),
    puff(c, [42, -26, 75], [17, 12, 20], 3.4),
    patch(c, [42, -26, 75], [17, 13, 20], [0.4, 3.6, 0]),
    c.t.eye ? (c.t.up || c.t.inner ? Z : mul([0, 1, 0], 1.1 * (1 - c.t.t))) : patch(c, MARK.underEye, [14, 6, 14], [0, 2.2, 0.9]),
    fold(
      c,
      [
        [20, -13, 79],
        [38, -15, 75],
      ],
      2,
      0.45,
    ),
    ...[-8, 0, 8].map((a) =>
      fold(
        c,
        [
          [48.5, a * 0.2, 67],
          [58.5, a, 51],
        ],
        1.15,
        0.55,
      ),
    ),
    browMove(c, outer, 0, -1.2),
  ),
);
U("7", "lid tightener", "eye", (c) => add(lids(c, 1.3, 2.3), c.t.eye ? Z : patch(c, MARK.underEye, [14, 5, 14], [0, 1, 0.5])));
const shutUp = 0.9 * APERTURE,
  shutLow = 0.1 * APERTURE;
const blinkSkin = (c, w) =>
  c.t.eye || c.p[2] < 50
    ? Z
    : add(
        gs(c.p, [32, 15, 82], [15, 6, 16]) > 0.01 ? slide(c, [0, -1.1 * w * gs(c.p, [32, 15, 82], [15, 6, 16]), 0]) : Z,
        gs(c.p, [33, -13, 79], [15, 6, 14]) > 0.01 ? slide(c, [0, 0.8 * w * gs(c.p, [33, -13, 79], [15, 6, 14]), 0]) : Z,
      );
U("43", "eyes closed", "eye", (c) => add(lids(c, shutUp, shutLow, { shut: 1 }), blinkSkin(c, 1)));
U(
  "43m",
  "closed, half-way fix",
  "eye",
  (c) => add(lids(c, shutUp / 2, shutLow / 2, { shut: 0.5 }), mul(lids(c, shutUp, shutLow, { shut: 1 }), -0.5)),
  { fix: 1 },
);
U(
  "61",
  "lids follow gaze up",
  "eye",
  (c) =>
    add(
      lids(c, -1.7, 0.9, { gaze: gz(...GAZE.up) }),
      browMove(c, (x) => 0.5, 0, 1),
    ),
  { gaze: "up" },
);
U("62", "lids follow gaze down", "eye", (c) => lids(c, 4.6, -1.1, { gaze: gz(...GAZE.down) }), { gaze: "down" });
U("63", "lids follow gaze in", "eye", (c) => lids(c, 0.2, 0, { dx: -0.8, gaze: gz(...GAZE.in) }), { gaze: "in" });
U("64", "lids follow gaze out", "eye", (c) => lids(c, 0.2, 0, { dx: 0.8, gaze: gz(...GAZE.out) }), { gaze: "out" });
U("65", "pupil wide", "pupil", () => Z, { pupil: 1 });
U("66", "pupil narrow", "pupil", () => Z, { pupil: -1 });
// nose and cheeks
U("9", "nose wrinkler", "mid", (c) =>
  add(
    patch(c, MARK.wingSide, [9, 13, 14], [0.7, 4.4, 0.8]),
    patch(c, MARK.wing, [6, 6, 8], [1.3, 3, -0.4]),
    patch(c, [0, -38, 101], [8, 7, 8], [0, 1, -0.3]),
    browMove(c, inner, -1.2, -3),
    lips(c, (t, u) => (u ? [0.2 * t, 3.4 * Math.pow(bell(t), 0.6), 0.6] : Z), [13, 8, 10]),
    puff(c, [25, -20, 82], [9, 9, 12], 2.4),
    c.t.eye && !c.t.up && !c.t.inner ? [0, 0.9 * (1 - c.t.t), 0] : patch(c, [24, -10, 81], [9, 6, 12], [0, 1.6, 0.4]),
    ...[
      [7.5, 2],
      [7, 7.5],
      [8, -3.5],
    ].map(([x, y]) =>
      fold(
        c,
        [
          [1, y + 1, 93],
          [x + 4, y - 2.5, 84],
        ],
        1.15,
        0.6,
      ),
    ),
    fold(
      c,
      [
        [17, -36, 87],
        [24, -52, 84],
      ],
      2.2,
      1,
    ),
  ),
);
U("10", "upper lip raiser", "mouth", (c) =>
  add(
    lips(
      c,
      (t, u) => {
        const k = u ? 0.78 + 0.22 * Math.sin(Math.PI * Math.min(1, t * 1.1)) : 0,
          e = Math.pow(t, 3);
        return u ? [0.5 * t, 5 * (k * bell(t) ** 0.5 * (1 - e) + 0.22 * e), 0.7 * bell(t)] : [0, 1.1 * e, 0];
      },
      [13, 8, 12],
    ),
    patch(c, [19, -44, 86], [8, 11, 12], [0.4, 2.6, 0.8]),
    patch(c, MARK.wing, [6, 6, 8], [0.8, 1.3, 0]),
    puff(c, [25, -38, 82], [8, 11, 12], 1.6),
    fold(
      c,
      [
        [17.5, -38, 87],
        [29, -60, 81],
      ],
      2.3,
      1.1,
    ),
  ),
);
U("11", "nasolabial deepener", "mid", (c) =>
  add(
    fold(
      c,
      [
        [18.5, -43, 87],
        [30, -62, 80],
      ],
      2.4,
      2,
    ),
    puff(c, [31, -42, 80], [10, 12, 14], 2),
    patch(c, [29, -42, 81], [10, 12, 14], [0.6, 1.8, 0]),
    lips(c, (t, u, fr) => (u ? [0, 1 * Math.sin(Math.PI * t) * (1 - fr), 0] : Z), [10, 6, 8]),
  ),
);
U("12", "lip corner puller", "mouth", (c) =>
  add(
    lips(
      c,
      (t, u, fr, m) => [
        6.2 * Math.pow(t, 0.95),
        0.9 * (1 - t) + 7.8 * Math.pow(t, 1.9) + thin(m, 0.18),
        -1.4 * (1 - t) - 4.8 * Math.pow(t, 1.5) - (m.on && fr > 0 && fr < 1 ? 1 * (1 - t * t) : 0),
      ],
      [12, 12, 15],
    ),
    puff(c, [42, -35, 75], [15, 14, 20], 4.1),
    patch(c, [40, -40, 77], [17, 17, 22], [0.9, 3.2, -0.3]),
    fold(c, MARK.nasolabial, 2.6, 1.6),
    c.t.eye ? (c.t.up || c.t.inner ? Z : [0, 0.7 * (1 - c.t.t), 0]) : patch(c, MARK.underEye, [14, 6, 14], [0, 1.2, 0.3]),
    patch(c, MARK.wing, [6, 6, 8], [1.2, 0.8, 0]),
  ),
);
U("13", "sharp lip puller", "mouth", (c) =>
  add(
    lips(c, (t, u, fr, m) => [0.6 * t, 6.8 * Math.pow(t, 2.4) + thin(m, 0.05), -2.2 * Math.pow(t, 2)], [12, 12, 11]),
    puff(c, [38, -46, 76], [11, 12, 18], 4.6),
    patch(c, [38, -46, 76], [12, 13, 18], [0.4, 2.4, 0]),
    fold(
      c,
      [
        [23, -50, 84],
        [33, -63, 78],
      ],
      2.2,
      1.3,
    ),
  ),
);
U("14", "dimpler", "mouth", (c) =>
  add(
    lips(c, (t, u, fr, m) => [2.4 * Math.pow(t, 2.5), 0.5 * Math.pow(t, 3) + thin(m, 0.14), -4 * Math.pow(t, 2.6) - 0.5], [10, 10, 8]),
    puff(c, [33, -66, 77.5], [4, 6, 8], -2.6),
    puff(c, [40, -62, 70], [7, 13, 12], 2.2),
    puff(c, [30, -76, 78], [7, 6, 10], 0.9),
  ),
);
U("15", "lip corner depressor", "mouth", (c) =>
  add(
    lips(
      c,
      (t, u, fr, m) => [1.6 * t * t, -6.8 * Math.pow(t, 2.1) - (u ? 0.5 : 0.2) * (1 - t) + thin(m, 0.06), -1.2 * t * t],
      [11, 13, 12],
    ),
    fold(
      c,
      [
        [30, -70, 80],
        [26, -88, 76],
      ],
      3.4,
      0.9,
    ),
    puff(c, [22, -82, 80], [8, 8, 12], 1.3),
    puff(c, [0, -93, 90], [12, 7, 12], 0.7),
    fold(
      c,
      [
        [18.5, -44, 87],
        [29, -60, 80],
      ],
      2.6,
      0.7,
    ),
  ),
);
U("16", "lower lip depressor", "mouth", (c) =>
  add(
    lips(
      c,
      (t, u) => (u ? Z : [0.8 * t * bell(t), -5.6 * bell(t) ** 0.75 * (0.86 + 0.14 * Math.sin(Math.PI * t)), 0.9 * bell(t)]),
      [8, 13, 9],
    ),
    puff(c, [0, -88, 88], [16, 5, 10], -0.9),
    puff(c, [20, -84, 80], [8, 8, 12], 0.8),
  ),
);
U(
  "17",
  "chin raiser",
  "mouth",
  (c) =>
    add(
      patch(c, MARK.chin, [17, 10, 14], [0, 4.4, 0.6]),
      puff(c, MARK.chin, [12, 7, 12], 1.3),
      fold(
        c,
        [
          [0, -86.5, 89],
          [12, -86, 86],
        ],
        2,
        0.9,
      ),
      lips(
        c,
        (t, u, fr) => {
          const b = bell(t);
          return [0, (u ? 3 * (0.3 + 0.7 * fr) : 3.1) * b - 1.3 * t * t, (u ? 1 : 2.1) * b];
        },
        [9, 11, 10],
      ),
    ),
  { sided: false },
);
// lips
U(
  "18",
  "lip pucker",
  "mouth",
  (c) =>
    add(
      lips(
        c,
        (t, u, fr, m) => [
          -m.x * (0.38 + 0.03 * t),
          m.off * (0.06 + 0.16 * t * t) * (m.on && m.r <= 8 ? 1 : 0.3),
          6 * (1 - 0.2 * t) + (m.on && fr > 0 && fr < 1 ? 1.1 * (1 - 0.5 * t) : 0),
        ],
        [11, 12, 15],
      ),
      puff(c, MARK.hollow, [15, 17, 22], -1.6),
      patch(c, MARK.chin, [14, 8, 12], [0, 1.6, 0]),
    ),
  { sided: false },
);
U("20", "lip stretcher", "mouth", (c) =>
  add(
    lips(c, (t, u, fr, m) => [7.2 * t, -1.2 * t * t + thin(m, 0.17), -3.4 * Math.pow(t, 1.5) - 1.1 * (1 - t)], [11, 13, 16]),
    puff(c, [39, -66, 69], [9, 16, 16], 1.4),
    fold(
      c,
      [
        [33, -54, 79],
        [40, -76, 67],
      ],
      3.8,
      0.6,
    ),
  ),
);
U(
  "22",
  "lip funneler",
  "mouth",
  (c) =>
    add(
      lips(
        c,
        (t, u, fr, m) => {
          const b = bell(t) ** 0.8,
            k = 0.55 + 0.45 * fr;
          return [-m.x * (0.27 + 0.05 * t), (u ? 3.6 : -4.6) * b * k, 5.4 * (1 - 0.35 * t) + (m.on ? 1.2 * fr * b : 0)];
        },
        [11, 12, 15],
      ),
      puff(c, MARK.hollow, [15, 17, 22], -1.4),
    ),
  { sided: false },
);
U(
  "23",
  "lip tightener",
  "mouth",
  (c) =>
    add(
      lips(c, (t, u, fr, m) => [-m.x * 0.055, thin(m, 0.34), -1.2 * bell(t) - (m.on && fr > 0 && fr < 1 ? 0.9 * bell(t) : 0)], [7, 8, 9]),
      puff(c, [0, -53, 95], [18, 4.5, 12], 0.5),
      puff(c, [28, -68, 80], [6, 8, 10], 0.8),
    ),
  { sided: false },
);
U(
  "24",
  "lip presser",
  "mouth",
  (c) =>
    add(
      lips(c, (t, u, fr, m) => [-m.x * 0.02, thin(m, 0.5), m.on && fr > 0 && fr < 1 ? -1.5 * bell(t) : -0.5 * bell(t)], [6, 7, 8]),
      puff(c, [0, -54, 95], [20, 4, 12], 1),
      puff(c, [0, -82, 89], [18, 4, 12], 1),
      patch(c, MARK.chin, [14, 8, 12], [0, 1.4, 0.3]),
      puff(c, [29, -68, 80], [6, 8, 10], 1),
    ),
  { sided: false },
);
U("25", "lips part", "mouth", (c) => lips(c, (t, u) => [0, (u ? 1.3 : -2.9) * bell(t), 0.2 * bell(t)], [9, 12, 9]), { sided: false });
U(
  "28",
  "lips suck in",
  "mouth",
  (c) =>
    add(
      jawD(c, JAW[28]),
      lips(
        c,
        (t, u, fr, m) => {
          const b = bell(t) ** 0.85,
            back = m.r > 11 ? -6 : m.r > 10 ? 5 : m.r > 8 ? 3 : 1.9 + 3.4 * Math.min(1, fr * 1.6);
          return add(seal(t, u, fr, JAW[28], 0.22, m.r > 10 ? 0 : 1), [-0.6 * t, thin(m, 0.88) * Math.pow(bell(t), 0.3), -back * b]);
        },
        [10, 9, 9],
      ),
      puff(c, [0, -84, 88], [18, 6, 12], 2),
      puff(c, [0, -54, 95], [16, 4, 10], 0.5),
    ),
  { sided: false, jaw: JAW[28] },
);
// jaw
U(
  "26",
  "jaw drop",
  "face",
  (c) =>
    add(
      jawD(c, JAW[26]),
      lips(c, (t, u) => [-1.5 * Math.pow(t, 1.5), u ? 0.5 * bell(t) : 0, 0], [8, 8, 14]),
      patch(c, [30, -68, 78], [16, 16, 18], [-0.9, 0, 0]),
    ),
  { sided: false, jaw: JAW[26] },
);
U(
  "27",
  "mouth stretch",
  "face",
  (c) =>
    add(
      jawD(c, JAW[27]),
      lips(c, (t, u) => [-3.4 * Math.pow(t, 1.5), (u ? 1.6 : -1) * bell(t), 0], [9, 9, 15]),
      puff(c, MARK.hollow, [14, 18, 20], -2.6),
      fold(
        c,
        [
          [20, -44, 87],
          [33, -66, 79],
        ],
        3,
        0.9,
      ),
    ),
  { sided: false, jaw: JAW[27] },
);
U(
  "29",
  "jaw thrust",
  "jawside",
  (c) =>
    add(
      jawD(c, JAW[29]),
      lips(c, (t, u, fr) => seal(t, u, fr, JAW[29], 0.1, 0), [6, 7, 6]),
    ),
  { sided: false, jaw: JAW[29] },
);
const sideSeal = (c) => lips(c, (t, u, fr) => seal(t, u, fr, { deg: 0.9 }, 0.1), [6, 7, 6]);
U("30L", "jaw sideways left", "mouth", (c) => add(jawD(c, JAW["30L"]), sideSeal(c)), { sided: false, jaw: JAW["30L"], asym: 1 });
U("30R", "jaw sideways right", "mouth", (c) => add(jawD(c, JAW["30R"]), sideSeal(c)), { sided: false, jaw: JAW["30R"], asym: 1 });
// cheeks and neck
U("33", "cheeks blown", "face", (c) =>
  add(
    puff(c, [39, -61, 68], [16, 19, 24], 9.5),
    puff(c, [0, -53, 95], [22, 5, 14], 1.8),
    puff(c, [10, -84, 88], [16, 6, 14], 1.6),
    lips(c, (t, u, fr, m) => [-m.x * 0.09, thin(m, 0.12), 1.3 * bell(t) + 0.9 * t], [8, 8, 8]),
  ),
);
U("35", "cheeks sucked", "face", (c) =>
  add(
    puff(c, [40, -59, 67], [13, 17, 20], -7),
    lips(c, (t, u, fr, m) => [-m.x * 0.2, m.off * 0.06 * (m.on ? 1 : 0), 2.6 * (1 - 0.3 * t)], [8, 9, 10]),
  ),
);
U("21", "neck tightener", "neck", (c) => {
  const p = c.p;
  let d = lips(c, (t, u) => [2 * t * t, -2.4 * Math.pow(t, 2.2), -0.8 * t * t], [9, 14, 12]);
  if (p[1] < -84 && p[2] > -45) {
    const s = ss(86, 112, -p[1]),
      a = (Math.atan2(p[0], p[2] + 17) * 180) / Math.PI,
      k = 1 - 0.15 * ss(110, 170, -p[1]);
    const band = (q) => Math.exp(-(((a - q * k) / 5.2) ** 2));
    d = add(d, mul(c.n, s * (1 - ss(150, 170, -p[1]) * 0.3) * (2.2 * band(20) + 1.7 * band(40) - 0.6 * band(30))));
    d = add(d, patch(c, [30, -92, 50], [22, 16, 30], [1, -1.6, 0]));
  }
  return d;
});
// tongue (its own mesh only)
for (const [id, label, pose] of [
  ["19", "tongue out", "out"],
  ["71", "tongue tip up", "up"],
  ["72", "tongue back up", "back"],
  ["73", "tongue wide", "wide"],
  ["74", "tongue narrow", "narrow"],
  ["75", "tongue between teeth", "teeth"],
])
  U(id, label, "tongue", () => Z, { sided: false, tongue: pose });
// speech helpers. 81 closes the lips against a jaw opened by 0.18 of shape 26; 82 rolls the lower lip in and up to the upper front teeth (jaw at 0.2 of 26)
const SEAL = 0.18,
  LIPTEETH = 0.2;
U(
  "81",
  "lip seal (at jaw .18)",
  "mouth",
  (c) => {
    return add(
      lips(c, (t, u, fr, m) => add(seal(t, u, fr, { deg: 12 * SEAL }, 0.28), [0, thin(m, 0.12), -0.7 * bell(t)]), [9, 10, 9]),
      patch(c, MARK.chin, [15, 8, 12], [0, 1, 0.2]),
    );
  },
  { sided: false, near: { deg: 12 * SEAL } },
);
U(
  "82",
  "lower lip to teeth (jaw .2)",
  "mouth",
  (c) =>
    add(
      lips(
        c,
        (t, u, fr, m) => {
          const b = bell(t);
          return u ? [0, 2.6 * b, 0.5 * b] : [0, (2.2 + 1.6 * fr) * b, -(m.r > 8 ? 3.1 : 1.6 + 3.6 * fr) * b];
        },
        [10, 9, 8],
      ),
      patch(c, MARK.chin, [15, 8, 12], [0, 1.2, 0]),
      fold(
        c,
        [
          [0, -86, 89],
          [12, -85, 86],
        ],
        2.4,
        0.8,
      ),
    ),
  { sided: false, near: { deg: 12 * LIPTEETH } },
);
export const TABLE = T;
// ---------- lips never go into the front of the teeth (checked against the rest arch moved by the jaw)
export const arch = (x, upper) => (upper ? 85.2 : 82.2) - 0.03 * x * x - 0.0000165 * x ** 4;
// near: the jaw pose the shape is meant to be used with, when that is not part of the shape itself
function offTeeth(c, d, own, near) {
  const m = c.m;
  if (!m.on || m.r < 5 || m.r > 11) return d;
  const J = own || near,
    pre = near && !own ? jawD(c, near) : Z,
    q = add(c.p, d, pre);
  for (const up of [true, false]) {
    const o = !up && J ? jawMove([0, -74, 80], J, 1) : Z,
      y0 = (up ? -57 : -67.8) + o[1],
      y1 = (up ? -71.4 : -84) + o[1];
    if (q[1] > y0 || q[1] < y1) continue;
    const x = Math.min(24, Math.abs(q[0])),
      sl = -0.06 * x - 4 * 0.0000165 * x ** 3,
      nl = Math.hypot(1, sl),
      tilt = up ? 0 : J && J.deg ? (q[1] - o[1] + 74) * Math.sin(rad(J.deg)) : 0,
      d0 = Math.min(0, (c.p[2] - arch(Math.min(24, c.p[0]), up)) / nl - (m.r > 8 ? 1.3 : 1.6)),
      dist = (q[2] - o[2] - tilt - arch(x, up)) / nl - (m.r > 8 ? 1.3 : 1.6) - d0;
    if (dist < 0 && dist > -9) {
      q[0] += (sl / nl) * dist;
      q[2] -= dist / nl;
    }
  }
  return q.map((v, k) => v - c.p[k] - pre[k]);
}
// displacement of every skin vertex for one entry
export function skinDelta(M, C, e) {
  let D = C.map((c) => {
    const d = offTeeth(c, e.d(c), e.jaw, e.near);
    if (c.s === 0) return [e.asym ? d[0] : 0, d[1], d[2]];
    return [d[0] * c.s, d[1], d[2]];
  });
  // even out the displacement at the pinched places: eye corners and mouth corners
  const nb = neighbours(M);
  for (let it = 0; it < (S > 1 ? 11 : 5); it++) {
    const E = D.slice();
    for (const [v, w] of nb.soft) {
      const s = [0, 0, 0];
      for (const o of nb.of[v]) for (let k = 0; k < 3; k++) s[k] += D[o][k];
      const n = nb.of[v].length;
      E[v] = D[v].map((x, k) => x + w * (s[k] / n - x));
    }
    D = E;
  }
  return D;
}
let NB;
function neighbours(M) {
  if (NB) return NB;
  const of = M.X.map(() => []);
  for (const q of M.Q)
    for (let k = 0; k < 4; k++) {
      const a = q[k],
        b = q[(k + 1) % 4];
      if (!of[a].includes(b)) of[a].push(b);
      if (!of[b].includes(a)) of[b].push(a);
    }
  const soft = [];
  M.tag.forEach((t, v) => {
    if (t.eye && !t.inner && t.r >= 2 && t.r < NR) {
      const e = Math.max(1 - ss(0.08, 0.24, t.s), ss(0.8, 0.93, t.s));
      if (e > 0) soft.push([v, 0.65 * e]);
    } else if (t.mouth && t.r >= 2 && t.r <= 10) {
      const e = ss(0.7, 0.95, t.t);
      if (e > 0) soft.push([v, 0.5 * e]);
    }
  });
  return (NB = { of, soft });
}
// left (+1) or right (-1) half of a shape, joined by a smooth seam 14 mm wide
export const sideShare = (x, side) => ss(-7, 7, x * side);
export { marks };

// Shirt and trousers grown from the joined mesh's own quads (from the body study's garments.mjs). Base level: body rows, eased off the skin, with a two-row hem.
import * as s from "./body/bodyForm.js";
import { P as BP, Q as BQ, tag, Fall } from "./joinHeadAndBody.js";
import { w1, J, prune } from "./skinWeights.js";
const { add, sub, mul, mad, len, dot, mix, clamp, sst, norm, cross, grad } = s;
export function garment(sel, off, opt) {
  const keep = BQ.filter((q) => q.every((i) => sel(tag[i], BP[i])));
  const map = new Map();
  let P = [];
  for (const q of keep)
    for (const i of q)
      if (!map.has(i)) {
        map.set(i, P.length);
        P.push([...BP[i]]);
      }
  let Q = keep.map((q) => q.map((i) => map.get(i)));
  const N = P.length;
  const nb = Array.from({ length: N }, () => new Set()),
    ec = new Map();
  for (const q of Q)
    for (let k = 0; k < 4; k++) {
      const a = q[k],
        b = q[(k + 1) % 4];
      nb[a].add(b);
      nb[b].add(a);
      const key = Math.min(a, b) * 1e6 + Math.max(a, b);
      ec.set(key, (ec.get(key) || 0) + 1);
    }
  const be = [];
  for (const q of Q)
    for (let k = 0; k < 4; k++) {
      const a = q[k],
        b = q[(k + 1) % 4];
      if (ec.get(Math.min(a, b) * 1e6 + Math.max(a, b)) == 1) be.push([a, b]);
    }
  const bn = new Map();
  for (const [a, b] of be) {
    (bn.get(a) || bn.set(a, []).get(a)).push(b);
    (bn.get(b) || bn.set(b, []).get(b)).push(a);
  }
  const F = (p) => Fall([Math.abs(p[0]), p[1], p[2]]);
  const sgn = P.map((p) => Math.sign(Math.abs(p[0]) < 1e-5 ? 0 : p[0]));
  const push = (p, i) => {
    for (let k = 0; k < 3; k++) {
      const o = off(p);
      const d = F(p);
      if (d >= o - 1e-4) break;
      const g = grad(F, p, 2e-3);
      p = mad(p, g, Math.min(0.01, o - d));
    }
    if (opt.split && p[1] < opt.split && sgn[i]) {
      const x = p[0] * sgn[i];
      if (x < 0.003) p = [0.003 * sgn[i], p[1], p[2]];
    }
    if (sgn[i] == 0) p = [0, p[1], p[2]];
    return p;
  };
  for (let i = 0; i < N; i++) P[i] = push(P[i], i);
  for (let it = 0; it < (opt.it || 40); it++) {
    const O = P.map((p) => p);
    for (let i = 0; i < N; i++) {
      const L = bn.has(i) ? bn.get(i) : [...nb[i]];
      let a = [0, 0, 0];
      for (const j of L) a = add(a, O[j]);
      a = mul(a, 1 / L.length);
      let p = [0, 1, 2].map((k) => mix(O[i][k], a[k], bn.has(i) ? 0.25 : 0.5));
      P[i] = push(p, i);
    }
  }
  // hem: duplicate boundary twice (thickness, fold inside)
  const vn = P.map(() => [0, 0, 0]);
  for (const q of Q) {
    const n = cross(sub(P[q[2]], P[q[0]]), sub(P[q[3]], P[q[1]]));
    for (const i of q) vn[i] = add(vn[i], n);
  }
  const m1_ = new Map(),
    m2_ = new Map();
  for (const i of bn.keys()) {
    const inner = [...nb[i]].filter((j) => !bn.has(j));
    let dir = [0, 0, 0];
    for (const j of inner) dir = add(dir, sub(P[j], P[i]));
    dir = norm(dir);
    const n = norm(vn[i]);
    m1_.set(i, P.length);
    P.push(mad(P[i], n, -0.0025));
    m2_.set(i, P.length);
    P.push(mad(mad(P[i], n, -0.004), dir, 0.018));
  }
  for (const [a, b] of be) {
    Q.push([b, a, m1_.get(a), m1_.get(b)], [m1_.get(b), m1_.get(a), m2_.get(a), m2_.get(b)]);
  }
  const P2 = P,
    sd = { Q };
  // weight transfer: k nearest body vertices on same side, inverse distance, then smooth
  const grid = new Map(),
    cs = 0.045,
    key = (x, y, z) => x + "," + y + "," + z;
  BP.forEach((p, i) => {
    if (tag[i].reg === "head") return;
    const k = key(...p.map((v) => Math.floor(v / cs)));
    (grid.get(k) || grid.set(k, []).get(k)).push(i);
  });
  let Wt = P2.map((p) => {
    const c = p.map((v) => Math.floor(v / cs));
    let L = [];
    for (let r = 1; r < 4 && L.length < 8; r++) {
      L = [];
      for (let x = -r; x <= r; x++)
        for (let y = -r; y <= r; y++)
          for (let z = -r; z <= r; z++)
            for (const i of grid.get(key(c[0] + x, c[1] + y, c[2] + z)) || []) {
              const q = BP[i];
              if (q[0] * p[0] < -1e-6 && Math.abs(p[0]) > 0.002) continue;
              L.push([len(sub(q, p)), i]);
            }
    }
    L.sort((a, b) => a[0] - b[0]);
    const a = new Float64Array(J.length);
    let t = 0;
    for (const [d, i] of L.slice(0, 8)) {
      const w = 1 / (d * d + 4e-5);
      t += w;
      for (const [j, v] of w1[i]) a[j] += v * w;
    }
    for (let j = 0; j < a.length; j++) a[j] /= t;
    return a;
  });
  const nn = Array.from({ length: P2.length }, () => new Set());
  for (const q of sd.Q)
    for (let k = 0; k < 4; k++) {
      nn[q[k]].add(q[(k + 1) % 4]);
      nn[q[(k + 1) % 4]].add(q[k]);
    }
  for (let it = 0; it < 4; it++) {
    const O = Wt;
    Wt = O.map((w, i) => {
      const r = Float64Array.from(w),
        L = [...nn[i]];
      for (let j = 0; j < r.length; j++) {
        let a = 0;
        for (const k of L) a += O[k][j];
        r[j] = mix(w[j], a / L.length, 0.5);
      }
      return r;
    });
  }
  return { P: P2, Q: sd.Q, w: Wt.map(prune) };
}
const shirtOff = (p) => {
  const y = p[1],
    ax = Math.abs(p[0]);
  return ax > 0.21 ? 0.011 : mix(0.01, 0.024, sst(1.22, 1.02, y)) * 1 + (y > 1.36 ? -0.004 * sst(1.36, 1.4, y) : 0);
};
export const shirt = garment(
  (t, p) => (t.reg == "torso" && !t.crotch && t.r >= 3 && t.r <= 26) || (t.reg == "arm" && t.s < 0.21),
  shirtOff,
  {
    it: 50,
  },
);
const trOff = (p) => mix(0.007, 0.02, sst(0.8, 0.3, p[1])) + (p[1] > 0.95 ? -0.002 : 0);
export const trousers = garment((t, p) => (t.reg == "torso" && t.r <= 8) || (t.reg == "leg" && t.i <= 25), trOff, { it: 30, split: 0.775 });
shirt.col = 0x5d7896;
trousers.col = 0x4a4d57;
// body quads wholly hidden by shirt and trousers
export const covered = (t) => (t.reg === "torso" && t.r < 26) || (t.reg === "arm" && t.s < 0.17) || (t.reg === "leg" && t.i < 24);

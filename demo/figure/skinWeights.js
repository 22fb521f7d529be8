// Joints, weights and linear-blend skinning of the joined mesh (grown from the body study's skin.mjs)
import * as s from "./body/bodyForm.js";
import { half as h } from "./body/bodyTopology.js";
import * as j from "./joinHeadAndBody.js";
import * as F from "./head/headForm.js";
import { HINGE } from "./head/faceMarks.js";
const {
  sst,
  dot,
  sub,
  add,
  mul,
  norm,
  cross,
  lerp,
  mad,
  mix,
  clamp,
  rotAxis,
  D2R,
  S,
  ad,
  au,
  L1,
  L2,
  armPt,
  armZ,
  FING,
  TH,
  HH,
  HU,
  R_,
  W,
  FP,
  ff,
  fl,
  legZ,
} = s;
// ---- skeleton (left joints L, mirrored R)
export const J = [];
const ji = {};
const jt = (name, par, p) => {
  ji[name] = J.length;
  J.push({ name, par: par == null ? -1 : ji[par], p });
};
jt("hips", null, [0, 0.93, -0.005]);
jt("spine", "hips", [0, 1.03, -0.012]);
jt("chest", "spine", [0, 1.13, -0.022]);
jt("upperChest", "chest", [0, 1.235, -0.035]);
jt("neck", "upperChest", [0, 1.425, -0.045]);
jt("head", "neck", [0, 1.531, 0.012]); // 7th neck vertebra; skull on atlas
jt("jaw", "head", F.toW(HINGE));
jt("eyeL", "head", F.toW(F.EYE));
jt("eyeR", "head", F.toW([-F.EYE[0], F.EYE[1], F.EYE[2]]));
jt("tongue0", "jaw", F.toW([0, -78, 26]));
jt("tongue1", "tongue0", F.toW([0, -74, 46]));
jt("tongue2", "tongue1", F.toW([0, -75, 64]));
const mir = (p) => [-p[0], p[1], p[2]];
const chain = [
  ["shoulder", "upperChest", [0.022, 1.362, 0.01]],
  ["upperArm", "shoulder", S],
  ["forearm", "upperArm", armPt(L1, 0, armZ(L1) + 0.002)],
  ["foreTwist", "forearm", armPt(L1 + L2 * 0.55, 0, armZ(L1 + L2 * 0.55))],
  ["hand", "foreTwist", W],
];
const fn = ["index", "middle", "ring", "pinky"];
FING.forEach((f, i) => {
  for (let k = 0; k < 3; k++) chain.push([fn[i] + k, k ? fn[i] + (k - 1) : "hand", mad(f.pts[k], f.up(k), k ? 0.0 : -0.001)]);
});
for (let k = 0; k < 3; k++) chain.push(["thumb" + k, k ? "thumb" + (k - 1) : "hand", TH.pts[k]]);
export const HIP = [0.086, 0.872, -0.004],
  KNEE = [0.092, 0.48, -0.01],
  ANKJ = FP(0.0, 0, 0.076),
  BALL = FP(0.128, 0, 0.014);
chain.push(["upperLeg", "hips", HIP], ["lowerLeg", "upperLeg", KNEE], ["foot", "lowerLeg", ANKJ], ["toes", "foot", BALL]);
const ctr = new Set(["hips", "spine", "chest", "upperChest", "neck", "head"]);
for (const [sd, f] of [
  ["L", (p) => p],
  ["R", mir],
])
  for (const [n, pa, p] of chain) jt(n + sd, ctr.has(pa) ? pa : pa + sd, f(p));
export { ji };
// ---- geodesic signed distance on the joined mesh
const { P, Q, nb, mir: mirV, bodyOff: O } = j,
  N = P.length;
const dg = Array.from({ length: N }, () => []);
for (const q of Q) {
  dg[q[0]].push(q[2]);
  dg[q[2]].push(q[0]);
  dg[q[1]].push(q[3]);
  dg[q[3]].push(q[1]);
}
function geo(src) {
  const d = new Float64Array(N).fill(1e9);
  let fr = [...src];
  for (const i of fr) d[i] = 0;
  while (fr.length) {
    const nx = new Set();
    for (const i of fr)
      for (const j of [...nb[i], ...dg[i]]) {
        const w = d[i] + s.len(sub(P[i], P[j]));
        if (w < d[j] - 1e-9) {
          d[j] = w;
          nx.add(j);
        }
      }
    fr = [...nx];
  }
  return d;
}
const tag = j.tag.map((t) => ({ t, side: t.side < 0 ? -1 : 1 }));
const isArm = (t) => ["arm", "palm", "web", "finger", "thumb"].includes(t.reg),
  isLeg = (t) => t.reg == "leg" || t.reg == "foot";
const Ws = Array.from({ length: N }, () => new Float64Array(J.length));
const geoA = {},
  geoL = {};
for (const sd of [1, -1]) {
  const mp = (i) => (sd == 1 ? i + O : mirV[i + O]);
  const a = geo(h.loopIds.map(mp)),
    l = geo(h.legBase.map(mp));
  for (let i = 0; i < N; i++) {
    const tg = tag[i];
    if (!(isArm(tg.t) && tg.side == sd)) a[i] = -a[i];
    if (!(isLeg(tg.t) && tg.side == sd)) l[i] = -l[i];
  }
  geoA[sd] = a;
  geoL[sd] = l;
}
const ROWS = 4 + j.NK;
export function neckU(t) {
  if (t.reg === "torso") return t.crotch || t.r < 23 ? null : (t.r - 23) / ROWS;
  if (t.reg === "neck") return 1 - t.r / ROWS;
  if (t.reg === "chin") return 1 + 0.04 * (j.PM - t.a);
  if (t.reg === "head") return t.h.g ? 1 + 0.065 * (31 - t.h.j) + (t.h.i < 16 ? 0.04 * (16 - t.h.i) : 0) : 2;
  return null;
}
const stepW = (x, c, w) => sst(c - w, c + w, x);
for (let i = 0; i < N; i++) {
  const w = Ws[i],
    p = P[i],
    pl = [Math.abs(p[0]), p[1], p[2]],
    t = tag[i].t,
    sd = tag[i].side,
    X = sd == 1 ? "L" : "R";
  // spine chain
  const y = p[1];
  const a = stepW(y, 1.025, 0.065),
    b = stepW(y, 1.125, 0.06),
    c = stepW(y, 1.23, 0.065);
  // neck: u counts rows, 0 at torso row 23, 1 at neck ring 0 (below the jaw), above 1 under the chin and up the skull
  const u = neckU(t),
    n = u === null ? 0 : sst(0.02, 0.62, u),
    hd = u === null ? 0 : sst(0.42, 1.28, u);
  const sp = [1 - a, a * (1 - b), a * b * (1 - c), a * b * c * (1 - n), a * b * c * n * (1 - hd), a * b * c * n * hd];
  // shoulder girdle share of the upper torso
  let cl = 0;
  if (y > 1.15) cl = sst(0.022, 0.125, pl[0]) * sst(1.235, 1.36, y) * (1 - n) * 0.92;
  const aw = { 1: 0, "-1": 0 },
    lw = { 1: 0, "-1": 0 };
  if (t.reg !== "head")
    for (const q of [1, -1]) {
      const g = geoA[q][i];
      const up = clamp((pl[1] - 1.26) / 0.12, 0, 1);
      aw[q] = sst(mix(-0.075, -0.07, up), mix(0.075, 0.095, up), g);
      const g2 = geoL[q][i];
      const back = clamp(-p[2] / 0.08, 0, 1);
      lw[q] = sst(mix(-0.075, -0.11, back), mix(0.075, 0.09, back), g2);
    }
  const tot = aw[1] + aw[-1] + lw[1] + lw[-1];
  const rest = Math.max(0, 1 - tot);
  ["hips", "spine", "chest", "upperChest", "neck", "head"].forEach((nm, k) => (w[ji[nm]] += sp[k] * rest * (1 - cl)));
  w[ji["shoulder" + X]] += cl * rest;
  for (const q of [1, -1]) {
    const Y = q == 1 ? "L" : "R";
    if (aw[q] > 0) {
      const A = aw[q] / Math.max(1, tot);
      let sv = dot(sub(pl, S), ad);
      if (t.reg != "arm" && isArm(t)) sv = L1 + dot(sub(pl, armPt(L1, 0, 0)), HH);
      const fo = isArm(t) ? stepW(sv, L1, 0.046) : 0,
        tw = isArm(t) ? sst(L1 + 0.07, L1 + L2 - 0.03, sv) : 0,
        hv = dot(sub(pl, W), HH),
        ha = isArm(t) ? stepW(hv, 0.001, 0.024) : 0;
      const v = {};
      v.upperArm = 1 - fo;
      v.forearm = fo * (1 - tw) * (1 - ha);
      v.foreTwist = fo * tw * (1 - ha);
      v.hand = fo * ha;
      // fingers
      if (["palm", "web", "finger"].includes(t.reg)) {
        let mem = [0, 0, 0, 0];
        if (t.reg == "finger") mem[t.i] = 1;
        else if (t.col != null) {
          const cc = t.col;
          if (cc <= 1) mem[0] = 1;
          else if (cc >= 7) mem[3] = 1;
          else if (cc % 2 == 1) mem[(cc - 1) / 2] = 1;
          else {
            mem[cc / 2 - 1] = 0.5;
            mem[cc / 2] = 0.5;
          }
        }
        mem.forEach((m, k) => {
          if (!m) return;
          const f = FING[k];
          const u0 = dot(sub(pl, f.pts[0]), norm(add(f.dirs[0], HH)));
          const w0 = stepW(u0, 0.0, 0.0125) * m;
          const isF = t.reg == "finger";
          const w1 = isF ? stepW(dot(sub(pl, f.pts[1]), norm(add(f.dirs[0], f.dirs[1]))), 0, 0.0072) : 0,
            w2 = isF ? stepW(dot(sub(pl, f.pts[2]), norm(add(f.dirs[1], f.dirs[2]))), 0, 0.0062) : 0;
          v[fn[k] + "0"] = (v[fn[k] + "0"] || 0) + v.hand * w0 * (1 - w1);
          v[fn[k] + "1"] = v.hand * w0 * w1 * (1 - w2);
          v[fn[k] + "2"] = v.hand * w0 * w1 * w2;
        });
        let fs = 0;
        for (const k in v) if (/\d$/.test(k)) fs += v[k];
        v.hand = Math.max(0, v.hand - fs);
      }
      if (t.reg == "palm" || t.reg == "thumb") {
        const d0 = TH.dirs[0],
          q0 = sub(pl, TH.pts[0]),
          u = dot(q0, d0),
          Lm = s.len(sub(TH.pts[1], TH.pts[0]));
        const dist = s.len(mad(q0, d0, -clamp(u, 0, Lm)));
        let w0 = t.reg == "thumb" ? sst(0.004, 0.03, u) : sst(0.034, 0.012, dist) * sst(-0.004, 0.034, u);
        if (t.reg == "palm" && dot(sub(pl, W), HH) > 0.075) w0 *= 0.0;
        const w1 = t.reg == "thumb" ? stepW(dot(sub(pl, TH.pts[1]), norm(add(TH.dirs[0], TH.dirs[1]))), 0, 0.01) : 0,
          w2 = t.reg == "thumb" ? stepW(dot(sub(pl, TH.pts[2]), norm(add(TH.dirs[1], TH.dirs[2]))), 0, 0.0075) : 0;
        const hh = v.hand;
        v.hand = hh * (1 - w0);
        v.thumb0 = hh * w0 * (1 - w1);
        v.thumb1 = hh * w0 * w1 * (1 - w2);
        v.thumb2 = hh * w0 * w1 * w2;
      }
      for (const k in v) w[ji[k + Y]] += v[k] * A;
    }
    if (lw[q] > 0) {
      const A = lw[q] / Math.max(1, tot);
      const kn = isLeg(t) ? sst(0.48 + 0.06, 0.48 - 0.06, pl[1] + 0.25 * (pl[2] - KNEE[2]) * 0) : 0;
      const an = isLeg(t) && pl[1] < 0.16 ? stepW(dot(sub(pl, ANKJ), norm([ff[0] * 0.37, -0.93, ff[2] * 0.37])), 0, 0.034) : 0;
      const tf = dot(sub(pl, BALL), ff);
      const to = t.reg == "foot" ? stepW(tf, 0, 0.015) : 0;
      w[ji["upperLeg" + Y]] += A * (1 - kn);
      w[ji["lowerLeg" + Y]] += A * kn * (1 - an);
      w[ji["foot" + Y]] += A * kn * an * (1 - to);
      w[ji["toes" + Y]] += A * kn * an * to;
    }
  }
}
// smoothing (not in fingers)
for (let it = 0; it < 4; it++) {
  const O = Ws.map((w) => Float64Array.from(w));
  for (let i = 0; i < N; i++) {
    const t = tag[i].t;
    let k = 0.5;
    if (["finger", "thumb", "web"].includes(t.reg) || (t.reg == "palm" && t.k > 3)) continue;
    if ((t.reg == "arm" && t.s > 0.2) || t.reg == "palm" || (t.reg == "leg" && t.i > 6) || t.reg == "foot") k = it < 1 ? 0.4 : 0;
    if (!k) continue;
    const nn = [...nb[i]];
    for (let j = 0; j < J.length; j++) {
      let a = 0;
      for (const m of nn) a += O[m][j];
      Ws[i][j] = mix(O[i][j], a / nn.length, k);
    }
  }
}
export function prune(w) {
  const l = [...w]
    .map((v, j) => [j, v])
    .filter((e) => e[1] > 0.004)
    .sort((a, b) => b[1] - a[1])
    .slice(0, 4);
  const sm = l.reduce((a, e) => a + e[1], 0);
  return l.map(([j, v]) => [j, v / sm]);
}
export const w1 = Ws.map(prune);
// ---- pose : {jointName:[axis,deg]} rotations in rest world axes
export function pose(rot, rootT) {
  const M = [];
  J.forEach((j, i) => {
    const r = rot[j.name] || [];
    const rs = Array.isArray(r[0]) && Array.isArray(r[0][0]) ? r : r.length ? [r] : [];
    const R = (v) => {
      for (const [ax, dg] of rs) v = rotAxis(v, norm(ax), dg * D2R);
      return v;
    };
    const loc = (p) => add(j.p, R(sub(p, j.p)));
    M[i] =
      j.par < 0
        ? (p) => {
            const q = loc(p);
            return rootT ? add(q, rootT) : q;
          }
        : (p) => M[j.par](loc(p));
  });
  return M.map((f) => {
    const o = f([0, 0, 0]),
      x = sub(f([1, 0, 0]), o),
      y = sub(f([0, 1, 0]), o),
      z = sub(f([0, 0, 1]), o);
    return { o, x, y, z };
  });
}
export function skin(P, w, M) {
  return P.map((p, i) => {
    const r = [0, 0, 0];
    for (const [j, v] of w[i]) {
      const m = M[j];
      for (let k = 0; k < 3; k++) r[k] += v * (m.o[k] + m.x[k] * p[0] + m.y[k] * p[1] + m.z[k] * p[2]);
    }
    return r;
  });
}

import * as s from "./bodyForm.js";
const {
  add,
  sub,
  mul,
  dot,
  cross,
  len,
  norm,
  lerp,
  mad,
  mix,
  clamp,
  sst,
  rotAxis,
  D2R,
  ray,
  project,
  grad,
  smin,
  S,
  ad,
  au,
  HP,
  HH,
  HU,
  R_,
  FING,
  TH,
  FP,
  ff,
  fl,
} = s;
const P = [],
  Q = [],
  T = []; // positions, quads, tags {reg,ring,t,F,pin}
const nv = (p, tag) => {
  P.push(p);
  T.push(tag);
  return P.length - 1;
};
const C = 18;
const Fb = s.fBody;
// ---- torso rings: front, side, back heights
const TR = [
  [0.803, 0.868, 0.806],
  [0.828, 0.886, 0.832],
  [0.853, 0.905, 0.857],
  [0.879, 0.925, 0.882],
  [0.905, 0.945, 0.908],
  [0.932, 0.966, 0.934],
  [0.96, 0.988, 0.96],
  [0.988, 1.01, 0.987],
  [1.015, 1.032, 1.013],
  [1.042, 1.053, 1.04],
  [1.068, 1.074, 1.066],
  [1.094, 1.096, 1.093],
  [1.12, 1.12, 1.12],
  [1.145, 1.144, 1.147],
  [1.168, 1.168, 1.174],
  [1.19, 1.192, 1.2],
  [1.212, 1.216, 1.226],
  [1.233, 1.246, 1.25],
  [1.254, 1.268, 1.273],
  [1.275, 1.29, 1.296],
  [1.296, 1.312, 1.317],
  [1.315, 1.335, 1.336],
  [1.332, 1.36, 1.354],
  [1.347, 1.385, 1.371],
  [1.359, 1.397, 1.387],
  [1.37, 1.406, 1.402],
  [1.382, 1.416, 1.417],
  [1.397, 1.427, 1.433],
]; // row 27 = top ring, the neck strip of join.mjs starts here
const WB = 17,
  WT = 23,
  WL = 7,
  WR = 11;
const yAt = (r, th) => {
  const c = Math.cos(th);
  const [f, sd, b] = TR[r];
  return c >= 0 ? mix(sd, f, c * c * 1) : mix(sd, b, c * c);
};
const axZ = s.table([
  [0.76, -0.01],
  [0.9, 0],
  [1.06, 0.008],
  [1.2, -0.012],
  [1.3, -0.02],
  [1.36, -0.03],
  [1.42, -0.018],
  [1.5, 0],
]);
const tid = [];
// torso field without arm for first placement
const fNoArm = (p) => {
  let d = s.fTorso(p);
  if (p[1] > 1.3) d = smin(d, s.fNeck(p), 0.022);
  for (const [f, k] of s.torsoMass) d = smin(d, f(p), k);
  if (p[1] < 0.95) {
    d = smin(d, s.fLeg(p), 0.03);
    for (const [f, k] of s.gluteMass) d = smin(d, f(p), k);
  }
  return d;
};
for (let r = 0; r < TR.length; r++) {
  tid[r] = [];
  for (let c = 0; c <= C; c++) {
    if (r > WB && r < WT && c > WL && c < WR) {
      tid[r][c] = -1;
      continue;
    }
    const th = (Math.PI * c) / C,
      a = 1.35;
    const y = yAt(r, th);
    const dir = norm([a * Math.sin(th), 0, Math.cos(th)]);
    if (c == 0 || c == C) dir[0] = 0;
    const p = ray(fNoArm, [0, y, axZ(y)[0]], dir, 0.3) || [0, y, 0];
    tid[r][c] = nv(p, { reg: "torso", r, c, F: Fb, pin: 0 });
  }
}
// armhole loop
const armO = [0.15, 1.318, -0.014],
  aN = norm([0.985, 0.17, 0]);
const aU = norm([-0.17, 0.985, 0]);
const loopIds = [];
{
  const seq = [];
  for (const c of [9, 8, 7]) seq.push([WT, c]);
  for (let r = WT - 1; r >= WB; r--) seq.push([r, 7]);
  for (const c of [8, 9, 10, 11]) seq.push([WB, c]);
  for (let r = WB + 1; r <= WT; r++) seq.push([r, 11]);
  seq.push([WT, 10]);
  seq.forEach(([r, c], j) => {
    const ph = j * 18 * D2R;
    const d = add(mul(aU, Math.cos(ph)), [0, 0, Math.sin(ph)]);
    let p = ray(Fb, armO, d, 0.075);
    p = project(Fb, p);
    P[tid[r][c]] = p;
    T[tid[r][c]].pin = 0.75;
    loopIds.push(tid[r][c]);
  });
}
// torso rough re-placement for rows around window: columns between centre & armhole
for (let r = WB - 1; r < TR.length; r++) {
  for (const [c0, c1] of [
    [0, 7],
    [18, 11],
  ]) {
    // lerp from centre to window edge (or, above, keep)
    if (r >= WB && r <= WT) {
      const A = P[tid[r][c0]],
        B = P[tid[r][c1]];
      for (let c = c0 + Math.sign(c1 - c0); c != c1; c += Math.sign(c1 - c0)) {
        const t = (c - c0) / (c1 - c0);
        let p = lerp(A, B, t);
        p = add(p, [0, 0, (c0 == 0 ? 1 : -1) * 0.03 * Math.sin(t * Math.PI)]);
        P[tid[r][c]] = p;
      }
    }
  }
}
for (let r = WT + 1; r <= WT + 3; r++)
  for (let c = 1; c < C; c++) {
    const t = (r - WT) / 4;
    P[tid[r][c]] = lerp(P[tid[WT][c]], P[tid[WT + 4][c]], t);
  }
for (let r = WB; r <= WT + 3; r++)
  for (let c = 0; c <= C; c++)
    if (tid[r][c] >= 0 && T[tid[r][c]].pin == 0) {
      P[tid[r][c]] = project(fNoArm, P[tid[r][c]], 0.02, 6);
      if (c == 0 || c == C) P[tid[r][c]][0] = 0;
    }
for (let r = 0; r < TR.length - 1; r++)
  for (let c = 0; c < C; c++) {
    if (r >= WB && r < WT && c >= WL && c < WR) continue;
    Q.push([tid[r][c], tid[r][c + 1], tid[r + 1][c + 1], tid[r + 1][c]]);
  }
// ---- arm rings
const bridge = (A, B, flip) => {
  const n = A.length;
  for (let j = 0; j < n; j++) {
    const k = (j + 1) % n;
    Q.push(flip ? [A[j], B[j], B[k], A[k]] : [A[j], A[k], B[k], B[j]]);
  }
};
const ringS = [
  [0.028, -6],
  [0.05, -16],
  [0.072, -27],
  [0.094, -36],
  [0.118, -40],
  [0.146, -40],
  [0.176, -40],
  [0.206, -40],
  [0.235, -40],
  [0.26, -40],
  [0.28, -40],
  [0.296, -40],
  [0.3085, -40],
  [0.321, -40],
  [0.335, -40],
  [0.352, -40],
  [0.374, -40],
  [0.4, -40],
  [0.428, -40],
  [0.456, -40],
  [0.483, -40],
  [0.508, -40],
  [0.529, -40],
  [0.545, -40],
];
let prev = loopIds;
const armRings = [];
ringS.forEach(([sv, ang], i) => {
  const a = ang * D2R,
    n = [Math.cos(a), Math.sin(a), 0],
    u = [-Math.sin(a), Math.cos(a), 0];
  const o = add(mad(S, ad, sv), [0, 0, s.armZ(sv)]);
  if (i < 4) {
    o[0] -= 0.004 * (4 - i);
    o[1] -= 0.002 * (4 - i);
  }
  const w = sst(0.4, 0.545, sv);
  const ids = [];
  for (let j = 0; j < 20; j++) {
    const ph = j * 18 * D2R;
    let d = add(mul(u, Math.cos(ph)), [0, 0, Math.sin(ph)]);
    let p = ray(sv < 0.45 ? Fb : s.fPalm, o, d, 0.075);
    ids.push(nv(p, { reg: "arm", s: sv, j, F: sv < 0.45 ? Fb : s.fPalm, pin: i < 5 ? (i / 5) * 0.8 : 1 }));
  }
  bridge(prev, ids, true);
  prev = ids;
  armRings.push(ids);
});
// ---- palm
// end points per index: dorsal 4..-4, palmar 6..14
const webT = [0.0175, 0.018, 0.018, 0.0165];
const fbase = FING.map((f, i) => mad(f.pts[0], f.dirs[0], webT[i]));
const toL = (p) => {
  const q = sub(p, s.W);
  return [dot(q, HH), dot(q, R_), dot(q, HU)];
};
const fb = fbase.map(toL);
const edgeL = []; // h,r of columns 4..-4 at palm end
{
  const wv = FING.map((f) => f.r[0] * 0.93);
  const sideI = [fb[0][0] - 0.002, fb[0][1] + wv[0], fb[0][2]],
    sideP = [fb[3][0] - 0.003, fb[3][1] - wv[3], fb[3][2]];
  const mid = (a, b) => [(a[0] + b[0]) / 2 - 0.0005, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2];
  edgeL.push(sideI, fb[0], mid(fb[0], fb[1]), fb[1], mid(fb[1], fb[2]), fb[2], mid(fb[2], fb[3]), fb[3], sideP);
}
const wr = [0.0185, 0.015, 0.011, 0.006, 0, -0.006, -0.011, -0.015, -0.0185];
const PT = [0.07, 0.19, 0.37, 0.545, 0.67, 0.78, 0.885, 1.0];
const palmRows = [];
const jidx = (j) => ((j % 20) + 20) % 20;
PT.forEach((t, k) => {
  const ids = [];
  for (let j = 0; j < 20; j++) {
    let col, kind;
    if (j <= 4) {
      col = 4 - j;
      kind = "d";
    } else if (j == 5) {
      col = 0;
      kind = "sr";
    } else if (j <= 14) {
      col = j - 6;
      kind = "p";
    } else if (j == 15) {
      col = 8;
      kind = "su";
    } else {
      col = 4 + (20 - j);
      kind = "d";
    }
    const e = edgeL[col],
      w0 = [-0.006, wr[col] * 1.15, 0];
    const bow = Math.sin(Math.PI * t) * 0;
    let L = [mix(w0[0], e[0], t), mix(w0[1], e[1], Math.pow(t, 0.8)), mix(w0[2], e[2], t)];
    const sideSpread = kind == "sr" || kind == "su";
    // inner scale: keep origins inside
    const inner = 0.86;
    L[1] *= inner;
    L[2] -= 0.004 * Math.sin(Math.PI * t);
    if (col == 0 || col == 8) {
      L[1] *= 0.93;
    }
    const o = HP(L[0], L[1], L[2]);
    let d;
    const tt = Math.pow(1 - t, 1.5);
    const colx = (4 - col) / 4; // 1..-1
    if (kind == "d") d = norm(add(mul(HU, 1), mul(R_, colx * mix(0.35, 1.1, tt) * (Math.abs(colx) > 0.9 ? 1.6 : 1))));
    else if (kind == "p") d = norm(add(mul(HU, -1), mul(R_, colx * mix(0.35, 1.1, tt) * (Math.abs(colx) > 0.9 ? 1.6 : 1))));
    else d = mul(R_, kind == "sr" ? 1 : -1);
    const F = k == PT.length - 1 ? s.fHandAll : s.fPalmT;
    const p = ray(F, o, d, 0.035) || mad(o, d, 0.008);
    ids.push(
      nv(p, {
        reg: "palm",
        t,
        k,
        j,
        col,
        F: k == PT.length - 1 ? null : k < 5 ? s.fHandU : F,
        pin: k == PT.length - 1 ? 1 : k < 5 ? 0.25 : 0.5,
      }),
    );
  }
  palmRows.push(ids);
  const A = prev,
    B = ids;
  for (let j = 0; j < 20; j++) {
    const j2 = (j + 1) % 20;
    if ((k == 2 || k == 3) && (j == 4 || j == 5)) continue;
    Q.push([A[j], B[j], B[j2], A[j2]]);
  }
  prev = ids;
});
// web mids
const Lr = palmRows[palmRows.length - 1];
const webMid = [0, 1, 2].map((i) => {
  const a = P[Lr[jidx(2 - 2 * i)]],
    b = P[Lr[8 + 2 * i]];
  return nv(lerp(a, b, 0.5), { reg: "web", col: 2 * i + 2, F: null, pin: 1 });
});
// corners of web: dorsal/palmar between-finger vertices pulled inwards toward the mid & slightly proximal
for (let i = 0; i < 3; i++) {
  const d = Lr[jidx(2 - 2 * i)],
    p = Lr[8 + 2 * i],
    m = webMid[i];
  P[d] = mad(mad(P[d], HU, -0.0015), HH, -0.003);
  P[p] = mad(mad(P[p], HU, 0.001), HH, 0.002);
  P[m] = mad(lerp(P[d], P[p], 0.5), HH, 0.001);
}
// fingers
const fingerRings = [];
FING.forEach((f, i) => {
  const mL = i == 0 ? Lr[5] : webMid[i - 1],
    mR = i == 3 ? Lr[15] : webMid[i];
  const base = [Lr[jidx(4 - 2 * i)], Lr[jidx(3 - 2 * i)], Lr[jidx(2 - 2 * i)], mR, Lr[8 + 2 * i], Lr[7 + 2 * i], Lr[6 + 2 * i], mL];
  const F = s.fFinger(i);
  const [l1, l2, l3] = f.L;
  const rings = [];
  const addR = (seg, t, bis, k) => {
    // seg dir; bis: blend of dirs
    const o = mad(f.pts[seg], f.dirs[seg], t);
    const dir = bis ? norm(add(f.dirs[seg], f.dirs[bis])) : f.dirs[seg];
    const side = norm(mul(f.hinge, dot(f.hinge, R_) > 0 ? 1 : -1));
    let up = norm(cross(dir, side));
    if (dot(up, HU) < 0) up = mul(up, -1);
    const ids = [];
    for (let q = 0; q < 8; q++) {
      const ph = (45 - 45 * q) * D2R; // q=0 dorsal-radial
      const d = add(mul(side, Math.sin(ph)), mul(up, Math.cos(ph)));
      ids.push(nv(ray(k < 1 ? F : f.F, o, d, 0.016), { reg: "finger", i, k: rings.length, F: k < 1 ? F : f.F, pin: k < 1 ? 0.5 : 1 }));
    }
    rings.push(ids);
  };
  const st = webT[i] + 0.0055;
  addR(0, st, 0, 0);
  addR(0, mix(st, l1 - 0.0062, 0.5), 0, 1);
  addR(0, l1 - 0.0062, 0, 1);
  addR(0, l1 - 0.0004, 1, 1);
  addR(1, 0.0058, 0, 1);
  addR(1, l2 * 0.5, 0, 1);
  addR(1, l2 - 0.0052, 0, 1);
  addR(1, l2 - 0.0003, 2, 1);
  addR(2, 0.005, 0, 1);
  addR(2, l3 * 0.52, 0, 1);
  addR(2, l3 * 0.74, 0, 1);
  addR(2, l3 * 0.9, 0, 1);
  let pr = base;
  for (const ids of rings) {
    bridge(pr, ids, true);
    pr = ids;
  }
  // cap : ring near tip + centre
  const dir = f.dirs[2],
    oc = mad(f.pts[2], dir, l3 * 0.55);
  const cap = pr.map((id, q) => {
    const ph = (45 - 45 * q) * D2R;
    return id;
  });
  const ctr = nv(ray(f.F, oc, dir, 0.03), { reg: "finger", i, k: 11, F: f.F, pin: 1 });
  const c = pr;
  Q.push(
    [c[0], c[7], ctr, c[1]].reverse().slice(),
    [c[1], ctr, c[3], c[2]].reverse(),
    [ctr, c[5], c[4], c[3]].reverse(),
    [c[7], c[6], c[5], ctr].reverse(),
  );
  fingerRings.push({ base, rings, ctr });
});
// thumb: window rows k=2 (A),3 (B),4 (C)
{
  const A = palmRows[1],
    B = palmRows[2],
    Cc = palmRows[3]; // boundary order around: start dorsal-proximal A4 -> B4 -> C4 -> C5 -> C6 -> B6 -> A6 -> A5
  const base = [A[4], B[4], Cc[4], Cc[5], Cc[6], B[6], A[6], A[5]];
  const rings = [];
  const t = TH;
  const addR = (seg, tt, bis, w) => {
    const o = mad(t.pts[seg], t.dirs[seg], tt);
    let dir = bis ? norm(add(t.dirs[seg], t.dirs[bis])) : t.dirs[seg];
    if (w != null) dir = norm(lerp(R_, dir, w));
    const n0 = t.nail;
    const up = norm(mad(n0, dir, -dot(n0, dir)));
    let side = norm(cross(dir, up));
    if (dot(side, HH) < 0) side = mul(side, -1); // side = distal (towards index)
    // base idx1 (B4) dorsal = up ; idx3 (C5) distal = side; idx5 (B6) palmar; idx7 (A5) proximal
    const ids = [];
    for (let q = 0; q < 8; q++) {
      const ph = (q - 1) * 45 * D2R;
      const d = add(mul(up, Math.cos(ph)), mul(side, Math.sin(ph)));
      ids.push(
        nv(ray(s.fThumb, o, d, w != null && q >= 2 && q <= 4 ? 0.0122 : 0.026), {
          reg: "thumb",
          k: rings.length,
          F: w != null ? s.fHandU : s.fThumb,
          pin: w != null ? (rings.length ? 0.5 : 0) : 1,
        }),
      );
    }
    rings.push(ids);
  };
  const L = [0, 1, 2].map((i) => len(sub(t.pts[i + 1], t.pts[i])));
  addR(0, L[0] * 0.72, 0, 0.62);
  addR(0, L[0] - 0.006, 0, 0.95);
  for (let q = 0; q < 8; q++) P[rings[0][q]] = project(s.fHandU, lerp(P[base[q]], P[rings[1][q]], 0.5), 0.006, 6);
  addR(0, L[0] - 0.0005, 1, 1);
  addR(1, 0.008, 0, 1);
  addR(1, L[1] * 0.55, 0, 1);
  addR(1, L[1] - 0.0065, 0, 1);
  addR(1, L[1] - 0.0003, 2, 1);
  addR(2, 0.006, 0, 1);
  addR(2, L[2] * 0.48, 0, 1);
  addR(2, L[2] * 0.72, 0, 1);
  addR(2, L[2] * 0.9, 0, 1);
  let pr = base;
  for (const ids of rings) {
    bridge(pr, ids, true);
    pr = ids;
  }
  const oc = mad(t.pts[2], t.dirs[2], L[2] * 0.5);
  const ctr = nv(ray(t.F, oc, t.dirs[2], 0.03), { reg: "thumb", k: 10, F: s.fThumb, pin: 1 });
  const c = pr;
  Q.push(
    [c[0], c[7], ctr, c[1]].reverse(),
    [c[1], ctr, c[3], c[2]].reverse(),
    [ctr, c[5], c[4], c[3]].reverse(),
    [c[7], c[6], c[5], ctr].reverse(),
  );
  fingerRings.push({ base, rings, ctr });
}
// ---- legs: crotch strip, 3 interior rows between BC and FC: centre line + edge
const bot = tid[0];
const K = 4;
const cen = [bot[C]],
  edg = [bot[C - 1]];
for (let k = 1; k < K; k++) {
  const t = k / K;
  const z = mix(P[bot[C]][2], P[bot[0]][2], t);
  const y = mix(P[bot[C]][1], P[bot[0]][1], t) - 0.028 * Math.sin(Math.PI * t);
  cen.push(nv([0, y, z], { reg: "torso", r: -1, c: 0, crotch: 1, F: Fb, pin: 0 }));
  edg.push(nv([0.022, y - 0.004, z], { reg: "torso", r: -1, c: 1, crotch: 1, F: Fb, pin: 0 }));
}
cen.push(bot[0]);
edg.push(bot[1]);
for (let k = 0; k < K; k++) Q.push([cen[k], cen[k + 1], edg[k + 1], edg[k]].reverse());
// leg ring order: idx0..16 = cols 1..17, 17..19 = edg[1..3]
const legBase = [];
for (let c = 1; c <= 17; c++) legBase.push(bot[c]);
for (let k = 1; k < K; k++) legBase.push(edg[k]);
// rings: front y, outer y, back y, inner y
const LR = [
  [0.78, 0.838, 0.782, 0.752],
  [0.754, 0.806, 0.756, 0.735],
  [0.728, 0.772, 0.73, 0.715],
  [0.7, 0.735, 0.702, 0.692],
  [0.67, 0.695, 0.672, 0.665],
  [0.64, 0.655, 0.641, 0.637],
  [0.61, 0.618, 0.61, 0.608],
  [0.582],
  [0.557],
  [0.535],
  [0.516],
  [0.499],
  [0.484],
  [0.469],
  [0.454],
  [0.437],
  [0.416],
  [0.39],
  [0.36],
  [0.328],
  [0.294],
  [0.26],
  [0.226],
  [0.193],
  [0.163],
  [0.138],
  [0.117],
];
const legRings = [];
prev = legBase;
LR.forEach((h, i) => {
  const ids = [];
  for (let j = 0; j < 20; j++) {
    const ph = (j * 18 - 54) * D2R;
    let y = h[0];
    if (h.length > 1) {
      const c = Math.cos(ph),
        sn = Math.sin(ph);
      const fb = c > 0 ? h[0] : h[2],
        sd = sn > 0 ? h[1] : h[3];
      y = fb * c * c + sd * sn * sn;
    }
    // knee: fan rings slightly so that they converge at the back
    const kf = (y - 0.478) * 0.3 * Math.exp(-(((y - 0.478) / 0.06) ** 2));
    const [xi, xo, zb, zf] = s.LEG(y);
    const o = [(xi + xo) / 2, y, (zb + zf) / 2 + s.legZ(y)];
    y += kf * Math.cos(ph);
    o[1] = y;
    const d = [Math.sin(ph), 0, Math.cos(ph)];
    let p = ray(Fb, o, d, 0.16);
    if (p[0] < 0.004) p = [0.004, p[1], p[2]];
    ids.push(nv(p, { reg: "leg", i, y, j, F: Fb, pin: i < 4 ? (i / 4) * 0.7 : i > 24 ? 0.4 : 1 }));
  }
  bridge(prev, ids, false);
  prev = ids;
  legRings.push(ids);
});
// foot fan
const FR = [
  [0, 0.1, 4, 0],
  [0.001, 0.084, 16, 0],
  [0.004, 0.068, 31, 0],
  [0.01, 0.056, 46, 0],
  [0.019, 0.047, 60, 0],
  [0.033, 0.04, 74, 0],
  [0.051, 0.035, 85, 0],
  [0.071, 0.03, 90, 0],
  [0.09, 0.026, 90, 0.1],
  [0.108, 0.022, 90, 0.35],
  [0.123, 0.018, 90, 0.65],
  [0.137, 0.015, 90, 0.9],
  [0.15, 0.0125, 90, 1],
  [0.163, 0.0115, 90, 1],
  [0.175, 0.0108, 90, 1],
  [0.184, 0.0102, 90, 1],
];
const footRings = [];
FR.forEach(([f0, y0, al, sl], i) => {
  const a = al * D2R;
  const ids = [];
  for (let j = 0; j < 20; j++) {
    const ph = (j * 18 - 54) * D2R;
    // stadium for front foot : lateral coordinate
    const w = sst(0.05, 0.12, f0);
    let lat, dirF;
    const c = Math.cos(ph),
      sn = Math.sin(ph);
    // flat layout idx: dorsal -1..7 (3+-4), side 8, sole 9..17, side 18
    let u;
    const jj = (j + 1) % 20; // 0..8 dorsal, 9 side outer, 10..18 sole, 19 side inner
    if (jj <= 8) u = jj / 4 - 1;
    else if (jj == 9) u = 1;
    else if (jj <= 18) u = 1 - (jj - 10) / 4;
    else u = -1;
    const LC = [-0.033, -0.025, -0.0125, -0.004, 0.004, 0.0122, 0.0195, 0.0335, 0.0415],
      SC = [0, 0, -0.001, -0.001, -0.004, -0.0085, -0.0135, -0.026, -0.034];
    const ci = Math.round((u + 1) * 4);
    const tw = sst(0.09, 0.15, f0);
    const latW = mix(0.03 * u - 0.001, LC[ci], tw);
    lat = w * latW;
    const slant = sl * SC[ci];
    const yy = y0;
    const o = FP(f0 + slant, lat, yy);
    const F_ = [ff[0] * Math.cos(a), Math.sin(a), ff[2] * Math.cos(a)];
    let d1 = add(mul(F_, c), mul(fl, sn));
    let d2;
    if (jj == 9) d2 = mul(fl, 1);
    else if (jj == 19) d2 = mul(fl, -1);
    else {
      const v = jj <= 8 ? 1 : -1;
      d2 = norm(add([0, v, 0], mul(fl, u * (Math.abs(u) > 0.9 ? 0.75 : 0.25 * (1 - tw)))));
    }
    const d = norm(lerp(d1, d2, w));
    const p = ray(Fb, o, d, 0.09) || o;
    ids.push(nv(p, { reg: "foot", i, j, F: Fb, pin: i < 8 ? 0.15 : 0.9 }));
  }
  bridge(prev, ids, false);
  prev = ids;
  footRings.push(ids);
});
// toe cap grid 8x2 : top verts jj 0..8, bottom jj 18..10, sides 9,19 ; interior 7
{
  const g = (jj) => prev[(jj + 19) % 20];
  const midRow = [g(19)];
  for (let q = 1; q < 8; q++) {
    const a = P[g(q)],
      b = P[g(18 - q)];
    const o = lerp(a, b, 0.5);
    const p = ray(Fb, o, ff, 0.06) || mad(o, ff, 0.03);
    midRow.push(nv(p, { reg: "foot", i: FR.length, j: q, F: Fb, pin: 0.9 }));
  }
  midRow.push(g(9));
  for (let q = 0; q < 8; q++) {
    Q.push([g(q), g(q + 1), midRow[q + 1], midRow[q]].reverse());
    Q.push([midRow[q], midRow[q + 1], g(18 - q - 1), g(18 - q)].reverse());
  }
}
// ---- drop unused vertices, orient faces consistently
{
  const used = new Set(Q.flat()),
    map = [];
  let n = 0;
  for (let i = 0; i < P.length; i++)
    if (used.has(i)) {
      map[i] = n;
      P[n] = P[i];
      T[n] = T[i];
      n++;
    }
  P.length = n;
  T.length = n;
  for (const q of Q) for (let k = 0; k < 4; k++) q[k] = map[q[k]];
  const rm = (a) => {
    for (let i = 0; i < a.length; i++)
      if (Array.isArray(a[i])) rm(a[i]);
      else if (a[i] >= 0) a[i] = map[a[i]];
  };
  rm(legBase);
  rm(tid);
  rm(loopIds);
  rm(armRings);
  rm(palmRows);
  rm(legRings);
  rm(footRings);
  for (const f of fingerRings) {
    rm(f.base);
    rm(f.rings);
  }
  const em = new Map();
  Q.forEach((q, f) => {
    for (let k = 0; k < 4; k++) {
      const a = q[k],
        b = q[(k + 1) % 4],
        key = a < b ? a * 1e6 + b : b * 1e6 + a;
      if (!em.has(key)) em.set(key, []);
      em.get(key).push(f);
    }
  });
  const seen = new Uint8Array(Q.length),
    st = [0];
  seen[0] = 1;
  while (st.length) {
    const f = st.pop(),
      q = Q[f];
    for (let k = 0; k < 4; k++) {
      const a = q[k],
        b = q[(k + 1) % 4],
        key = a < b ? a * 1e6 + b : b * 1e6 + a;
      const L = em.get(key);
      if (L.length > 2) throw new Error(`bodyTopology: edge ${a}-${b} has ${L.length} faces`);
      for (const g of L)
        if (!seen[g]) {
          seen[g] = 1;
          const r = Q[g];
          let same = false;
          for (let m = 0; m < 4; m++) if (r[m] == a && r[(m + 1) % 4] == b) same = true;
          if (same) r.reverse();
          st.push(g);
        }
    }
  }
  let vol = 0;
  for (const q of Q) {
    const [a, b, c, d] = q.map((i) => P[i]);
    vol += dot(a, cross(b, c)) + dot(a, cross(c, d));
  }
  if (vol < 0) for (const q of Q) q.reverse();
}
const N = P.length;
const nb = Array.from({ length: N }, () => new Set());
for (const q of Q)
  for (let k = 0; k < 4; k++) {
    nb[q[k]].add(q[(k + 1) % 4]);
    nb[q[(k + 1) % 4]].add(q[k]);
  }
const isMid = (i) => T[i].reg == "torso" && ((T[i].c == 0 && (T[i].r >= 0 || T[i].crotch)) || T[i].c == C);
function relax(iter, al, sel) {
  for (let it = 0; it < iter; it++) {
    const NP = P.map((p) => p);
    for (let i = 0; i < N; i++) {
      const t = T[i];
      if (t.pin >= 1 || !t.F || (sel && !sel(t, i))) continue;
      if (t.reg == "torso" && t.r == TR.length - 1) continue;
      let a = [0, 0, 0],
        n = 0;
      for (const j of nb[i]) {
        const w = 1;
        a = add(a, mul(P[j], w));
        n += w;
        if (isMid(i) && !isMid(j)) {
          a = add(a, [-P[j][0], P[j][1], P[j][2]]);
          n += w;
        }
      }
      a = mul(a, 1 / n);
      if (isMid(i)) a[0] = 0;
      let d = sub(a, P[i]);
      const g = grad(t.F, P[i]);
      d = mad(d, g, -dot(d, g));
      let p = mad(P[i], d, al * (1 - t.pin));
      p = project(t.F, p, 0.006, 2);
      if (isMid(i)) p[0] = 0;
      else if (t.crotch || (t.reg == "torso" && t.r == 0 && (t.c == 1 || t.c == C - 1))) p[0] = Math.max(p[0], 0.012);
      NP[i] = p;
    }
    for (let i = 0; i < N; i++) P[i] = NP[i];
  }
}
relax(60, 0.5, (t) => t.reg == "torso" || t.reg == "arm" || t.reg == "leg");
relax(14, 0.4, (t) => t.reg == "foot" || t.reg == "finger" || (t.reg == "leg" && t.i > 24));
relax(25, 0.4, (t) => t.reg == "palm" || t.reg == "thumb");
// project torso centre again
export const half = { legBase, P, Q, T, N, isMid, tid, loopIds, armRings, palmRows, fingerRings, legRings, footRings, nb, TR };
// ---- mirror & weld
export function mirror(P, Q, isMidF) {
  const n = P.length,
    map = [];
  const PP = P.map((p) => [...p]);
  for (let i = 0; i < n; i++) {
    if (isMidF(i)) {
      PP[i][0] = 0;
      map[i] = i;
    } else {
      map[i] = PP.length;
      PP.push([-P[i][0], P[i][1], P[i][2]]);
    }
  }
  const QQ = Q.map((q) => [...q]);
  for (const q of Q) QQ.push([map[q[3]], map[q[2]], map[q[1]], map[q[0]]]);
  return { P: PP, Q: QQ, map };
}
// Catmull-Clark one level, returns stencils-based: positions + parents (list of [idx,w])
export function subdiv(nV, Q) {
  const edge = new Map(),
    ek = (a, b) => (a < b ? a * 1e6 + b : b * 1e6 + a);
  const st = [];
  const faceOf = Array.from({ length: nV }, () => []),
    edgeOf = Array.from({ length: nV }, () => []);
  Q.forEach((q, f) => {
    for (let k = 0; k < 4; k++) {
      const a = q[k],
        b = q[(k + 1) % 4];
      faceOf[a].push(f);
      const key = ek(a, b);
      if (!edge.has(key)) {
        edge.set(key, { a, b, f: [] });
        edgeOf[a].push(key);
        edgeOf[b].push(key);
      }
      edge.get(key).f.push(f);
    }
  });
  const acc = (l) => {
    const m = new Map();
    for (const [i, w] of l) m.set(i, (m.get(i) || 0) + w);
    return [...m];
  };
  for (let v = 0; v < nV; v++) {
    const bd = edgeOf[v].map((k) => edge.get(k)).filter((e) => e.f.length == 1);
    const n = faceOf[v].length;
    let l = [];
    if (bd.length) {
      l.push([v, 0.75]);
      for (const e of bd) l.push([e.a == v ? e.b : e.a, 0.25 / bd.length]);
    } else {
      for (const f of faceOf[v]) for (const i of Q[f]) l.push([i, 0.25 / n / n]);
      for (const k of edgeOf[v]) {
        const e = edge.get(k);
        l.push([e.a, 1 / n / n], [e.b, 1 / n / n]);
      }
      l.push([v, (n - 3) / n]);
    }
    st.push(acc(l));
  }
  const fi = Q.map((q) => {
    st.push(q.map((i) => [i, 0.25]));
    return st.length - 1;
  });
  const ei = new Map();
  for (const [k, e] of edge) {
    let l = [
      [e.a, 0.5],
      [e.b, 0.5],
    ];
    if (e.f.length == 2) {
      l = [
        [e.a, 0.25],
        [e.b, 0.25],
      ];
      for (const f of e.f) for (const i of Q[f]) l.push([i, 0.0625]);
    }
    st.push(acc(l));
    ei.set(k, st.length - 1);
  }
  const QQ = [];
  Q.forEach((q, f) => {
    for (let k = 0; k < 4; k++) QQ.push([q[k], ei.get(ek(q[k], q[(k + 1) % 4])), fi[f], ei.get(ek(q[(k + 3) % 4], q[k]))]);
  });
  return { st, Q: QQ };
}
export const applySt = (st, P) =>
  st.map((l) => {
    const r = [0, 0, 0];
    for (const [i, w] of l) {
      r[0] += P[i][0] * w;
      r[1] += P[i][1] * w;
      r[2] += P[i][2] * w;
    }
    return r;
  });

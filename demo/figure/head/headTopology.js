import * as F from "./headForm.js";
const { C, EYE, RE, RLI, RLO, f, project, march, zfront, smax } = F;
export const S = 1; // density multiplier
export const mc = (xs, ys) => {
  // monotone-ish cubic (PCHIP)
  const n = xs.length,
    d = [],
    m = [];
  for (let i = 0; i < n - 1; i++) d[i] = (ys[i + 1] - ys[i]) / (xs[i + 1] - xs[i]);
  for (let i = 0; i < n; i++) {
    if (i === 0) m[i] = d[0];
    else if (i === n - 1) m[i] = d[n - 2];
    else m[i] = d[i - 1] * d[i] <= 0 ? 0 : (2 * d[i - 1] * d[i]) / (d[i - 1] + d[i]);
  }
  return (x) => {
    let i = 0;
    while (i < n - 2 && x > xs[i + 1]) i++;
    const h = xs[i + 1] - xs[i],
      t = (x - xs[i]) / h;
    const t2 = t * t,
      t3 = t2 * t;
    return ys[i] * (2 * t3 - 3 * t2 + 1) + h * m[i] * (t3 - 2 * t2 + t) + ys[i + 1] * (-2 * t3 + 3 * t2) + h * m[i + 1] * (t3 - t2);
  };
};
const H1 = 28,
  V1 = 31,
  VH = 31; // half columns, rows; row 31 is the ring just under the jaw, where the neck takes over
export const H = H1 * S,
  V = V1 * S;
const azC = [0, 2, 5, 6, 9, 13, 16, 19, 23, 25.5, 28];
const azA = mc(azC, [0, 4, 10.2, 12.8, 21.5, 34.5, 50, 78, 112, 144, 180]),
  azB = mc(azC, [0, 6.6, 16.8, 20.4, 28, 39, 53, 78, 112, 144, 180]);
const sst = (a, b, x) => {
  x = Math.min(1, Math.max(0, (x - a) / (b - a)));
  return x * x * (3 - 2 * x);
};
const azU = (u, v) => {
  const w = sst(14, 21.5, v) * (1 - 0.35 * sst(29, 34, v));
  return azA(u) * (1 - w) + azB(u) * w;
};
const EV = [0, 2, 4, 6, 8, 13, 15, 18, 20, 22, 26, 28, 30, 32, 33];
const elF = mc(EV, [62, 44, 31, 21, 13.5, -5.5, -11.5, -18.4, -22.2, -26.6, -42.2, -47.5, -54, -63, -67.5]);
const elS = mc(EV, [62, 45, 33, 24, 16, -3, -9.5, -17.5, -22.5, -28, -41, -47, -52.5, -57, -59]);
const elB = mc(EV, [62, 47, 37, 29, 22, 3, -3, -9.5, -13, -17.5, -28, -32, -35, -38, -39]);
const elAt = (v, az) => {
  const a = mc([0, 60, 95, 180], [elF(v), elF(v) * 0.35 + elS(v) * 0.65, elS(v), elB(v)]);
  return a(az);
};
export const win = {
  eye: [5 * S, 13 * S, 8 * S, 13 * S],
  mouth: [0, 6 * S, 22 * S, 26 * S],
  ear: [19 * S, 23 * S, 9 * S, 19 * S],
  nos: S % 2 ? [-9, -9, -9, -9] : [S / 2, 2 * S, 19 * S, 21 * S],
};
const inWin = (i, j, w) => i > w[0] && i < w[1] && j > w[2] && j < w[3];
const cellIn = (i, j, w) => i >= w[0] && i < w[1] && j >= w[2] && j < w[3];
const rad = (d) => (d * Math.PI) / 180;
export function build() {
  // ---- grid on half
  const P = [];
  const id = (i, j) => j * (H + 1) + i;
  for (let j = 0; j <= V; j++)
    for (let i = 0; i <= H; i++) {
      const u = i / S,
        v = j / S,
        az = rad(azU(u, v));
      let p;
      if (v <= VH) {
        const el = rad(elAt(v, azU(u, v)));
        p = march(C, [Math.sin(az) * Math.cos(el), Math.sin(el), Math.cos(az) * Math.cos(el)]);
      } else {
        const top = P[id(i, VH * S)];
        const t = (v - VH) / (V1 - VH);
        const y = top[1] + (-172 - top[1]) * t;
        const zc = -17 + (y + 110) * 0.26;
        p = march([0, y, zc], [Math.sin(az), 0, Math.cos(az)], 160);
      }
      if (i === 0 || i === H) p[0] = 0;
      P.push(p);
    }
  const clamp = (p, i) => {
    if (i === 0 || i === H) p[0] = 0;
    return p;
  };
  // relax with reprojection
  for (let it = 0; it < 14; it++) {
    const Q = P.map((p) => p.slice());
    for (let j = 1; j < V; j++)
      for (let i = 0; i <= H; i++) {
        const l = i === 0 ? [-P[id(1, j)][0], P[id(1, j)][1], P[id(1, j)][2]] : P[id(i - 1, j)],
          r = i === H ? [-P[id(H - 1, j)][0], P[id(H - 1, j)][1], P[id(H - 1, j)][2]] : P[id(i + 1, j)],
          a = P[id(i, j - 1)],
          b = P[id(i, j + 1)],
          p = P[id(i, j)];
        const face = P[id(i, j)][2] > 50 && j < 28 * S;
        const w = face ? 0.12 : 0.35;
        const q = p.map((v, k) => v + w * ((l[k] + r[k] + a[k] + b[k]) / 4 - v));
        Q[id(i, j)] = clamp(project(q, 3), i);
      }
    for (let k = 0; k < P.length; k++) P[k] = Q[k];
  }
  // ---- half mesh containers
  const X = [],
    mid = [],
    Qd = [],
    tag = [];
  const map = new Int32Array(P.length).fill(-1);
  const addV = (p, m, t) => {
    X.push(p);
    mid.push(!!m);
    tag.push(t || null);
    return X.length - 1;
  };
  for (let j = 0; j <= V; j++)
    for (let i = 0; i <= H; i++) {
      if (
        inWin(i, j, win.eye) ||
        inWin(i, j, win.ear) ||
        inWin(i, j, win.nos) ||
        (i < win.mouth[1] && j > win.mouth[2] && j < win.mouth[3])
      )
        continue;
      map[id(i, j)] = addV(P[id(i, j)], i === 0 || i === H, { g: 1, i, j });
    }
  for (let j = 0; j < V; j++)
    for (let i = 0; i < H; i++) {
      if (cellIn(i, j, win.eye) || cellIn(i, j, win.ear) || cellIn(i, j, win.nos) || cellIn(i, j, win.mouth)) continue;
      Qd.push([map[id(i, j)], map[id(i, j + 1)], map[id(i + 1, j + 1)], map[id(i + 1, j)]]);
    }
  const info = { bottom: Array.from({ length: H + 1 }, (_, i) => map[id(i, V)]) };
  const ringQuads = (A, B, closed) => {
    const n = A.length;
    for (let k = 0; k < (closed ? n : n - 1); k++) {
      const k2 = (k + 1) % n;
      Qd.push([A[k], B[k], B[k2], A[k2]]);
    }
  };
  const lerp = (a, b, t) => a.map((v, k) => v + (b[k] - v) * t);
  // ---- eye rings. perimeter starts at medial-top corner? order: top row medial->lateral, lateral side down, bottom lateral->medial, medial side up (seen from front this is clockwise on subject-left eye)
  {
    const [i0, i1, j0, j1] = win.eye;
    const per = [];
    for (let i = i0; i < i1; i++) per.push([i, j0]);
    for (let j = j0; j < j1; j++) per.push([i1, j]);
    for (let i = i1; i > i0; i--) per.push([i, j1]);
    for (let j = j1; j > j0; j--) per.push([i0, j]);
    const n = per.length;
    const outer = per.map(([i, j]) => map[id(i, j)]);
    // parameter on almond: medial canthus at middle of medial side, lateral canthus at middle of lateral side; by index
    const hh = (j1 - j0) / 2,
      nu = i1 - i0 + 2 * hh; // segments upper (= lower)
    const margin = per.map((_, k) => {
      let kk = (k + hh + n) % n; // kk=0 at medial canthus, nu at lateral
      const up = kk <= nu;
      const s = up ? kk / nu : (2 * nu - kk) / nu;
      return { up, s: 0.5 - 0.5 * Math.cos(Math.PI * (0.12 + 0.76 * s)), s0: s };
    });
    const c0 = 0.5 - 0.5 * Math.cos(Math.PI * 0.12),
      c1 = 0.5 - 0.5 * Math.cos(Math.PI * 0.88);
    for (const m of margin) m.s = (m.s - c0) / (c1 - c0);
    info.eyeN = n;
    const rings = [outer];
    const meta = [];
    const mp = margin.map((m) => lidMargin(m.s, m.up));
    const rect = outer.map((v) => X[v]);
    const outM = mp.map((q, k) => lidShell(q, margin[k], 1)),
      inM = mp.map((q, k) => lidShell(q, margin[k], 0));
    const NR = 8;
    const ts = [0, 0.2, 0.38, 0.52, 0.64, 0.74, 0.83, 0.92, 1];
    for (let r = 1; r <= NR; r++) {
      const t = ts[r];
      const R = [];
      for (let k = 0; k < n; k++) {
        let p;
        if (r === NR) p = outM[k];
        else {
          p = lerp(rect[k], outM[k], t);
          p = project(p, 5);
        }
        R.push(addV(p, false, { eye: 1, r, k, up: margin[k].up, s: margin[k].s, t }));
      }
      rings.push(R);
    }
    // inner rings
    const inn = [];
    inn.push(inM);
    const ex = INNER.map((o) => [o.deg, RLI + o.r]);
    for (const [deg, rr] of ex)
      inn.push(
        inM.map((p, k) => {
          const d = [p[0] - EYE[0], p[1] - EYE[1], p[2] - EYE[2]];
          const l = Math.hypot(...d);
          const h = Math.hypot(d[0], d[1]) || 1;
          let th = Math.atan2(h, d[2]);
          const th2 = Math.min(th + rad(deg), Math.max(th + 0.05, rad(118)));
          return [EYE[0] + (d[0] / h) * Math.sin(th2) * rr, EYE[1] + (d[1] / h) * Math.sin(th2) * rr, EYE[2] + Math.cos(th2) * rr];
        }),
      );
    inn.forEach((I, q) => {
      rings.push(I.map((p, k) => addV(p, false, { eye: 1, r: NR + 1 + q, inner: 1, k, up: margin[k].up, s: margin[k].s, t: 1 })));
    });
    for (let r = 0; r + 1 < rings.length; r++) ringQuads(rings[r], rings[r + 1], true);
    info.eyeRings = rings;
    info.eyeMargin = margin;
    info.NR = NR;
  }
  // ---- mouth rings (half)
  {
    const [i0, i1, j0, j1] = win.mouth;
    const per = [];
    for (let i = 0; i < i1; i++) per.push([i, j0]);
    for (let j = j0; j < j1; j++) per.push([i1, j]);
    for (let i = i1; i >= 0; i--) per.push([i, j1]);
    const n = per.length,
      half = (n - 1) / 2;
    const outer = per.map(([i, j]) => map[id(i, j)]);
    const rings = [outer];
    const par = per.map((_, k) => {
      const up = k <= half;
      const s = up ? k / half : (n - 1 - k) / half;
      return { up, t: Math.pow(s, 1.0) };
    });
    const spec = lipRings(par);
    const border = spec[0].pts;
    const rect = outer.map((v) => X[v]);
    const ts = [0.3, 0.56, 0.79];
    let r = 1;
    for (const t of ts) {
      rings.push(
        border.map((b, k) => {
          let p = project(lerp(rect[k], b, t), 5);
          if (k === 0 || k === n - 1) p[0] = 0;
          return addV(p, k === 0 || k === n - 1, { mouth: 1, skin: 1, r, k, up: par[k].up, t: par[k].t, w: t });
        }),
      );
      r++;
    }
    for (const s of spec) {
      rings.push(s.pts.map((p, k) => addV(p, k === 0 || k === n - 1, { mouth: 1, kind: s.kind, r, k, up: par[k].up, t: par[k].t, w: 1 })));
      r++;
    }
    for (let q = 0; q + 1 < rings.length; q++) ringQuads(rings[q], rings[q + 1], false);
    // close the bag with a strip between upper and lower halves of the last ring
    const Lr = rings[rings.length - 1];
    {
      const nx = (n - 1) / 4,
        ny = (n - 1) / 2;
      const G = [];
      for (let a = 0; a <= ny; a++) {
        G.push([]);
        for (let c = 0; c <= nx; c++) G[a].push(-1);
      }
      for (let c = 0; c <= nx; c++) {
        G[0][c] = Lr[c];
        G[ny][c] = Lr[n - 1 - c];
      }
      for (let a = 0; a <= ny; a++) G[a][nx] = Lr[nx + a];
      const mx = (c) => lerp(X[Lr[0]], X[Lr[n - 1]], c);
      for (let a = 1; a < ny; a++)
        for (let c = 0; c < nx; c++) {
          const s = a / ny,
            t = c / nx;
          const T = X[G[0][c]],
            B = X[G[ny][c]],
            R = X[G[a][nx]],
            Lf = mx(s);
          const TL = X[G[0][0]],
            TR = X[G[0][nx]],
            BL = X[G[ny][0]],
            BR = X[G[ny][nx]];
          const q = [0, 1, 2].map(
            (k) =>
              (1 - s) * T[k] +
              s * B[k] +
              (1 - t) * Lf[k] +
              t * R[k] -
              ((1 - s) * (1 - t) * TL[k] + (1 - s) * t * TR[k] + s * (1 - t) * BL[k] + s * t * BR[k]),
          );
          q[2] -= 4 * Math.sin(Math.PI * s) * (1 - t * t);
          if (c === 0) q[0] = 0;
          G[a][c] = addV(q, c === 0, { mouth: 1, kind: "bag", r: 99, k: 0, up: s < 0.5, t: t * 0.6 + 0.4 * t, w: 1, throat: s });
        }
      for (let a = 0; a < ny; a++) for (let c = 0; c < nx; c++) Qd.push([G[a][c], G[a + 1][c], G[a + 1][c + 1], G[a][c + 1]]);
    }
    info.mouthRings = rings;
    info.mouthN = n;
  }
  // ---- nostril rings
  if (S % 2 === 0) {
    const [i0, i1, j0, j1] = win.nos;
    const per = [];
    for (let i = i0; i < i1; i++) per.push([i, j0]);
    for (let j = j0; j < j1; j++) per.push([i1, j]);
    for (let i = i1; i > i0; i--) per.push([i, j1]);
    for (let j = j1; j > j0; j--) per.push([i0, j]);
    const n = per.length,
      outer = per.map(([i, j]) => map[id(i, j)]);
    const cx = 6.3,
      cz = 96.6,
      yw = 0.5,
      aX = 2.35,
      aZ = 4.3;
    // window sides seen from below: top row = front (+z), lateral side = +x
    const base = per.map((_, k) => {
      const p = X[outer[k]];
      const dx = p[0] - cx,
        dz = p[2] - cz;
      return Math.atan2(dx / (aX + 1.6), dz / (aZ + 1.6));
    });
    // even out angles: keep order, blend with uniform
    let a0 = base[0];
    const un = base.map((_, k) => a0 + (2 * Math.PI * k) / n);
    const ang = base.map((a, k) => {
      let d = a - un[k];
      d = Math.atan2(Math.sin(d), Math.cos(d));
      return un[k] + d * 0.45;
    });
    const pt = (a, s, up) => {
      let x = Math.sin(a) * aX * s,
        z = Math.cos(a) * aZ * s;
      const X2 = x * Math.cos(yw) - z * Math.sin(yw),
        Z2 = x * Math.sin(yw) + z * Math.cos(yw);
      x = cx + X2;
      z = cz + Z2;
      const D = [0, 0.85, -0.527];
      let P = [x, -44 - 0.85 * 26, z + 0.527 * 26];
      for (let q = 0; q < 120; q++) {
        const v = f(P);
        if (v < 0.02) break;
        const st = Math.max(0.04, v * 0.6);
        P = P.map((c, j) => c + D[j] * st);
      }
      return [P[0], P[1] + up, P[2] - up * 0.35];
    };
    const rings = [outer];
    const add = (fn, r) => rings.push(ang.map((a, k) => addV(fn(a, k), false, { nos: 1, r, k })));
    add((a, k) => project(lerp(X[outer[k]], pt(a, 1.18, 0), 0.62), 4), 1);
    add((a) => pt(a, 1.08, 0), 2);
    add((a) => pt(a, 0.92, 0.55), 3);
    add((a) => pt(a, 0.8, 2.2), 4);
    add((a) => pt(a, 0.62, 6), 5);
    for (let q = 0; q + 1 < rings.length; q++) ringQuads(rings[q], rings[q + 1], true);
    const Lr = rings[rings.length - 1];
    const h = n / 2;
    for (let k = 0; k < h - 1; k++) Qd.push([Lr[k], Lr[n - 1 - k], Lr[n - 2 - k], Lr[k + 1]]);
    info.nosRings = rings;
  }
  // ---- ear rings
  {
    const [i0, i1, j0, j1] = win.ear;
    const per = [];
    for (let i = i0; i < i1; i++) per.push([i, j0]);
    for (let j = j0; j < j1; j++) per.push([i1, j]);
    for (let i = i1; i > i0; i--) per.push([i, j1]);
    for (let j = j1; j > j0; j--) per.push([i0, j]);
    const outer = per.map(([i, j]) => map[id(i, j)]);
    const n = outer.length;
    const rings = [outer];
    const rect = outer.map((v) => X[v]);
    const er = earRings(rect);
    er.forEach((R, r) => rings.push(R.map((p, k) => addV(p, false, { ear: 1, r: r + 1, k }))));
    for (let q = 0; q + 1 < rings.length; q++) ringQuads(rings[q], rings[q + 1], true);
    // cap: strip
    const Lr = rings[rings.length - 1];
    const h = n / 2;
    for (let k = 0; k < h - 1; k++) {
      const a = Lr[k],
        b = Lr[k + 1],
        c = Lr[n - 2 - k],
        d = Lr[n - 1 - k];
      Qd.push([a, d, c, b]);
    }
    info.earRings = rings;
  }
  // ---- relax the skin (ring zones + neighbours) tangentially
  const nb = X.map(() => new Set());
  for (const q of Qd)
    for (let k = 0; k < 4; k++) {
      nb[q[k]].add(q[(k + 1) % 4]);
      nb[q[(k + 1) % 4]].add(q[k]);
    }
  const wRel = tag.map((t) => {
    if (!t) return 0;
    if (t.eye && !t.inner && t.r < info.NR) return t.r >= info.NR - 1 ? 0.1 : 0.35;
    if (t.mouth && t.skin) return 0.35;
    if (t.nos && t.r === 1) return 0.3;
    if (t.g && t.j > 0 && t.j < V) {
      const near = (w) => t.i >= w[0] - 3 && t.i <= w[1] + 3 && t.j >= w[2] - 3 && t.j <= w[3] + 3;
      return near(win.eye) || near(win.mouth) || near(win.nos) ? 0.3 : near(win.ear) ? 0.2 : 0;
    }
    return 0;
  });
  for (let it = 0; it < 10; it++) {
    const Y = X.map((p, v) => {
      if (!wRel[v]) return p;
      let s = [0, 0, 0],
        c = 0;
      for (const o of nb[v]) {
        for (let k = 0; k < 3; k++) s[k] += X[o][k];
        c++;
      }
      if (mid[v]) {
        for (const o of nb[v])
          if (!mid[o]) {
            s[0] -= X[o][0];
            s[1] += X[o][1];
            s[2] += X[o][2];
            c++;
          }
      }
      let q = p.map((a, k) => a + wRel[v] * (s[k] / c - a));
      q = project(q, 3);
      if (mid[v]) q[0] = 0;
      return q;
    });
    for (let v = 0; v < X.length; v++) X[v] = Y[v];
  }
  // even steps from the skin over the lip border to the seam at the mouth corner
  {
    const R = info.mouthRings;
    for (const [r, f] of [
      [3, 0.34],
      [2, 0.66],
    ])
      R[r].forEach((v, k) => {
        const t = tag[v].t;
        if (t <= 0.8) return;
        const w = ((t - 0.8) / 0.2) ** 2,
          a = X[R[4][k]],
          b = X[R[1][k]];
        X[v] = project(
          X[v].map((q, j) => q + w * (a[j] + (b[j] - a[j]) * f - q)),
          4,
        );
      });
    for (let r = 5; r <= 7; r++)
      R[r].forEach((v, k) => {
        const t = tag[v].t;
        if (t <= 0.7) return;
        const w = sst(0.68, 1, t),
          a = X[R[4][k]],
          b = X[R[8][k]],
          f = [0.22, 0.5, 0.78][r - 5];
        X[v] = X[v].map((q, j) => q + w * (a[j] + (b[j] - a[j]) * f - q));
      });
  }
  // crease groove + fold of the upper lid
  for (let v = 0; v < X.length; v++) {
    const t = tag[v];
    if (t && t.eye && !t.inner && t.up && t.r < info.NR) {
      const w = Math.pow(Math.sin(Math.PI * Math.min(1, Math.max(0, t.s))), 0.9);
      const dep = creaseDepth[t.r] || 0;
      if (dep) {
        const d = [X[v][0] - EYE[0], X[v][1] - EYE[1], X[v][2] - EYE[2]];
        const l = Math.hypot(...d);
        for (let k = 0; k < 3; k++) X[v][k] -= (d[k] / l) * dep * w;
      }
    }
  }
  // ---- mirror
  const n0 = X.length,
    mir = new Int32Array(n0);
  const VX = X.map((p) => p.slice()),
    VT = tag.map((t) => ({ ...(t || {}), side: 1 }));
  for (let v = 0; v < n0; v++) {
    if (mid[v]) {
      mir[v] = v;
      VT[v].side = 0;
    } else {
      mir[v] = VX.length;
      VX.push([-X[v][0], X[v][1], X[v][2]]);
      VT.push({ ...(tag[v] || {}), side: -1 });
    }
  }
  const QQ = Qd.map((q) => q.slice());
  for (const q of Qd) QQ.push([mir[q[3]], mir[q[2]], mir[q[1]], mir[q[0]]]);
  // ---- crown cap
  {
    const ring = [];
    for (let i = 0; i <= H; i++) ring.push(map[id(i, 0)]);
    for (let i = H - 1; i > 0; i--) ring.push(mir[map[id(i, 0)]]); // 2H verts, start front mid going +x
    const N = (2 * H) / 4,
      off = N / 2; // corner at az ~45deg
    const at = (k) => ring[((k % (2 * H)) + 2 * H) % (2 * H)];
    const G = [];
    for (let a = 0; a <= N; a++) {
      G.push([]);
      for (let b = 0; b <= N; b++) {
        let v = -1;
        // sides: a=0: front side from -off..+off ; b=N right side ; a=N back ; b=0 left
        if (a === 0) v = at(-off + b);
        else if (b === N) v = at(off + a);
        else if (a === N) v = at(off + N + (N - b));
        else if (b === 0) v = at(-off - a);
        if (v < 0) {
          v = -2;
        }
        G[a].push(v);
      }
    }
    for (let a = 1; a < N; a++)
      for (let b = 1; b < N; b++) {
        const s = a / N,
          t = b / N;
        const l = (k) => VX[k];
        const p = [0, 1, 2].map(
          (k) =>
            (1 - s) * l(G[0][b])[k] +
            s * l(G[N][b])[k] +
            (1 - t) * l(G[a][0])[k] +
            t * l(G[a][N])[k] -
            ((1 - s) * (1 - t) * l(G[0][0])[k] + (1 - s) * t * l(G[0][N])[k] + s * (1 - t) * l(G[N][0])[k] + s * t * l(G[N][N])[k]),
        );
        const d = [p[0] - C[0], p[1] + 30 - C[1], p[2] - C[2]];
        const ln = Math.hypot(...d);
        VX.push(
          march(
            C,
            d.map((q) => q / ln),
          ),
        );
        VT.push({ cap: 1, side: Math.sign(p[0]) });
        G[a][b] = VX.length - 1;
      }
    const capV = new Set();
    for (let a = 0; a <= N; a++) for (let b = 0; b <= N; b++) capV.add(G[a][b]);
    for (let a = 0; a < N; a++) for (let b = 0; b < N; b++) QQ.push([G[a][b], G[a][b + 1], G[a + 1][b + 1], G[a + 1][b]]);
    const nb2 = new Map();
    for (const q of QQ)
      for (let k = 0; k < 4; k++) {
        const a = q[k],
          b = q[(k + 1) % 4];
        if (!nb2.has(a)) nb2.set(a, new Set());
        if (!nb2.has(b)) nb2.set(b, new Set());
        nb2.get(a).add(b);
        nb2.get(b).add(a);
      }
    for (let it = 0; it < 30; it++) {
      const up = [];
      for (const v of capV) {
        const s = [0, 0, 0];
        const o = nb2.get(v);
        for (const w of o) for (let k = 0; k < 3; k++) s[k] += VX[w][k];
        up.push([
          v,
          project(
            VX[v].map((a, k) => a + 0.5 * (s[k] / o.size - a)),
            2,
          ),
        ]);
      }
      for (const [v, p] of up) VX[v] = p;
    }
  }
  return { X: VX, Q: QQ, tag: VT, info, mir, n0 };
}
// ---------- lids
// rings inside the lid: turned back by deg from the edge, at RLI+r, following share f of the edge's travel
export const INNER = [
  { deg: 11, r: 0.28, f: 0.72 },
  { deg: 26, r: 0.25, f: 0.66 },
  { deg: 42, r: 0.25, f: 0.46 },
  { deg: 60, r: 0.25, f: 0.2 },
  { deg: 82, r: 0.25, f: 0 },
];
export const creaseDepth = { 3: -0.15, 4: -0.4, 5: -0.55, 6: 0.95, 7: 0.2 };
export const LID = { mx: -14.1, my: -1.9, lx: 13.5, ly: 1.5, hu: 5.45, hl: 5.0 };
export function lidMargin(s, up) {
  const e = LID;
  const x = e.mx + (e.lx - e.mx) * s,
    b = e.my + (e.ly - e.my) * s;
  const y = up
    ? b + e.hu * Math.pow(Math.max(0, Math.sin(Math.PI * Math.pow(s, 0.88))), 0.8)
    : b - e.hl * Math.pow(Math.max(0, Math.sin(Math.PI * Math.pow(s, 1.18))), 0.88);
  return [x, y];
}
export function lidZ(x, y, R) {
  const r2 = x * x + y * y;
  const zs = r2 < R * R ? Math.sqrt(R * R - r2) : -Math.sqrt(r2 - R * R);
  const zm = x < 0 ? 7.2 : 3.6;
  const w = Math.abs(x) > 0 ? 1 : 0;
  return smax(zs, zm * Math.min(1, Math.abs(x) / 9), 3.0 * w + 0.01);
}
export function lidShell(q, m, outer, open = 1) {
  const [x, y] = q;
  const can = Math.pow(Math.max(0, Math.sin(Math.PI * Math.min(1, Math.max(0, m.s)))), 0.4);
  const z = lidZ(x, y, RLI);
  const l = Math.hypot(x, y, z);
  const th = outer ? 0.55 + 0.85 * can : 0; // thickness
  // outer edge slightly away from fissure centre
  const oy = outer ? (m.up ? 0.3 : -0.35) * can * open : 0; // open=0 lets the two lid edges meet
  return [EYE[0] + x + (x / l) * th, EYE[1] + y + oy + (y / l) * th * 0.6, EYE[2] + z + (z / l) * th];
}
// ---------- lips
const MW = 24.4;
const yU = mc([0, 0.12, 0.24, 0.38, 0.55, 0.75, 0.9, 1], [-59.2, -58.3, -57.6, -58.2, -60.5, -63.7, -65.3, -66.2]);
const yL = mc([0, 0.25, 0.5, 0.75, 0.9, 1], [-78.4, -78.1, -76.4, -72.4, -69.0, -66.4]);
const yS = mc([0, 0.12, 0.35, 0.6, 0.85, 1], [-67.9, -67.6, -67.15, -67.2, -66.75, -66.3]);
export const xT = (t) => MW * (t * 0.93 + 0.07 * t * (2 - t));
export function lipRings(par) {
  const out = [];
  const zc = {};
  const Z = (x, y) => zfront(x, y);
  // frac 0=border 1=seam ; bulge profile
  const prof = [
    ["border", 0, 0.2],
    ["lip", 0.2, 1.7],
    ["lip", 0.48, 3.2],
    ["lip", 0.78, 2.8],
    ["seam", 1.0, -0.5],
  ];
  for (const [kind, fr, b] of prof)
    out.push({
      kind,
      pts: par.map(({ up, t }) => {
        const x = xT(t) * (1 - fr * 0.072 * t * t * t);
        const yb = up ? yU(t) : yL(t),
          ys = yS(t);
        const y = yb + (ys - yb) * fr + (fr === 1 ? (up ? -0.08 : 0.08) : 0);
        const w = Math.pow(Math.max(0, 1 - Math.pow(t, 2.2)), 0.75);
        const amp = up ? 0.85 : 1.05;
        const z =
          Z(x, y) + (b > 0 ? b * amp * w : b * (0.4 + 0.6 * w)) - (1 - w) * (fr > 0 ? 0.5 : 0.0) - (t > 0.85 ? (t - 0.85) * 3.5 * fr : 0);
        return [x, y, z];
      }),
    });
  // inside
  const S0 = out[out.length - 1].pts;
  // kind, depth back, half height, share of height kept at the corner, x factor
  const inner = [
    ["inlip", 2.2, 0.1, 0.12, 0.965],
    ["inlip", 4.4, 2.6, 0.12, 0.95],
    ["bag", 5.6, 8.6, 0.3, 0.97],
    ["bag", 12.6, 12.5, 0.78, 1.12],
    ["bag", 34, 13.5, 0.96, 1.4],
    ["bag", 58, 12.5, 1, 1.44],
  ];
  for (const [kind, dz, dy, m, xf] of inner)
    out.push({
      kind,
      pts: par.map(({ up, t }, k) => {
        const s = S0[k];
        const w = Math.sqrt(Math.max(0, 1 - t * t));
        const c = k === par.length >> 1;
        return [
          s[0] * xf,
          s[1] + (c ? 0 : up ? 1 : -1) * dy * (m + (1 - m) * w) * (t > 0.9 ? ((1 - t) / 0.1) * 0.999 + 0.001 : 1),
          s[2] - dz * (1 - 0.1 * t),
        ];
      }),
    });
  return out;
}
// ---------- ear
export function earRings(rect) {
  const n = rect.length;
  const c = [0, 0, 0];
  for (const p of rect) for (let k = 0; k < 3; k++) c[k] += p[k] / n;
  // local frame: b = back (tilted), u = up (tilted back), nrm = out
  const tl = rad(5);
  const u = [0, Math.cos(tl), -Math.sin(tl)],
    b = [0, -Math.sin(tl), -Math.cos(tl)];
  const O = [0, -17, -7.5];
  // ear outline in (b,u) by angle phi measured from +u toward +b
  const out = mc(
    [0, 30, 60, 90, 120, 150, 175, 195, 215, 240, 270, 300, 330, 360].map((v) => v),
    [29, 29.5, 25.5, 20.5, 18, 20.5, 25.5, 26.5, 22.5, 16.5, 12.5, 14, 22, 29],
  );
  const ring = [
    [0.6, 0.0, 1, 0],
    [0.8, 6.5, 0.35, 0],
    [0.985, 11.5, 0, 0],
    [1.0, 14, 0, 0],
    [0.94, 15.2, 0, 0],
    [0.86, 13.8, 0, 0],
    [0.77, 10.8, 0, 0],
    [0.64, 12.2, 0, 0],
    [0.5, 10.8, 0, 0],
    [0.4, 5, 0, 0],
    [0.22, 3, 0, 0],
  ];
  // angles from rect
  const ang = rect.map((p) => {
    const d = [p[0], p[1] - O[1], p[2] - O[2]];
    const B = d[1] * b[1] + d[2] * b[2],
      U = d[1] * u[1] + d[2] * u[2];
    let a = (Math.atan2(B, U) * 180) / Math.PI;
    return (a + 360) % 360;
  });
  {
    const pts = [];
    let acc = 0,
      pp = null;
    for (let a = 0; a <= 360; a += 0.5) {
      const aa = (ang[0] - a + 720) % 360;
      const R = out(aa);
      const q = [R * Math.sin(rad(aa)), R * Math.cos(rad(aa))];
      if (pp) acc += Math.hypot(q[0] - pp[0], q[1] - pp[1]);
      pp = q;
      pts.push([acc, aa]);
    }
    const sgn = Math.sign(((ang[1] - ang[0] + 540) % 360) - 180);
    for (let k = 0; k < n; k++) {
      const t = (acc * k) / n;
      let i = 0;
      while (i < pts.length - 1 && pts[i + 1][0] < t) i++;
      let aa = pts[i][1];
      if (sgn > 0) aa = (2 * ang[0] - aa + 720) % 360;
      ang[k] = aa;
    }
  }
  return ring.map(([s, h], r) =>
    rect.map((p, k) => {
      const a = ang[k];
      const R = out(a);
      const back = 0.5 - 0.5 * Math.cos(rad(a - 270)); // 1 at back(90), 0 at front(270)
      const lobe = Math.exp(-(((a - 183) / 26) ** 2));
      let sc = s,
        hh = h * (0.12 + 0.88 * Math.pow(back, 0.7));
      if (r >= 4 && r <= 7) hh = hh * (1 - lobe * 0.25) + lobe * h * 0.12;
      const tr = Math.exp(-(((a - 258) / 20) ** 2));
      if (r === 7 || r === 8) {
        hh += 3.2 * tr;
        sc += 0.12 * tr;
      }
      const B = Math.sin(rad(a)) * R * sc,
        U = Math.cos(rad(a)) * R * sc;
      const y = O[1] + B * b[1] + U * u[1],
        z = O[2] + B * b[2] + U * u[2];
      // head surface x at (y,z)
      const q = march([0, y, z], [1, 0, 0], 110);
      const x = q[0];
      const flare = h > 0 ? Math.max(0, B) * 0.11 * Math.min(1, h / 8) : 0;
      return [Math.max(x + 0.0, 68 - 0 * B) * 0 + x + hh * 0.8 + flare - (r >= 9 ? 1 : 0) * 0, y, z];
    }),
  );
}

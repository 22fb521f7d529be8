import * as F from "./headForm.js";
import { mc, LID, lidMargin } from "./headTopology.js";
const { C, EYE, project, march, normal, zfront } = F;
const rad = (d) => (d * Math.PI) / 180;
export const lin = (r, g, b) =>
  [r, g, b].map((v) => {
    v /= 255;
    return v <= 0.04045 ? v / 12.92 : Math.pow((v + 0.055) / 1.055, 2.4);
  });
const mix = (a, b, t) => a.map((v, k) => v + (b[k] - v) * t);
const ss = (a, b, x) => {
  x = Math.min(1, Math.max(0, (x - a) / (b - a)));
  return x * x * (3 - 2 * x);
};
export const SK = lin(222, 172, 146),
  LIP = lin(192, 102, 96),
  PINK = lin(205, 125, 110),
  DARK = lin(70, 28, 26),
  CHK = lin(221, 150, 128);
export function skinColours(M) {
  return M.X.map((p, v) => {
    const t = M.tag[v];
    const x = Math.abs(p[0]),
      y = p[1],
      z = p[2];
    let c = SK;
    c = mix(c, CHK, 0.55 * Math.exp(-(((x - 42) / 16) ** 2 + ((y + 26) / 14) ** 2)) * (z > 30 ? 1 : 0));
    c = mix(c, PINK, 0.35 * Math.exp(-((x / 12) ** 2 + ((y + 38) / 9) ** 2)) * (z > 90 ? 1 : 0));
    if (t.nos) c = mix(c, t.r >= 5 ? DARK : t.r === 4 ? lin(90, 40, 36) : t.r === 3 ? lin(160, 100, 84) : c, t.r >= 4 ? 1 : 0.8);
    if (t.eye) {
      c = mix(c, lin(190, 135, 115), 0.25 * ss(1, 5, t.r || 0));
      if (t.inner) c = lin(205, 130, 120);
      else if (t.r >= 8) c = mix(c, lin(150, 85, 75), 0.6);
    }
    if (t.mouth) {
      if (t.kind === "border") c = mix(c, LIP, 0.6);
      else if (t.kind === "lip") c = LIP;
      else if (t.kind === "seam") c = mix(LIP, DARK, 0.55);
      else if (t.kind === "inlip") c = lin(150, 60, 58);
      else if (t.kind === "bag") c = lin(128, 52, 50);
    }
    if (z > 55 && y > 8 && y < 28) {
      let best = 9;
      for (let s = 0; s <= 1; s += 0.04) {
        const d = Math.hypot(x - browC.x(s), y - browC.y(s)) / (browC.w(s) + 0.6);
        if (d < best) best = d;
      }
      c = mix(c, lin(120, 86, 68), 0.55 * (1 - ss(0.5, 1.5, best)));
    }
    if (t.ear) c = mix(c, PINK, 0.3 + (t.r >= 9 ? 0.3 : 0));
    return c;
  });
}
export function eyeball(side, R = F.RE) {
  const c = [EYE[0] * side, EYE[1], EYE[2]];
  const nu = 32;
  const th = [0.6, 4, 8.6, 8.7, 14, 20, 26, 28.3, 30, 36, 46, 60, 76, 95, 120, 150, 179];
  const ir = lin(92, 110, 84),
    ir2 = lin(58, 74, 66),
    W = lin(232, 226, 220),
    P = lin(12, 11, 12),
    LB = lin(36, 40, 38);
  const X = [],
    Q = [],
    col = [];
  for (const t of th)
    for (let i = 0; i < nu; i++) {
      const a = (2 * Math.PI * i) / nu;
      let r = R;
      const k = Math.max(0, 1 - (t / 33) ** 2);
      r += 0.55 * k;
      const s = Math.sin(rad(t));
      const x0 = r * s * Math.cos(a),
        z0 = r * Math.cos(rad(t)),
        cv = -rad(1.8) * side;
      X.push([c[0] + x0 * Math.cos(cv) + z0 * Math.sin(cv), c[1] + r * s * Math.sin(a), c[2] - x0 * Math.sin(cv) + z0 * Math.cos(cv)]);
      let q;
      if (t < 8.65) q = P;
      else if (t < 27) {
        q = mix(mix(lin(120, 112, 70), ir, ss(9, 18, t)), ir2, 0.5 + 0.5 * Math.sin(i * 2.7) * Math.cos(i * 1.3));
        q = mix(q, ir, 0.5);
        if (t < 9) q = mix(q, P, 0.1);
      } else if (t < 29) q = LB;
      else q = mix(W, lin(215, 160, 150), ss(40, 85, t) * 0.5);
      if (t >= 14 && t < 29 && Math.sin(a) > 0.3) q = mix(q, P, 0.35 * Math.sin(a)); // lash shade
      col.push(q);
    }
  for (let j = 0; j + 1 < th.length; j++)
    for (let i = 0; i < nu; i++) Q.push([j * nu + i, (j + 1) * nu + i, (j + 1) * nu + ((i + 1) % nu), j * nu + ((i + 1) % nu)]);
  for (const [o, f] of [
    [0, 0],
    [(th.length - 1) * nu, 1],
  ])
    for (let k = 0; k < nu / 2 - 1; k++) {
      const q = [o + k, o + k + 1, o + nu - 2 - k, o + nu - 1 - k];
      Q.push(f ? q.reverse() : q);
    } // close both poles with a strip of quads
  return { X, Q, col, rough: 0.18 };
}
export function caruncle(side) {
  const X = [],
    Q = [],
    col = [];
  const nu = 10,
    nv = 5,
    c = [(EYE[0] - 12.6) * side, EYE[1] - 1.6, EYE[2] + 4.9];
  for (let j = 0; j <= nv; j++)
    for (let i = 0; i < nu; i++) {
      const t = 0.12 + ((Math.PI - 0.24) * j) / nv,
        a = (2 * Math.PI * i) / nu;
      X.push([c[0] + 1.9 * Math.sin(t) * Math.cos(a), c[1] + 1.5 * Math.sin(t) * Math.sin(a), c[2] + 2.0 * Math.cos(t)]);
      col.push(lin(214, 150, 138));
    }
  for (let j = 0; j < nv; j++)
    for (let i = 0; i < nu; i++) Q.push([j * nu + i, (j + 1) * nu + i, (j + 1) * nu + ((i + 1) % nu), j * nu + ((i + 1) % nu)]);
  closeRing(Q, 0, nu, false);
  closeRing(Q, nv * nu, nu, true);
  return { X, Q, col, rough: 0.25 };
}
const closeRing = (Q, o, n, flip) => {
  for (let k = 0; k < n / 2 - 1; k++) {
    const q = [o + k, o + k + 1, o + n - 2 - k, o + n - 1 - k];
    Q.push(flip ? q.reverse() : q);
  }
}; // strip of quads over a ring of n vertices
// eyebrows: lens-shaped strips on the skin
const rnd = (n) => {
  const v = Math.sin(n * 127.1 + 311.7) * 43758.5453;
  return v - Math.floor(v);
};
export const browC = {
  x: mc([0, 0.35, 0.68, 1], [11.5, 25, 38.5, 50]),
  y: mc([0, 0.35, 0.68, 1], [16.2, 20.0, 21.9, 15.2]),
  w: mc([0, 0.1, 0.35, 0.7, 1], [1.5, 2.4, 2.5, 1.6, 0.4]),
};
export function brow(side) {
  const X = [],
    Q = [],
    col = [];
  const { x: cx, y: cy, w: wd } = browC;
  const N = 150;
  for (let i = 0; i < N; i++) {
    const s = Math.pow(i / N, 0.95) * 0.97,
      v = rnd(i) * 2 - 1;
    const w = wd(s);
    const tx = (cx(s + 0.02) - cx(s)) / 0.02,
      ty = (cy(s + 0.02) - cy(s)) / 0.02,
      tl = Math.hypot(tx, ty);
    const dir = Math.atan2(ty, tx) + (1.15 * Math.pow(1 - s, 2) * (0.4 + (0.6 * (1 - v)) / 2) - 0.12 * v - 0.1 * (v > 0 ? 1 : 0) * s);
    const len = (4.6 + 2.2 * rnd(i + 50)) * (1 - 0.35 * s);
    const x0 = cx(s) - (ty / tl) * v * w,
      y0 = cy(s) + (tx / tl) * v * w * 0.9;
    const hw = 0.27 + 0.13 * rnd(i + 9);
    const c = mix(lin(74, 52, 40), lin(112, 82, 62), rnd(i + 77));
    const o = X.length;
    for (let q = 0; q <= 2; q++) {
      const u = q / 2;
      const bend = -0.25 * u * (1 - s);
      const a = dir + bend;
      const px = x0 + Math.cos(a) * len * u,
        py = y0 + Math.sin(a) * len * u;
      const h = 0.12 + 0.35 * Math.sin(Math.PI * (0.25 + 0.55 * u));
      const ww = hw * (1 - u * 0.85);
      for (const k of [-1, 1]) {
        const xx = px - Math.sin(a) * ww * k,
          yy = py + Math.cos(a) * ww * k;
        let P = project([xx, yy, zfront(xx, yy)], 2);
        const n = normal(P);
        P = P.map((z, t) => z + n[t] * h);
        P[0] *= side;
        X.push(P);
        col.push(c);
      }
    }
    for (let q = 0; q < 2; q++) {
      const A = o + q * 2;
      Q.push(side > 0 ? [A, A + 2, A + 3, A + 1] : [A, A + 1, A + 3, A + 2]);
    }
  }
  return { X, Q, col, rough: 0.85 };
}
// hair cap
const hl = mc(
  [0, 14, 28, 42, 52, 60, 68, 75, 79, 84, 90, 100, 108, 118, 135, 155, 180],
  [44, 43.5, 41.5, 38, 32.5, 25, 14, 3, 4.5, 10.5, 15.5, 17.5, 12, -9, -27, -34, -37],
);
const capEdge = mc([0, 40, 80, 110, 140, 180], [29, 27, 19, 15, 3, -4]); // lower edge of the cap, elevation by azimuth, about CAPC
const CAPC = [0, 8, -4];
export function hair(na = 96, ns = 20, underCap = false) {
  const X = [],
    Q = [],
    col = [];
  const dir = (az, el) => [Math.sin(rad(az)) * Math.cos(rad(el)), Math.sin(rad(el)), Math.cos(rad(az)) * Math.cos(rad(el))];
  const B = dir(180, -4);
  for (let j = 0; j <= ns; j++)
    for (let i = 0; i < na; i++) {
      const az = (i / na) * 360;
      const a = az > 180 ? 360 - az : az;
      const e0 = hl(a) - 1 + (rnd(i) - 0.5) * 0.8;
      const s = Math.pow(j / ns, 1.15) * 0.985;
      const A = dir(az, e0);
      const om = Math.acos(Math.max(-1, Math.min(1, A[0] * B[0] + A[1] * B[1] + A[2] * B[2])));
      const so = Math.sin(om);
      let d = A.map((v, k) => (Math.sin((1 - s) * om) * v + Math.sin(s * om) * B[k]) / so);
      const dl = Math.hypot(...d);
      d = d.map((v) => v / dl);
      {
        const da = Math.atan2(d[0], d[2]),
          el = (Math.asin(d[1]) * 180) / Math.PI,
          aa = (Math.abs(da) * 180) / Math.PI,
          lo = a < 112 && aa > 100 ? 17.5 - 21.5 * ss(100, 182, aa) + (112 - a) * 0.06 * (1 - s) : hl(aa) + 4.8 * s;
        const e2 = F.smax(el, lo, 5);
        d = dir((da * 180) / Math.PI, e2);
      } // strands stay above the hairline, so they pass over the ear
      const p = march(C, d);
      const dd = (s * om * 180) / Math.PI;
      let th = -0.9 + 3.2 * ss(0, 5, dd) + 8.5 * ss(2, 38, dd);
      th += 3 * ss(40, 90, dd) * Math.max(0, d[1]);
      const ph = (i * 2 * Math.PI) / na;
      const g = Math.sin(ph * 13 + s * 1.5) * 0.5 + Math.sin(ph * 23 + 1.1) * 0.32;
      th += g * 0.8 * ss(0, 10, dd) * (1 - 0.5 * s);
      if (underCap) {
        const q = p.map((v, k) => v - CAPC[k]),
          az = (Math.abs(Math.atan2(q[0], q[2])) * 180) / Math.PI,
          e = (Math.atan2(q[1], Math.hypot(q[0], q[2])) * 180) / Math.PI;
        const w = ss(-6, 3, e - capEdge(az));
        th = th * (1 - w) + Math.min(th, 2.2) * w;
      }
      X.push(p.map((v, k) => v + d[k] * th));
      col.push(mix(lin(60, 40, 30), lin(98, 69, 50), Math.min(1, Math.max(0, 0.45 + 0.5 * g + 0.12 * Math.sin(ph * 7)))));
    }
  for (let j = 0; j < ns; j++)
    for (let i = 0; i < na; i++) Q.push([j * na + i, j * na + ((i + 1) % na), (j + 1) * na + ((i + 1) % na), (j + 1) * na + i]);
  // bun
  const o = X.length,
    bn = [0, -12, -112],
    nu = 24,
    nv = 12;
  for (let j = 0; j <= nv; j++)
    for (let i = 0; i < nu; i++) {
      const t = 0.09 + ((Math.PI - 0.18) * j) / nv,
        a = (2 * Math.PI * i) / nu;
      const ph = a * 5 + t * 6;
      const g = Math.sin(ph) * 0.5 + Math.sin(ph * 2.1) * 0.3;
      const r = 25 + g * 0.7;
      X.push([bn[0] + r * 1.12 * Math.sin(t) * Math.cos(a), bn[1] + r * Math.sin(t) * Math.sin(a), bn[2] - r * 0.85 * Math.cos(t)]);
      col.push(mix(lin(58, 38, 28), lin(92, 64, 46), 0.5 + 0.4 * g));
    }
  for (let j = 0; j < nv; j++)
    for (let i = 0; i < nu; i++)
      Q.push([o + j * nu + i, o + j * nu + ((i + 1) % nu), o + (j + 1) * nu + ((i + 1) % nu), o + (j + 1) * nu + i]);
  closeRing(Q, o, nu, true);
  closeRing(Q, o + nv * nu, nu, false);
  return { X, Q, col, rough: 0.68 };
}
// lashes bound to margin ring vertices
export function lashes(M, X, side) {
  const { info, mir } = M;
  const N = info.eyeN;
  const R = info.eyeRings[info.NR],
    K = [];
  info.eyeMargin.forEach((m, k) => {
    if (m.up && m.s > 0.06 && m.s <= 1) K.push(k);
  });
  K.sort((a, b) => info.eyeMargin[a].s - info.eyeMargin[b].s);
  const Y = [],
    Q = [],
    col = [];
  const c = [EYE[0] * side, EYE[1], EYE[2]];
  const NL = 26;
  for (let i = 0; i < NL; i++) {
    const f = 0.6 + ((K.length - 1.8) * i) / (NL - 1);
    const k0 = Math.min(K.length - 2, Math.floor(f)),
      fr = f - k0;
    const at = (q) => {
      let v = R[K[q]];
      return X[side < 0 ? mir[v] : v];
    };
    const A = at(k0),
      Bq = at(k0 + 1);
    const p = A.map((v, t) => v + (Bq[t] - v) * fr);
    const s = info.eyeMargin[K[k0]].s * (1 - fr) + info.eyeMargin[K[k0 + 1]].s * fr;
    const tg = Bq.map((v, t) => v - A[t]);
    const tl = Math.hypot(...tg);
    const d = [p[0] - c[0], p[1] - c[1], p[2] - c[2]];
    const l = Math.hypot(...d);
    const n = d.map((q) => q / l);
    const len = (2.4 + 2.9 * s) * (0.85 + 0.3 * rnd(i)) * (s > 0.93 ? 0.8 : 1);
    const lat = side * (0.55 * (s - 0.4));
    const o = Y.length;
    for (let q = 0; q <= 2; q++) {
      const u = q / 2;
      const w = 0.26 * (1 - u * 0.85);
      const P = [0, 1, 2].map(
        (t) =>
          p[t] -
          n[t] * 0.15 +
          (n[t] * 0.85 + (t === 0 ? lat : 0) + (t === 1 ? -0.25 : 0)) * len * u +
          (t === 1 ? 1 : 0) * len * 0.62 * u * u,
      );
      for (const k of [-1, 1]) Y.push(P.map((v, t) => v + (tg[t] / tl) * w * k));
      col.push(lin(24, 18, 16), lin(24, 18, 16));
    }
    for (let q = 0; q < 2; q++) {
      const a = o + q * 2;
      Q.push([a, a + 2, a + 3, a + 1]);
    }
  }
  return { X: Y, Q, col, rough: 0.9 };
}
// teeth: arch of individual crowns
const archX = (t) => t;
export function teeth(upper) {
  const X = [],
    Q = [],
    col = [];
  const W = [8.4, 6.6, 7.6, 7, 7, 9.5, 9.5].map((w) => (upper ? w : w * 0.86));
  const z0 = upper ? 85.2 : 82.2;
  const zA = (x) => z0 - 0.03 * x * x - 0.0000165 * x ** 4;
  const base = upper ? -58.5 : -80;
  const tip = upper ? -70.2 : -69.2;
  let s = 0;
  const tI = upper ? lin(246, 241, 228) : lin(242, 236, 220);
  const gum = lin(176, 92, 88);
  for (const side of [1, -1]) {
    let x = 0;
    W.forEach((w, i) => {
      // walk arc length
      let xa = x,
        xb = x;
      let L = 0;
      while (L < w) {
        const dz = zA(xb + 0.1) - zA(xb);
        L += Math.hypot(0.1, dz);
        xb += 0.1;
      }
      x = xb;
      const nu = 4,
        nv = 5,
        o = X.length;
      const th = i < 3 ? 2.6 : i < 5 ? 5.5 : 8;
      const tp = tip + (upper ? (i === 1 ? 0.45 : i === 2 ? -0.1 : i > 4 ? 0.8 : 0) : i === 1 ? -0.2 : i > 4 ? -0.8 : -0.3);
      for (let v = 0; v <= nv; v++)
        for (let u = 0; u <= nu; u++) {
          const a = (u / nu) * 2 - 1,
            b = v / nv;
          const xx = xa + (xb - xa) * (u / nu);
          const zz = zA(xx);
          const sl = -0.06 * xx - 4 * 0.0000165 * xx ** 3;
          const nl = Math.hypot(1, sl);
          const nx = -sl / nl,
            nz = 1 / nl;
          const e = Math.sqrt(Math.max(0, 1 - Math.pow(Math.abs(a), 4))) * (1 - Math.pow(b, 6) * 0.55);
          const d = -0.9 + 1.2 * e - (b > 0.99 ? 0.8 : 0);
          const nar = 0.985 - 0.1 * (1 - b);
          const xc = (xa + xb) / 2;
          const xn = xc + (xx - xc) * nar;
          X.push([side * (xn + nx * d), base + (tp - base) * b, zz + nz * d + (upper ? 1 : 0.6) * (1 - b) * -1.2]);
          col.push(mix(gum, tI, b > 0.28 ? 1 : 0));
        }
      const back = X.length;
      for (let v = 0; v <= nv; v++)
        for (let u = 0; u <= nu; u++) {
          const p = X[o + v * (nu + 1) + u];
          const xx = xa + (xb - xa) * (u / nu);
          const sl = -0.06 * xx - 4 * 0.0000165 * xx ** 3;
          const nl = Math.hypot(1, sl);
          X.push([p[0] - side * (-sl / nl) * th, p[1], p[2] - th / nl]);
          col.push(v > 1 ? tI : gum);
        }
      const q = (a, b, c, d) => Q.push(side > 0 === upper ? [a, b, c, d] : [d, c, b, a]);
      for (let v = 0; v < nv; v++)
        for (let u = 0; u < nu; u++) {
          const a = o + v * (nu + 1) + u;
          q(a, a + nu + 1, a + nu + 2, a + 1);
          const b = back + v * (nu + 1) + u;
          q(b + 1, b + nu + 2, b + nu + 1, b);
        }
      for (let u = 0; u < nu; u++) {
        const a = o + nv * (nu + 1) + u,
          b = back + nv * (nu + 1) + u;
        q(a, b, b + 1, a + 1);
      }
    });
  }
  return { X, Q, col, rough: 0.25 };
}
// tongue: tube along a middle line; flat top with a shallow groove, rounded tip
const cr = (P, s) => {
  const n = P.length - 1,
    f = Math.min(n - 1e-6, Math.max(0, s * n)),
    i = Math.floor(f),
    t = f - i,
    g = (k) => P[Math.min(n, Math.max(0, k))];
  const a = g(i - 1),
    b = g(i),
    c = g(i + 1),
    d = g(i + 2);
  const h = (a, b, c, d) => 0.5 * (2 * b + (c - a) * t + (2 * a - 5 * b + 4 * c - d) * t * t + (3 * b - a - 3 * c + d) * t * t * t);
  return Array.isArray(b) ? b.map((_, k) => h(a[k], b[k], c[k], d[k])) : h(a, b, c, d);
};
export function tongue(pose) {
  const X = [],
    Q = [],
    col = [],
    front = [];
  const nu = 16,
    nv = 16;
  for (let j = 0; j <= nv; j++) {
    const q = j / nv,
      s = 1 - Math.pow(1 - q, 1.35),
      P = cr(pose.line, s),
      P2 = cr(pose.line, Math.min(1, s + 0.02)),
      P1 = cr(pose.line, Math.max(0, s - 0.02));
    const dz = P2[0] - P1[0],
      dy = P2[1] - P1[1],
      l = Math.hypot(dz, dy) || 1,
      uz = -dy / l,
      uy = dz / l;
    const cap = s > 0.84 ? Math.sqrt(Math.max(0, 1 - ((s - 0.84) / 0.16) ** 2)) : 1,
      w = cr(pose.w, s) * (0.04 + 0.96 * cap),
      h = cr(pose.h, s) * (0.06 + 0.94 * Math.pow(cap, 0.8));
    for (let i = 0; i < nu; i++) {
      const a = (2 * Math.PI * i) / nu,
        ca = Math.cos(a),
        sa = Math.sin(a);
      const x = Math.sign(ca) * Math.abs(ca) ** 0.85 * w;
      let n = Math.sign(sa) * Math.abs(sa) ** 0.8 * h;
      if (sa > 0)
        n -= (0.9 * Math.exp(-((x / 3) ** 2)) - 0.25 * Math.cos(Math.PI * Math.min(1, Math.abs(x) / w))) * cap * Math.min(1, h / 4);
      X.push([x, P[1] + uy * n, P[0] + uz * n]);
      front.push(q > 0.35 && sa > -0.3 ? 1 : 0);
      col.push(mix(lin(224, 128, 122), lin(206, 104, 102), 0.5 + 0.5 * Math.cos(x * 0.28) * (sa > 0 ? 1 : 0.2)));
    }
  }
  for (let j = 0; j < nv; j++)
    for (let i = 0; i < nu; i++) Q.push([j * nu + i, j * nu + ((i + 1) % nu), (j + 1) * nu + ((i + 1) % nu), (j + 1) * nu + i]);
  return { X, Q, col, front, rough: 0.38, glow: 0.12 };
}
// tear line: a thin wet strip between the lower lid edge and the eyeball, rebuilt from the lid
export function tear(M, X, side) {
  const { info, mir } = M,
    K = [];
  info.eyeMargin.forEach((m, k) => {
    if (!m.up && m.s > 0.04 && m.s < 0.97) K.push(k);
  });
  K.sort((a, b) => info.eyeMargin[a].s - info.eyeMargin[b].s);
  const c = [EYE[0] * side, EYE[1], EYE[2]],
    Y = [],
    Q = [],
    col = [];
  for (const k of K) {
    const at = (r) => {
      const v = info.eyeRings[r][k];
      return X[side < 0 ? mir[v] : v];
    };
    const A = at(info.NR),
      B = at(info.NR + 1);
    const p = A.map((v, j) => v + (B[j] - v) * 0.75),
      d = B.map((v, j) => v - c[j]);
    d[1] += 0.9;
    const l = Math.hypot(...d);
    Y.push(
      p,
      B.map((v, j) => v * 0.5 + 0.5 * (c[j] + (d[j] / l) * (F.RE + 0.5))),
      d.map((v, j) => c[j] + (v / l) * (F.RE + 0.12)),
    );
    for (let q = 0; q < 3; q++) col.push(lin(236, 200, 192));
  }
  for (let i = 0; i + 1 < K.length; i++)
    for (let q = 0; q < 2; q++) {
      const a = i * 3 + q;
      Q.push(side > 0 ? [a, a + 3, a + 4, a + 1] : [a, a + 1, a + 4, a + 3]);
    }
  return { X: Y, Q, col, rough: 0.08 };
}

// knitted cap: skull offset over the hair, turned-up cuff, ribs. Profile list: [rise above the edge in degrees, offset in mm]
export function cap(na = 72) {
  const X = [],
    Q = [],
    col = [];
  const edge = capEdge;
  const prof = [
    [9, 4.5],
    [4, 5],
    [0, 6],
    [-1.2, 8.2],
    [-0.6, 10.6],
    [3, 12],
    [9, 12.8],
    [15, 13],
    [19, 12.4],
    [20.2, 10.8],
    [19.4, 9],
  ]; // lining, fold, cuff up, back down to the crown
  const C0 = CAPC;
  const rings = [];
  const put = (az, el, th, i, k, j) => {
    const d = [Math.sin(rad(az)) * Math.cos(rad(el)), Math.sin(rad(el)), Math.cos(rad(az)) * Math.cos(rad(el))];
    const p = march(C0, d);
    const rib = (i % 2 ? 1 : -1) * 0.55 * k;
    X.push(p.map((v, q) => v + d[q] * (th + rib)));
    col.push(mix(lin(30, 40, 58), lin(58, 72, 96), 0.45 + ((0.4 * rib) / 0.55) * 0.5 + 0.1 * rnd(i * 31 + j)));
  };
  let j = 0;
  for (const [r, th] of prof) {
    for (let i = 0; i < na; i++) {
      const az = (i * 360) / na,
        a = az > 180 ? 360 - az : az;
      put(az, edge(a) + r, th, i, j < 8 ? 1 : 0.25, j);
    }
    j++;
  }
  const NT = 9;
  for (let t = 1; t <= NT; t++) {
    const u = t / NT;
    for (let i = 0; i < na; i++) {
      const az = (i * 360) / na,
        a = az > 180 ? 360 - az : az;
      const e0 = edge(a) + 19.4;
      put(az, e0 + (89.2 - e0) * u, 9 + 3 * Math.sin(Math.PI * u) + 7 * u * u * (3 - 2 * u), i, t === 1 ? 0.4 : u < 0.8 ? 0.9 : 0.4, j);
    }
    j++;
  }
  for (let q = 0; q + 1 < j; q++)
    for (let i = 0; i < na; i++) Q.push([q * na + i, q * na + ((i + 1) % na), (q + 1) * na + ((i + 1) % na), (q + 1) * na + i]);
  const o = (j - 1) * na;
  for (let k = 0; k < na / 2 - 1; k++) Q.push([o + k, o + na - 1 - k, o + na - 2 - k, o + k + 1].reverse());
  return { X, Q, col, rough: 0.95 };
}

// Joins the head (56 columns round ring J0) to the body (36 columns round its top ring).
// Half-column numbering: 0 = front midline ... 28 (head) or 18 (body) = back midline.
//   ring J0      : bottom row of the head grid, just under the jaw, 29 half vertices
//   chin patch   : a 12 x 10 grid under the jaw. Front edge = head columns 0..6 (both sides), side edges = columns 6..16,
//                  back edge = 12 edges = front of neck ring 0. Turns 56 columns into 36 with four poles:
//                  valence 3 at head column +-6 and valence 5 at head column +-16, all under the jaw.
//   neck strip   : NK rows of 36 quads from neck ring 0 down to the body's top ring (torso row 27).
import * as s from "./body/bodyForm.js";
import { half as B, mirror } from "./body/bodyTopology.js";
import { build as buildHead } from "./head/headTopology.js";
import * as F from "./head/headForm.js";
const { lerp, mad, dot, sub, add, mul, cross, norm, mix, sst } = s;
export const PM = 10,
  PB = 6,
  NK = 8; // patch rows, patch half width, neck rows
export const M = buildHead(); // head in millimetres, full (both sides)
const P = [],
  Q = [],
  tag = [],
  mir = []; // the joined mesh, metres
const put = (p, t) => {
  P.push(p);
  tag.push(t);
  mir.push(-1);
  return P.length - 1;
};
// ---- 1. head
const nHead = M.X.length;
M.X.forEach((p, v) => put(F.toW(p), { reg: "head", h: M.tag[v], side: M.tag[v].side }));
for (const q of M.Q) Q.push(q.slice());
for (let v = 0; v < M.n0; v++) {
  mir[v] = M.mir[v];
  mir[M.mir[v]] = v;
}
{
  const key = (p) => p.map((v) => Math.round(v * 1e4)).join();
  const at = new Map();
  for (let v = 0; v < nHead; v++) if (mir[v] < 0) at.set(key(P[v]), v); // crown cap: mirror by position
  for (let v = 0; v < nHead; v++)
    if (mir[v] < 0) {
      const o = at.get(key([-P[v][0], P[v][1], P[v][2]]));
      if (o === undefined) {
        let best = 1,
          bi = -1;
        for (const w of at.values()) {
          const d = Math.hypot(P[w][0] + P[v][0], P[w][1] - P[v][1], P[w][2] - P[v][2]);
          if (d < best) {
            best = d;
            bi = w;
          }
        }
        mir[v] = bi;
      } else mir[v] = o;
    }
}
// ---- 2. close the eye sockets behind the eyeballs (26-gon -> strip of 12 quads each)
{
  const R = M.info.eyeRings.at(-1),
    n = R.length;
  for (let k = 0; k < n / 2 - 1; k++) {
    const q = [R[k], R[n - 1 - k], R[n - 2 - k], R[k + 1]];
    Q.push(q, [mir[q[3]], mir[q[2]], mir[q[1]], mir[q[0]]]);
  }
}
const ringJ = M.info.bottom; // 29 vertices, x >= 0
// ---- 3. chin patch (half): G[a][b], a 0..PM front to back, b 0..PB from midline to side
const Fall = (p) => {
  const h = F.toH(p);
  return s.smin(s.fBody(p), p[1] > 1.4 ? F.fSkull(h) * F.K : 1, F.kNape(h[2]) * F.K);
};
export { Fall };
const throat = [0, 1.4575, 0.0465]; // midline point of the back edge
const G = [];
for (let a = 0; a <= PM; a++) {
  G[a] = [];
  for (let b = 0; b <= PB; b++) G[a][b] = a === 0 ? ringJ[b] : b === PB ? ringJ[PB + a] : -1;
}
{
  const L = P[ringJ[PB + PM]],
    edge = (a) => P[ringJ[PB + a]];
  const mid = (a) => lerp(P[ringJ[0]], throat, a / PM),
    back = (b) => {
      const u = b / PB;
      return [L[0] * Math.sin((u * Math.PI) / 2), mix(throat[1], L[1], u * u), mix(throat[2], L[2], 0.5 - 0.5 * Math.cos(u * Math.PI))];
    };
  for (let a = 1; a <= PM; a++)
    for (let b = 0; b < PB; b++) {
      const u = a / PM,
        v = b / PB;
      const p = [0, 1, 2].map(
        (k) =>
          (1 - u) * P[G[0][b]][k] +
          u * back(b)[k] +
          (1 - v) * mid(a)[k] +
          v * edge(a)[k] -
          ((1 - u) * (1 - v) * P[G[0][0]][k] + (1 - u) * v * P[G[0][PB]][k] + u * (1 - v) * throat[k] + u * v * L[k]),
      );
      if (b === 0) p[0] = 0;
      G[a][b] = put(p, { reg: "chin", a, b, side: b ? 1 : 0 });
    }
}
const ring0 = [];
for (let c = 0; c <= 18; c++) ring0[c] = c < PB ? G[PM][c] : ringJ[c + PM];
// ---- 4. body
const off = P.length;
const mb = mirror(B.P, B.Q, B.isMid);
mb.P.forEach((p, i) => put(p, null));
B.T.forEach((t, i) => {
  const k = mb.map[i];
  tag[off + i] = { ...t, side: k === i ? 0 : 1 };
  if (k !== i) tag[off + k] = { ...t, side: -1 };
  mir[off + i] = off + k;
  mir[off + k] = off + i;
});
for (const q of mb.Q) Q.push(q.map((v) => v + off));
export const bodyOff = off,
  bodyMap = mb.map;
const top = B.tid.at(-1).map((v) => v + off);
// ---- 5. neck strip (half)
const rings = [ring0];
for (let r = 1; r < NK; r++) {
  rings[r] = [];
  for (let c = 0; c <= 18; c++) {
    const p = lerp(P[ring0[c]], P[top[c]], r / NK);
    rings[r][c] = put(p, { reg: "neck", r, c, side: c === 0 || c === 18 ? 0 : 1 });
  }
}
rings[NK] = top;
const grid = (R, q) => {
  for (let a = 0; a + 1 < R.length; a++)
    for (let b = 0; b + 1 < R[a].length; b++) q.push([R[a][b], R[a + 1][b], R[a + 1][b + 1], R[a][b + 1]]);
};
const newQ = [];
grid(G, newQ);
grid(rings, newQ);
// mirror the new vertices and quads
for (const v of new Set([...G.flat(), ...rings.flat()]))
  if (mir[v] < 0) {
    if (tag[v].side === 0) {
      mir[v] = v;
      P[v][0] = 0;
    } else {
      const w = put([-P[v][0], P[v][1], P[v][2]], { ...tag[v], side: -1 });
      mir[v] = w;
      mir[w] = v;
    }
  }
for (const q of newQ) Q.push(q, [mir[q[3]], mir[q[2]], mir[q[1]], mir[q[0]]]);
export { P, Q, tag, mir, G as chinGrid, rings as neckRings, ringJ, nHead };
// ---- 6. consistent orientation, outward
export const edgeKey = (a, b) => (a < b ? a * 65536 + b : b * 65536 + a);
export function edgeFaces(Q) {
  const m = new Map();
  Q.forEach((q, f) => {
    for (let k = 0; k < 4; k++) {
      const e = edgeKey(q[k], q[(k + 1) % 4]);
      (m.get(e) || m.set(e, []).get(e)).push(f);
    }
  });
  return m;
}
{
  const em = edgeFaces(Q),
    seen = new Uint8Array(Q.length),
    st = [0];
  seen[0] = 1;
  while (st.length) {
    const q = Q[st.pop()];
    for (let k = 0; k < 4; k++) {
      const a = q[k],
        b = q[(k + 1) % 4];
      for (const g of em.get(edgeKey(a, b)))
        if (!seen[g]) {
          seen[g] = 1;
          const r = Q[g];
          for (let m = 0; m < 4; m++)
            if (r[m] === a && r[(m + 1) % 4] === b) {
              r.reverse();
              break;
            }
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
export const nb = P.map(() => new Set());
for (const q of Q)
  for (let k = 0; k < 4; k++) {
    nb[q[k]].add(q[(k + 1) % 4]);
    nb[q[(k + 1) % 4]].add(q[k]);
  }
// ---- 7. relax the neck zone on the common form, symmetric
const wRel = P.map((_, v) => {
  const t = tag[v];
  if (t.side < 0) return 0;
  if (t.reg === "chin") return 0.5;
  if (t.reg === "neck") return 0.5;
  if (t.reg === "torso") return t.crotch || t.r < 22 ? 0 : t.pin > 0 ? 0.05 : [0.12, 0.25, 0.4, 0.45, 0.5, 0.5][t.r - 22];
  if (t.reg === "head" && t.h.g && !t.h.ear) {
    if (t.h.j === 31) return t.h.i >= 16 ? 0.5 : t.h.i > 4 ? 0.3 : 0.12;
    if (t.h.i >= 16 && t.h.j >= 25) return 0.07 * (t.h.j - 24);
    if (t.h.j >= 29) return 0.15;
  }
  return 0;
});
const loopNb = new Map();
{
  const all = [...B.tid.slice(24).map((r) => r.map((v) => v + off)), ...rings.slice(1, NK)];
  for (const R of all)
    R.forEach((v, c) => {
      if (c > 0 && c < 18) loopNb.set(v, [R[c - 1], R[c + 1]]);
    });
} // neighbours along the ring: keeps rings round and even
export function relax(iter) {
  const zone = [];
  for (let v = 0; v < P.length; v++) if (wRel[v]) zone.push(v);
  for (let it = 0; it < iter; it++) {
    const N = [];
    for (const v of zone) {
      let a = [0, 0, 0],
        n = 0;
      for (const o of nb[v]) {
        a = add(a, P[o]);
        n++;
      }
      a = mul(a, 1 / n);
      if (loopNb.has(v)) {
        const [l, r] = loopNb.get(v);
        a = lerp(a, mul(add(P[l], P[r]), 0.5), 0.35);
      }
      if (mir[v] === v) a[0] = 0;
      let d = sub(a, P[v]);
      const g = s.grad(Fall, P[v]);
      d = mad(d, g, -dot(d, g));
      let p = s.project(Fall, mad(P[v], d, wRel[v]), 0.006, it < 5 ? 5 : 2);
      if (mir[v] === v) p[0] = 0;
      N.push(p);
    }
    zone.forEach((v, k) => {
      P[v] = N[k];
      if (mir[v] !== v) P[mir[v]] = [-N[k][0], N[k][1], N[k][2]];
    });
  }
}
relax(60);
// ---- 8. tidy places where the head study's base level had folded quads
const setH = (v, h) => {
  P[v] = F.toW(h);
  if (mir[v] === v) P[v][0] = 0;
  else P[mir[v]] = [-P[v][0], P[v][1], P[v][2]];
};
{
  const R = M.info.mouthRings,
    n = R[0].length,
    ts = [0, 0.3, 0.56, 0.79]; // (a) skin rings at the mouth corner: straight spokes
  for (let r = 1; r <= 3; r++)
    for (let k = 0; k < n; k++) {
      const t = tag[R[r][k]].h;
      if (t.t > 0.8) {
        const p = F.project(F.toH(lerp(P[R[0][k]], P[R[4][k]], ts[r])), 5);
        setH(R[r][k], p);
      }
    }
  for (let v = 0; v < nHead; v++) {
    const t = tag[v].h;
    if (t.mouth && !t.skin && t.throat === undefined && tag[v].side >= 0 && t.t > 0.8) {
      const h = F.toH(P[v]);
      h[2] += t.t > 0.94 ? 1.0 : -0.7;
      setH(v, h);
    }
  } // (b) softer step of the lips at the corner
  for (let it = 0; it < 10; it++) {
    const N = [];
    for (let v = 0; v < nHead; v++) {
      const t = tag[v].h;
      if (tag[v].side > 0 && t.g && !t.ear && t.i >= 18 && t.i <= 24 && t.j >= 18 && t.j <= 24) {
        let a = [0, 0, 0];
        for (const o of nb[v]) a = add(a, P[o]);
        N.push([v, F.project(F.toH(lerp(P[v], mul(a, 1 / nb[v].size), 0.4)), 3)]);
      }
    }
    for (const [v, h] of N) setH(v, h);
  }
} // (c) skin below the ear lobe
export const cornerDots = (P, q) => {
  const p = q.map((i) => P[i]);
  const N = [0, 1, 2, 3].map((k) => norm(cross(sub(p[(k + 1) % 4], p[k]), sub(p[(k + 3) % 4], p[k]))));
  let m = 1;
  for (let a = 0; a < 4; a++) for (let b = a + 1; b < 4; b++) m = Math.min(m, dot(N[a], N[b]));
  return m;
};
export const folded = (P) => Q.filter((q) => cornerDots(P, q) < 0);
export function untangle(P, rounds = 200, step = 0.12) {
  // (d) what remains: nudge vertices of folded quads towards their neighbours' mean, both sides alike
  for (let it = 0; it < rounds; it++) {
    const bad = Q.filter((q) => cornerDots(P, q) < 0.05);
    if (!bad.length) break;
    const N = new Map();
    for (const q of bad)
      for (const v of q)
        if (tag[v].side >= 0 && !N.has(v)) {
          let a = [0, 0, 0];
          for (const o of nb[v]) a = add(a, P[o]);
          N.set(v, lerp(P[v], mul(a, 1 / nb[v].size), step));
        }
    for (const [v, p] of N) {
      if (mir[v] === v) P[v] = [0, p[1], p[2]];
      else {
        P[v] = p;
        P[mir[v]] = [-p[0], p[1], p[2]];
      }
    }
  }
  return P;
}
untangle(P);
// ---- 9. what the shapes and the parts of the head study need: the whole mesh in head millimetres with head tags (chin patch and neck move with the jaw shape too)
export const Mall = { ...M, X: P.map(F.toH), tag: tag.map((t) => (t.h ? { ...t.h, side: t.side } : { side: t.side, body: 1 })) };

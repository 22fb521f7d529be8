// Everything of the figure in metres: skin mesh, separate parts, garments, shapes, landmarks, colours.
import * as s from "./body/bodyForm.js";
import * as F from "./head/headForm.js";
import * as PT from "./head/headParts.js";
import { HINGE } from "./head/faceMarks.js";
import { TONGUE } from "./head/faceUnits.js";
import * as join from "./joinHeadAndBody.js";
import { J, ji, w1 } from "./skinWeights.js";
import { shirt, trousers, covered } from "./garments.js";
const { P, Q, tag, mir, Mall, nHead } = join;
const { sub, dot, len, mad, sst, lerp } = s;
export { P, Q, tag, J, ji, w1, shirt, trousers, covered };
// ---- named regions of the skin mesh, one per quad
export const UNDER = { torsoTop: 25, legRows: 5 }; // undersuit: torso rows 0..25, leg rings 0..5 (mid-thigh)
const inSuit = (t) => (t.reg === "torso" && (t.crotch || t.r <= UNDER.torsoTop)) || (t.reg === "leg" && t.i <= UNDER.legRows);
const regionOf = (q) => {
  const t = q.map((v) => tag[v]);
  if (t.every(inSuit)) return "undersuit";
  if (t.some((t) => t.reg === "head") && !t.some((t) => t.reg === "neck"))
    return t.some((t) => t.reg === "chin") ? "neck" : t.some((t) => t.h && t.h.kind === "bag") ? "mouth" : "head";
  for (const r of ["neck", "chin"]) if (t.some((t) => t.reg === r)) return "neck";
  for (const [r, n] of [
    ["finger", "hand"],
    ["thumb", "hand"],
    ["web", "hand"],
    ["palm", "hand"],
    ["foot", "foot"],
    ["leg", "leg"],
    ["arm", "arm"],
  ])
    if (t.some((t) => t.reg === r)) return n;
  return "torso";
};
export const region = Q.map(regionOf);
// ---- vertex colours (linear RGB)
const mixC = (a, b, t) => a.map((v, k) => v + (b[k] - v) * t);
export const CLOTH = PT.lin(58, 66, 80),
  NAIL = PT.lin(242, 196, 186);
const nailAmount = (p, t) => {
  const q = [Math.abs(p[0]), p[1], p[2]];
  const f = t.reg === "finger" ? s.FING[t.i] : t.reg === "thumb" ? s.TH : null;
  if (!f) return 0;
  const L = len(sub(f.pts[3], f.pts[2])),
    d = sub(q, f.pts[2]),
    u = dot(d, f.dirs[2]) / L,
    h = dot(d, f.up(2)) / f.r[2];
  return u > 0.4 && u < 0.97 && h > 0.3 ? 1 : 0;
};
const headCol = PT.skinColours({ X: Mall.X, tag: Mall.tag.map((t) => (t.body ? {} : t)) });
export const colour = P.map((p, v) => {
  const t = tag[v];
  if (t.reg === "head") return headCol[v];
  if (inSuit(t)) return CLOTH;
  let c = PT.SK;
  const pink = (w) => {
    c = mixC(c, PT.PINK, w);
  };
  if (t.reg === "finger" || t.reg === "thumb") pink(0.18);
  if (t.reg === "foot") pink(0.12 + (p[1] < 0.012 ? 0.15 : 0));
  if (t.reg === "palm" && dot(sub([Math.abs(p[0]), p[1], p[2]], s.W), s.HU) < 0) pink(0.25);
  if (t.reg === "arm") pink(0.2 * Math.exp(-(((t.s - 0.3125) / 0.03) ** 2)));
  if (t.reg === "leg") pink(0.15 * Math.exp(-(((p[1] - 0.485) / 0.035) ** 2)) * (p[2] > 0 ? 1 : 0.4));
  return mixC(c, NAIL, 0.85 * nailAmount(p, t));
});
// ---- separate parts
const mm = (o) => ({ P: o.X.map(F.toW), Q: o.Q, c: o.col, rough: o.rough });
const rigid = (name, o, joint) => ({ name, ...mm(o), w: o.X.map(() => [[ji[joint], 1]]) });
const tongueW = (p) => {
  const a = sst(30, 50, p[2]),
    b = sst(52, 72, p[2]);
  return [
    [ji.tongue0, 1 - a],
    [ji.tongue1, a * (1 - b)],
    [ji.tongue2, a * b],
  ].filter((e) => e[1] > 0.004);
};
const tongue = PT.tongue(TONGUE.rest);
export const parts = [
  rigid("eyeL", PT.eyeball(1), "eyeL"),
  rigid("eyeR", PT.eyeball(-1), "eyeR"),
  rigid("caruncleL", PT.caruncle(1), "head"),
  rigid("caruncleR", PT.caruncle(-1), "head"),
  rigid("browL", PT.brow(1), "head"),
  rigid("browR", PT.brow(-1), "head"),
  rigid("lashL", PT.lashes(Mall, Mall.X, 1), "head"),
  rigid("lashR", PT.lashes(Mall, Mall.X, -1), "head"),
  rigid("tearL", PT.tear(Mall, Mall.X, 1), "head"),
  rigid("tearR", PT.tear(Mall, Mall.X, -1), "head"),
  rigid("teethUpper", PT.teeth(true), "head"),
  rigid("teethLower", PT.teeth(false), "jaw"),
  { ...rigid("tongue", tongue, "jaw"), w: tongue.X.map(tongueW) },
  rigid("hair", PT.hair(), "head"),
  rigid("hairUnderCap", PT.hair(96, 20, true), "head"),
  rigid("cap", PT.cap(), "head"),
];
// ---- landmarks
const R = Mall.info.eyeRings[Mall.info.NR],
  eg = Mall.info.eyeMargin,
  seam = Mall.info.mouthRings.find((r) => tag[r[3]].h.kind === "seam"),
  n = seam.length,
  h = (n - 1) / 2;
const lid = (up) =>
  R.map((v, k) => [v, eg[k]])
    .filter(([, m]) => m.up === up)
    .sort((a, b) => a[1].s - b[1].s)
    .map((a) => a[0]);
const near = (p) => {
  let b = 1e9,
    r = -1;
  for (let v = 0; v < nHead; v++) {
    if (!tag[v].h.g && !(tag[v].h.eye && !tag[v].h.inner)) continue;
    const d = len(sub(Mall.X[v], p));
    if (d < b) {
      b = d;
      r = v;
    }
  }
  return r;
};
const M_ = (l) => l.map((v) => mir[v]);
const brow = [0, 0.25, 0.5, 0.75, 1].map((u) => {
  const x = PT.browC.x(u),
    y = PT.browC.y(u);
  return near([x, y, F.zfront(x, y)]);
});
export const landmarks = {
  vertices: {
    lidUpperL: lid(true),
    lidLowerL: lid(false),
    lidUpperR: M_(lid(true)),
    lidLowerR: M_(lid(false)),
    lipSeamUpper: [...M_(seam.slice(1, h + 1)).reverse(), ...seam.slice(0, h + 1)],
    lipSeamLower: [...M_(seam.slice(h, n - 1)), ...seam.slice(h).reverse()].filter((v, i, a) => a.indexOf(v) === i),
    mouthCornerL: [seam[h]],
    mouthCornerR: [mir[seam[h]]],
    browLineL: brow,
    browLineR: M_(brow),
    neckRing0: [...join.neckRings[0], ...M_(join.neckRings[0].slice(1, -1)).reverse()],
  },
  points: {
    eyeL: F.toW(F.EYE),
    eyeR: F.toW([-F.EYE[0], F.EYE[1], F.EYE[2]]),
    jawHinge: F.toW(HINGE),
    ...Object.fromEntries(J.map((j) => ["joint_" + j.name, j.p])),
  },
};

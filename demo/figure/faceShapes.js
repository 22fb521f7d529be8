// Displacements of the skin and of every part that follows it, for each entry of the face unit table (metres, rest space).
import * as join from "./joinHeadAndBody.js";
import * as F from "./head/headForm.js";
import * as PT from "./head/headParts.js";
import * as units from "./head/faceUnits.js";

const { Mall, nHead, tag } = join;
const toMetres = (displacement) => displacement.map((d) => d.map((c) => c * F.K));
const difference = (moved, rest) => moved.map((p, i) => p.map((c, k) => c - rest[i][k]));
const coords = units.marks(Mall);

/** Front skin above the eyes, which the brows ride on. */
const browSkin = [];
Mall.X.forEach((p, v) => {
  if (v < nHead && p[2] > 45 && p[1] > 0 && p[1] < 45 && tag[v].h.g) browSkin.push(v);
});

/** Four nearest skin vertices of a point with weights that sum to one. */
function bindToSkin(p) {
  const nearest = browSkin
    .map((v) => [Math.hypot(p[0] - Mall.X[v][0], p[1] - Mall.X[v][1], p[2] - Mall.X[v][2]), v])
    .sort((a, b) => a[0] - b[0] || a[1] - b[1])
    .slice(0, 4);
  const weights = nearest.map(([d]) => 1 / (d * d + 0.05));
  const total = weights.reduce((a, b) => a + b);
  return nearest.map(([, v], i) => [v, weights[i] / total]);
}

const rest = {
  tongue: PT.tongue(units.TONGUE.rest).X,
  teethLower: PT.teeth(false).X,
};
for (const [side, sign] of [
  ["L", 1],
  ["R", -1],
]) {
  rest["lash" + side] = PT.lashes(Mall, Mall.X, sign).X;
  rest["tear" + side] = PT.tear(Mall, Mall.X, sign).X;
  rest["brow" + side] = PT.brow(sign).X;
}
const browBind = { browL: rest.browL.map(bindToSkin), browR: rest.browR.map(bindToSkin) };

/** What the parts do when the skin moves by `skin` (mm, per skin vertex) under a table entry. */
function followers(skin, entry) {
  const moved = Mall.X.map((p, v) => p.map((c, k) => c + skin[v][k]));
  const out = { skin };
  for (const brow of ["browL", "browR"])
    out[brow] = browBind[brow].map((bind) => {
      const d = [0, 0, 0];
      for (const [v, w] of bind) for (let k = 0; k < 3; k++) d[k] += w * skin[v][k];
      return d;
    });
  for (const [side, sign] of [
    ["L", 1],
    ["R", -1],
  ]) {
    out["lash" + side] = difference(PT.lashes(Mall, moved, sign).X, rest["lash" + side]);
    out["tear" + side] = difference(PT.tear(Mall, moved, sign).X, rest["tear" + side]);
  }
  if (entry.jaw) {
    out.teethLower = rest.teethLower.map((p) => units.jawMove(p, entry.jaw));
    out.tongue = rest.tongue.map((p) => units.jawMove(p, entry.jaw, 0.55 + 0.45 * Math.min(1, Math.max(0, (p[2] - 46) / 16))));
  }
  if (entry.tongue) out.tongue = difference(PT.tongue(units.TONGUE[entry.tongue]).X, rest.tongue);
  return Object.fromEntries(Object.entries(out).map(([part, d]) => [part, toMetres(d)]));
}

/** One shape per table id; ids that end in L or R of a two-sided entry give that half. */
export function buildFaceShape(id) {
  const whole = units.TABLE.find((e) => e.id === id);
  const entry = whole ?? units.TABLE.find((e) => e.id === id.slice(0, -1));
  if (!entry) throw new Error(`buildFaceShape: no face unit ${id}`);
  let skin = units.skinDelta(Mall, coords, entry);
  if (!whole) {
    const sign = id.endsWith("L") ? 1 : -1;
    skin = skin.map((d, v) => d.map((c) => c * units.sideShare(Mall.X[v][0], sign)));
  }
  return { id, label: entry.label, parts: followers(skin, entry) };
}

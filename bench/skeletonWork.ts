import { loadMember, loadOda } from "../demo/cast";
import { pairedShapes, pairRows } from "../core/checks/pairs/readPairs";
import { PROFILES } from "../core/checks/profile";
import { allocateDeformed, deform, makeRig } from "../core/deform/rig";
import { REST_MOMENT } from "../core/evaluate/moment";
import { lipCross, makeLipGauge } from "../core/measure/lipCross";
import { vertexCountOf } from "../core/model/character";
import { reduceCharacter } from "../core/edits/reduce/reduceCharacter";
import { rebind } from "../core/skeleton/rebind";
import { refitJoints } from "../core/edits/skeleton/refitJoints";
import { changeWeights, weightChangeSchema } from "../core/weights/changeWeights";
import { medianMs, report } from "./sideBySide";

/** Work on skeleton, weights and pairs, each against a plain way of doing the same in the same run. */
const oda = await loadOda();
const body = oda.parts.findIndex((p) => p.kind === "body");
const top = oda.parts.findIndex((p) => p.name === "top");
const rig = makeRig(oda);
const out = allocateDeformed(rig);
const whole = medianMs(
  () => void deform(rig, { ...REST_MOMENT, pose: { leftLowerArm: [60, 0, 0] } }, { out, normals: false }),
  15,
  3,
);

/** Nearest vertex of the skin by looking at every one. */
const plainNearest = (): number => {
  const [S, P] = [oda.parts[body]!.positions, oda.parts[top]!.positions];
  let sum = 0;
  for (let v = 0; v < P.length; v += 3) {
    let best = Infinity;
    for (let w = 0; w < S.length; w += 3)
      best = Math.min(best, (S[w]! - P[v]!) ** 2 + (S[w + 1]! - P[v + 1]!) ** 2 + (S[w + 2]! - P[v + 2]!) ** 2);
    sum += best;
  }
  return sum;
};
const change = weightChangeSchema.parse({ tool: "take from skin" });
const plainMs = medianMs(() => void plainNearest(), 5, 1);
const transferMs = medianMs(() => void changeWeights(oda, "top", change), 5, 1);
report(
  `weights of ${vertexCountOf(oda.parts[top]!)} vertices from the skin, by surface`,
  `${transferMs.toFixed(0)} ms`,
  `nearest vertex by trying all: ${plainMs.toFixed(0)} ms`,
);

const rebindMs = medianMs(() => void rebind(oda, { leftUpperArm: [0, 0, 40], rightUpperArm: [0, 0, -40] }), 5, 1);
report(
  "bound anew in a pose, all parts and shapes",
  `${(rebindMs / whole).toFixed(0)} deformations`,
  `${rebindMs.toFixed(0)} ms`,
);
const refitMs = medianMs(() => void refitJoints(oda, "proportion_child"), 5, 1);
report("joints refit to one changed build", `${(refitMs / whole).toFixed(0)} deformations`, `${refitMs.toFixed(0)} ms`);

const wick = await loadMember("wick");
const start = performance.now();
const { trianglesBefore, trianglesAfter } = reduceCharacter(wick, 10_000);
report(
  `polygons from ${trianglesBefore} to ${trianglesAfter}, shapes carried`,
  `${Math.round((trianglesBefore - trianglesAfter) / ((performance.now() - start) / 1000))} triangles a second`,
);

const shapes = pairedShapes(oda);
const began = performance.now();
const { pairCount } = await pairRows(oda, PROFILES.realtime);
const oursMs = (performance.now() - began) / pairCount;
const lips = makeLipGauge(rig)!;
let k = 0;
const plainPair = (): void => {
  const [a, b] = [shapes[k % shapes.length]!, shapes[(7 * k + 3) % shapes.length]!];
  k++;
  const P = deform(rig, { ...REST_MOMENT, weights: { [a.name]: 1, [b.name]: 1 } }, { out }).positions[body]!;
  lipCross(rig, lips, P);
};
const plainPairMs = medianMs(plainPair, 40, 5);
report(
  `pairs of ${shapes.length} face shapes, four measures each`,
  `${(plainPairMs / oursMs).toFixed(1)} times faster`,
  `${pairCount} pairs in ${((oursMs * pairCount) / 1000).toFixed(1)} s on ` +
    "one thread; the plain way deforms all parts and measures the lips only",
);

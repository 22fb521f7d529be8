import { loadOda } from "../demo/cast";
import { inverseSkin } from "../core/correctives/inverseSkin";
import { LiveDeform } from "../core/deform/liveDeform";
import { packedSkin } from "../core/deform/packedSkin";
import { allocateDeformed, deform, makeRig } from "../core/deform/rig";
import { REST_MOMENT, type Moment } from "../core/evaluate/moment";
import { buildBvh, refitBvh } from "../core/math/bvh";
import { makeJointGauge, measureJoint } from "../core/measure/measureJoint";
import { humanoidMap } from "../core/skeleton/humanoidMap";
import { jointMotions, motionPose } from "../core/skeleton/jointMotions";
import { medianMs, report, turnAbout } from "./sideBySide";
import { makeThreePart } from "./threeBody";

/** Deformation, inverse skinning and measuring, on the body of the demo character. */
const oda = await loadOda();
const body = oda.parts.findIndex((p) => p.kind === "body");
const part = oda.parts[body]!;
const skeleton = oda.skeleton!;
const vertexCount = part.positions.length / 3;
// shapes that move joints have no counterpart in three.js
const active = oda.shapes.filter((s, i) => i % 4 === 0 && !s.jointOffsets);
const moment: Moment = {
  ...REST_MOMENT,
  pose: { leftLowerArm: [90, 0, 0], rightUpperLeg: [-70, 0, 0], spine: [10, 5, 0], jaw: [12, 0, 0] },
  weights: Object.fromEntries(active.map((s) => [s.name, 0.6])),
};
const rig = makeRig(oda);
const out = allocateDeformed(rig);

const theirs = makeThreePart(rig, body);
theirs.pose(moment);
const deformThree = (): void => void theirs.deform();
const { slow: threeMs, fast: oursMs } = turnAbout(deformThree, () => void deform(rig, moment, { out, parts: [body] }));
const posedByThree = theirs.deform();
let apart = 0;
out.positions[body]!.forEach((x, i) => (apart = Math.max(apart, Math.abs(x - posedByThree[i]!))));

const drawing = new LiveDeform(rig);
const moments = [0.6, 0.61].map((w) => ({ ...moment, weights: Object.fromEntries(active.map((s) => [s.name, w])) }));
drawing.update(rig, REST_MOMENT);
let turn = 0;
// every shape moves at each turn, so that nothing is kept
const draw = (): void => void drawing.update(rig, moments[turn++ % 2]!, (p) => p === body);
const { fast: drawnMs } = turnAbout(deformThree, draw);

report("body", `${vertexCount} vertices, ${skeleton.joints.length} joints, ${active.length} active shapes`);
report("deform with normals, three.js on the processor", `${threeMs.toFixed(2)} ms`);
report("deform with normals, to be measured (double precision)", `${oursMs.toFixed(2)} ms`);
report("deform with normals, to be drawn (four lanes)", `${drawnMs.toFixed(2)} ms`);
report("  ratio, measured", `${(threeMs / oursMs).toFixed(1)} times faster`);
report("  ratio, drawn", `${(threeMs / drawnMs).toFixed(1)} times faster`, "wanted: at least 12");
report("  largest difference", `${apart.toExponential(1)} m`, "wanted: under 1e-5");

const live = new LiveDeform(rig);
const wave = (t: number): Moment => ({ ...moment, pose: { ...moment.pose, leftLowerArm: [t % 90, 0, 0] } });
let frame = 0;
live.update(rig, wave(1));
const moving = live.update(rig, wave(2));
/** Bytes that deforming a part must read or write: places, influences, movement of shapes, faces, what is drawn. */
const bytesOf = (p: number): number => {
  const { skin } = oda.parts[p]!;
  const { faces } = rig.drawn[p]!;
  const packed = skin ? packedSkin(skin) : null;
  const shapes = rig.partShapes[p]!.filter((s) => live.deformed.shapeWeights[s.shape] !== 0);
  return [
    oda.parts[p]!.positions,
    ...(packed ? [packed.start, packed.joints, packed.weights] : []),
    ...shapes.flatMap((s) => [s.vertices, s.deltas]),
    faces.quads,
    faces.triangles,
    live.deformed.drawn[p]!,
    live.deformed.normals[p]!,
  ].reduce((sum, a) => sum + a.byteLength, 0);
};
const touched = new Uint8Array(moving.reduce((sum, p) => sum + bytesOf(p), 0));
const elsewhere = touched.slice();
const { slow: liveMs, fast: copyMs } = turnAbout(
  () => void live.update(rig, wave(frame++)),
  () => elsewhere.set(touched),
);
const wholeMs = medianMs(() => void deform(rig, wave(frame++), { out }), 30, 5);
report(
  "a moving elbow, only the parts that it moves",
  `${liveMs.toFixed(2)} ms`,
  `${wholeMs.toFixed(2)} ms for all parts`,
);
report(
  "  against a plain copy of the bytes it must touch",
  `${(liveMs / copyMs).toFixed(1)} times`,
  `wanted: under 3; ${(touched.length / 1e6).toFixed(1)} MB in ${copyMs.toFixed(2)} ms`,
);

const deltas = Float32Array.from({ length: part.positions.length }, (_, i) => 0.001 * Math.sin(i));
for (const method of ["linear", "dual"] as const) {
  const here = deform(rig, { ...moment, method }, { out, parts: [body] });
  const deformMs = medianMs(() => void deform(rig, { ...moment, method }, { out, parts: [body] }), 30, 5);
  const inverseMs = medianMs(() => void inverseSkin(deltas, part.skin, here.matrices[body]!, method), 30, 5);
  report(
    `inverse skinning of the whole body, ${method}`,
    `${(inverseMs / deformMs).toFixed(2)} deformations`,
    "wanted: under 3",
  );
}

const elbow = skeleton.joints.findIndex((j) => j.name === "leftLowerArm");
const gauge = makeJointGauge(rig, elbow)!;
const motion = jointMotions(skeleton, humanoidMap(skeleton)).find((m) => m.id === "leftLowerArm/bend")!;
const stepMs = medianMs(() => void measureJoint(gauge, { ...REST_MOMENT, pose: motionPose(motion, 120) }), 20, 4);
report("one sweep step at the elbow (deform, volume, overlap, stretch)", `${stepMs.toFixed(1)} ms`);
const posed = deform(rig, moment, { out, parts: [body] }).positions[body]!;
const bvh = buildBvh(rig.triangles[body]!, part.positions);
const buildMs = medianMs(() => void buildBvh(rig.triangles[body]!, posed), 9, 2);
const refitMs = medianMs(() => refitBvh(bvh, posed), 30, 5);
report(
  "tree over the body: refit against build",
  `${(buildMs / refitMs).toFixed(1)} times cheaper`,
  `${refitMs.toFixed(2)} ms against ${buildMs.toFixed(1)} ms`,
);

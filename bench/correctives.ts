import { loadMember } from "../demo/cast";
import { computeNormals } from "../core/deform/computeNormals";
import { deform, makeRig, withShapes } from "../core/deform/rig";
import { proposeForRange } from "../core/correctives/proposeForRange";
import { proposeSculpt, sculptMoment } from "../core/correctives/proposeSculpt";
import { TRIAL, withTrialShape } from "../core/correctives/correctiveFromSculpt";
import { PROFILES } from "../core/checks/profile";
import { makeJointGauge, measurePosed, type JointReading } from "../core/measure/measureJoint";
import { neighboursOf } from "../core/model/neighbours";
import { humanoidMap } from "../core/skeleton/humanoidMap";
import { jointMotions, motionPose } from "../core/skeleton/jointMotions";
import { aimWithin, poseLimits } from "../jobs/poseLimits";
import { mushed, rotationCentres, turnAboutCentres } from "./otherMethods";
import { report } from "./sideBySide";

/** Proposals for bent joints beside other ways to bend skin, on the same poses of Oda. */
const oda = await loadMember("oda");
const rig = makeRig(oda);
const motions = jointMotions(oda.skeleton!, humanoidMap(oda.skeleton!, oda.jointMap));
const POSES = [
  ["leftLowerArm/bend", 90],
  ["leftLowerArm/bend", 120],
  ["leftLowerArm/bend", 150],
  ["leftLowerLeg/bend", 90],
  ["leftLowerLeg/bend", 135],
  ["leftUpperLeg/forward", 90],
  ["leftUpperLeg/forward", 120],
  ["leftUpperArm/raise", -50],
  ["leftUpperArm/raise", 130],
  ["leftUpperArm/forward", 110],
  ["leftHand/bend", 80],
  ["leftMiddleProximal/bend", 90],
] as const;

const gaugeOf = (joint: string): NonNullable<ReturnType<typeof makeJointGauge>> =>
  makeJointGauge(
    rig,
    oda.skeleton!.joints.findIndex((j) => j.name === joint),
  )!;

const told = (r: JointReading): string =>
  [
    `${(100 * r.volume).toFixed(1)} %`,
    `${r.depth.toFixed(1)} mm`,
    `${r.stretch.toFixed(2)} x`,
    `${r.flips} turned`,
    `crease ${r.crease!.toFixed(0)}`,
    `bone ${r.bone!.toFixed(1)} mm`,
  ].join(", ");

for (const [id, degrees] of POSES) {
  const motion = motions.find((m) => `${m.bone}/${m.name}` === id)!;
  const gauge = gaugeOf(motion.joint);
  const { region } = gauge;
  const { part } = region;
  const body = oda.parts[part]!;
  const moment = sculptMoment(motionPose(motion, degrees));
  const posed = deform(rig, moment);
  const matrices = posed.matrices[part]!.slice();
  const linear = posed.positions[part]!.slice();
  const dual = deform(rig, { ...moment, method: "dual" }).positions[part]!.slice();
  const triangles = rig.triangles[part]!;
  const ways: Record<string, () => Float32Array> = {
    linear: () => linear,
    dual: () => dual.slice(),
    "centres of rotation": () => {
      const P = linear.slice();
      const centres = rotationCentres(body.positions, triangles, region.limbTriangles, body.skin!, region.vertices);
      turnAboutCentres(P, body.positions, body.skin!, matrices, centres);
      return P;
    },
    "rest offsets": () => {
      const P = linear.slice();
      mushed(P, body.positions, body.skin!, matrices, region.vertices, neighboursOf(body));
      return P;
    },
    proposal: () => {
      const made = proposeSculpt(gauge, moment);
      if (!made) return linear;
      const trial = withShapes(rig, withTrialShape(oda, made.deltas));
      return deform(trial, { ...moment, weights: { [TRIAL]: 1 } }).positions[part]!;
    },
  };
  for (const [name, way] of Object.entries(ways)) {
    const start = performance.now();
    const P = way();
    const took = performance.now() - start;
    const normals = new Float32Array(P.length);
    computeNormals(P, rig.normalFaces[part]!, rig.placeOf[part]!, normals);
    const { reading } = measurePosed(gauge, {
      ...posed,
      positions: posed.positions.map((x, p) => (p === part ? P : x)),
      normals: posed.normals.map((x, p) => (p === part ? normals : x)),
      matrices: posed.matrices.map((x, p) => (p === part ? matrices : x)),
    });
    report(`${id} ${degrees}, ${name}`, `${took.toFixed(0)} ms`, told(reading));
  }
}

const limits = poseLimits(PROFILES.realtime);
let [shapes, corrected] = [0, 0];
const start = performance.now();
for (const motion of motions.filter((m) => !m.bone.startsWith("right"))) {
  const gauge = makeJointGauge(
    rig,
    oda.skeleton!.joints.findIndex((j) => j.name === motion.joint),
  );
  let made = 0;
  for (const end of gauge ? [motion.min, motion.max].filter((e) => e !== 0) : []) {
    const steps = proposeForRange(gauge!, motion, end, aimWithin(limits), { name: motion.id, label: motion.label });
    let step = steps.next();
    while (!step.done) step = steps.next();
    made += step.value?.made.length ?? 0;
  }
  shapes += made;
  corrected += made > 0 ? 1 : 0;
}
report(
  "every motion of one side corrected by one angle each",
  `${((performance.now() - start) / 1000).toFixed(1)} s`,
  `${shapes} shapes for ${corrected} motions`,
);

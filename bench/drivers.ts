import { loadMember } from "../demo/cast";
import { makeRig } from "../core/deform/rig";
import { proposeMuscles } from "../core/correctives/proposeMuscles";
import { proposeSamples } from "../core/correctives/proposeSamples";
import { newSamples } from "../core/correctives/sampleEdits";
import { swingMapAt } from "../core/correctives/swingMap";
import { drivenWeights } from "../core/evaluate/drivers/drivenWeight";
import { evaluate, evaluationRoom } from "../core/evaluate/evaluate";
import { REST_MOMENT } from "../core/evaluate/moment";
import { poseRotation } from "../core/evaluate/poseSkeleton";
import { rootExtras } from "../core/formats/glb/rootExtras";
import { fromAxisAngle, toEulerXYZ } from "../core/math/quat";
import { makeJointGauge } from "../core/measure/measureJoint";
import { boneDirection } from "../core/skeleton/boneDirection";
import { humanoidMap } from "../core/skeleton/humanoidMap";
import { jointMotions } from "../core/skeleton/jointMotions";
import { readDrivers } from "../reader/drivers.mjs";
import { medianMs, report, turnAbout } from "./sideBySide";

/** Drivers at a moment, the reader beside the core; poses of a shoulder proposed; muscles laid on. */
const oda = await loadMember("oda");
const map = humanoidMap(oda.skeleton!, oda.jointMap);
const joint = map.jointOfBone.get("leftUpperArm")!;
const { name } = oda.skeleton!.joints[joint]!;
const all = jointMotions(oda.skeleton!, map);
const along = boneDirection(oda.skeleton!, map, joint);
const chart = swingMapAt(oda.skeleton!, joint, along);
const gauge = makeJointGauge(makeRig(oda), joint)!;
const empty = newSamples("shoulder", [{ joint: name, along }]);
const limits = { volume: -0.09, depth: 4.5, stretch: 1.9 };

const start = performance.now();
const steps = proposeSamples(
  gauge,
  chart,
  all.filter((m) => m.joint === name),
  empty,
  limits,
);
let step = steps.next();
while (!step.done) step = steps.next();
const made = step.value!;
report(
  "poses of Oda's shoulder proposed over its whole swing",
  `${((performance.now() - start) / 1000).toFixed(1)} s`,
  `${made.before} of ${made.looked} over a limit, ${made.after} after ${made.set.samples.length} samples`,
);

const wick = await loadMember("wick");
const [one, ...more] = wick.shapes;
const figure = {
  ...wick,
  sampleSets: [{ ...made.set, samples: made.set.samples.map((s, i) => ({ ...s, shape: [one!, ...more][i]!.name })) }],
};
const room = evaluationRoom(figure);
const moment = { ...REST_MOMENT, pose: { [name]: toEulerXYZ(fromAxisAngle([0, 0, 1], 60)) } };
const reader = readDrivers(JSON.parse(JSON.stringify(rootExtras(figure))));
const { slow, fast } = turnAbout(
  () => void reader.weightsOf((j) => poseRotation(moment.pose, j)),
  () => void evaluate(figure, moment, room),
);
report(
  `${wick.drivers.length + wick.shapeDrivers.length} drivers and ${made.set.samples.length} samples at a moment`,
  `${fast.toFixed(2)} ms`,
  `the reader ${slow.toFixed(2)} ms; the core with the skeleton posed`,
);
report("weights of all drivers for a sheet", `${medianMs(() => void drivenWeights(figure, moment)).toFixed(2)} ms`);
report(
  "bellies of six muscles laid on Oda, clothes with them",
  `${medianMs(() => void proposeMuscles(oda, map, all, 0.12), 5, 1).toFixed(0)} ms`,
);

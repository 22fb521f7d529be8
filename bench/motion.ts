import { readFileSync } from "node:fs";
import { Bone, Skeleton as ThreeSkeleton, SkinnedMesh } from "three";
import { BVHLoader } from "three/examples/jsm/loaders/BVHLoader.js";
import { retargetClip } from "three/examples/jsm/utils/SkeletonUtils.js";
import { loadMember } from "../demo/cast";
import { standing } from "../core/clips/motion";
import { motionFromBvh } from "../core/clips/sourceMotion";
import { transferMotion } from "../core/clips/transferMotion";
import { allocateDeformed, makeRig } from "../core/deform/rig";
import { makeFaceReader } from "../core/checks/pairs/readPairs";
import { PROFILES } from "../core/checks/profile";
import { readBvh } from "../core/formats/bvh/readBvh";
import { degrees, dot, normalize, sub, type Vec3 } from "../core/math/vec3";
import { makeJointGauge, type JointGauge } from "../core/measure/measureJoint";
import { humanoidMap } from "../core/skeleton/humanoidMap";
import { jointMotions } from "../core/skeleton/jointMotions";
import { momentAt } from "../core/trials/momentAt";
import { emptyTrial } from "../core/trials/trial";
import { watchFrame } from "../core/trials/watchFrame";
import { medianMs, report, turnAbout } from "./sideBySide";

/** Transfer of a captured movement against three.js's own route, and frames of a trial measured a second. */
const oda = await loadMember("oda");
const skeleton = oda.skeleton!;
const text = readFileSync("/usr/share/assimp/models/BVH/01_01.bvh", "utf8");
const bvh = readBvh(text, "01_01.bvh");
const own = humanoidMap(skeleton, oda.jointMap);
const source = motionFromBvh(bvh, "01_01", {}, 30);

const bones = skeleton.joints.map((j) => {
  const bone = new Bone();
  bone.name = j.name;
  bone.position.set(...j.translation);
  bone.quaternion.set(...j.rotation);
  return bone;
});
skeleton.joints.forEach((j, i) => j.parent >= 0 && bones[j.parent]!.add(bones[i]!));
const target = new SkinnedMesh();
target.add(bones[0]!);
target.bind(new ThreeSkeleton(bones));
const read = new BVHLoader().parse(text);
const names = Object.fromEntries(
  transferMotion(oda, source).sources.flatMap((s, j) =>
    s >= 0 ? [[skeleton.joints[j]!.name, source.motion.skeleton.joints[s]!.name]] : [],
  ),
);
const theirs = (): ReturnType<typeof retargetClip> =>
  retargetClip(target, read.skeleton as never, read.clip, { fps: 30, hip: "Hips", names, scale: 0.054 } as never);
const ours = (): ReturnType<typeof transferMotion> => transferMotion(oda, source);
const { slow, fast } = turnAbout(theirs, ours, 5, 2);
report(
  "transfer of 01_01.bvh, 30 frames a second, against three's retargetClip",
  `${(slow / fast).toFixed(1)} x, ${fast.toFixed(0)} ms`,
  "under 1 s, and quicker",
);

/** Largest angle between limbs of the source and of the figure, degrees. */
function limbError(): number {
  const { motion } = ours();
  let most = 0;
  const limbs = ["UpperArm LowerArm", "LowerArm Hand", "UpperLeg LowerLeg", "LowerLeg Foot"].map((p) => p.split(" "));
  for (let f = 0; f < motion.frames; f += 10) {
    const [a, b] = [standing(source.motion, f), standing(motion, f)];
    for (const [from, to] of limbs)
      for (const side of ["left", "right"]) {
        const way = (s: typeof a, map: typeof own): Vec3 =>
          normalize(sub(s.places[map.jointOfBone.get(side + to!)!]!, s.places[map.jointOfBone.get(side + from!)!]!));
        most = Math.max(most, degrees(Math.acos(Math.min(1, dot(way(a, source.map), way(b, own))))));
      }
  }
  return most;
}
report("largest angle between limbs of source and figure", `${limbError().toFixed(2)} degrees`, "5 degrees");

const rig = makeRig(oda);
const gauges = new Map<string, JointGauge | null>();
const gauge = (joint: string): JointGauge | null => {
  if (!gauges.has(joint))
    gauges.set(
      joint,
      makeJointGauge(
        rig,
        skeleton.joints.findIndex((j) => j.name === joint),
      ),
    );
  return gauges.get(joint)!;
};
const tables = { rig, motions: jointMotions(skeleton, own), gauge, face: makeFaceReader(oda) };
const trial = emptyTrial("wave");
const piece = {
  kind: "clip",
  id: "w",
  clip: "wave",
  start: 0,
  from: 0,
  to: 3.5,
  speed: 1,
  fadeIn: 0,
  fadeOut: 0,
} as const;
trial.lanes.body.push({ ...piece, share: 1, on: true });
const room = allocateDeformed(rig);
let frame = 0;
const one = medianMs(() => {
  frame = (frame + 7) % 105;
  watchFrame(tables, frame, momentAt(oda, trial, frame / 30), PROFILES.realtime, room);
}, 40);
report("frames of a trial measured on one thread", `${(1000 / one).toFixed(0)} a second`, "10 a second");

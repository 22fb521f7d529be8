import { readFileSync } from "node:fs";
import { Bone, Matrix4, Skeleton as ThreeSkeleton, SkinnedMesh, Vector3 } from "three";
import { BVHLoader } from "three/examples/jsm/loaders/BVHLoader.js";
import { retargetClip } from "three/examples/jsm/utils/SkeletonUtils.js";
import { loadMember } from "../demo/cast";
import { standing } from "../core/clips/motion";
import { motionFromBvh } from "../core/clips/sourceMotion";
import { transferMotion } from "../core/clips/transferMotion";
import { allocateDeformed, deform, makeRig } from "../core/deform/rig";
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
import { makeThreePart } from "./threeBody";

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
target.updateMatrixWorld(true);
// what their route asks for: how each bone stands at rest, over the bones of the file, which stand unturned
const localOffsets = Object.fromEntries(bones.map((b) => [b.name, new Matrix4().extractRotation(b.matrixWorld)]));
const settings = { fps: 30, hip: "Hips", names, scale: 0.054, localOffsets };
const theirs = (): ReturnType<typeof retargetClip> =>
  retargetClip(target, read.skeleton as never, read.clip, settings as never);
const ours = (): ReturnType<typeof transferMotion> => transferMotion(oda, source);
const { slow, fast } = turnAbout(theirs, ours, 5, 2);
report(
  "transfer of 01_01.bvh, 30 frames a second, against three's retargetClip",
  `${(slow / fast).toFixed(1)} x, ${fast.toFixed(0)} ms`,
  "under 1 s, and quicker",
);

const LIMBS = ["UpperArm LowerArm", "LowerArm Hand", "UpperLeg LowerLeg", "LowerLeg Foot"].map((p) => p.split(" "));
type Places = (bone: string) => Vec3;
/** Angles between limbs of the source and of the figure, degrees. @param placesAt of the figure, by frame. */
function limbError(frames: number, placesAt: (frame: number) => Places): string {
  const all: number[] = [];
  for (let f = 0; f < frames; f += 10) {
    const a = standing(source.motion, f);
    const asked: Places = (bone) => a.places[source.map.jointOfBone.get(bone as never)!]!;
    const figure = placesAt(f);
    for (const [from, to] of LIMBS)
      for (const side of ["left", "right"]) {
        const way = (of: Places): Vec3 => normalize(sub(of(side + to!), of(side + from!)));
        all.push(degrees(Math.acos(Math.min(1, dot(way(asked), way(figure))))));
      }
  }
  all.sort((a, b) => a - b);
  return `${all[all.length >> 1]!.toFixed(2)}, at most ${all[all.length - 1]!.toFixed(1)} degrees`;
}
const jointOf = (bone: string): number => own.jointOfBone.get(bone as never)!;
const { motion } = ours();
const ourError = limbError(motion.frames, (f) => {
  const { places } = standing(motion, f);
  return (bone) => places[jointOf(bone)]!;
});
// three's clip holds a track of turns for each bone that it was told of
const clip = theirs();
const turns = clip.tracks.flatMap((t) => {
  const bone = /\.bones\[(.+)\]\.quaternion$/.exec(t.name)?.[1];
  const at = skeleton.joints.findIndex((j) => j.name === bone);
  return at < 0 ? [] : [{ bone: bones[at]!, values: t.values }];
});
const point = new Vector3();
const theirError = limbError(Math.min(motion.frames, turns[0]!.values.length / 4), (f) => {
  for (const { bone, values } of turns) bone.quaternion.fromArray(values, 4 * f);
  target.updateMatrixWorld(true);
  return (bone) => bones[jointOf(bone)]!.getWorldPosition(point).toArray();
});
report("angle between limbs of source and figure", ourError, "median under 5 degrees");
report("  by three's retargetClip, same data", theirError);

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

const body = oda.parts.findIndex((p) => p.kind === "body");
const byThree = makeThreePart(rig, body);
let at = 0;
const nextMoment = (): ReturnType<typeof momentAt> => momentAt(oda, trial, (at++ % 105) / 30);
const played = turnAbout(
  () => {
    byThree.pose(nextMoment());
    byThree.deform();
  },
  () => void deform(rig, nextMoment(), { out: room, parts: [body] }),
  15,
  4,
);
const last = momentAt(oda, trial, 1.5);
byThree.pose(last);
const places = byThree.deform();
let apart = 0;
deform(rig, last, { out: room, parts: [body] }).positions[body]!.forEach(
  (x, i) => (apart = Math.max(apart, Math.abs(x - places[i]!))),
);
report(
  "the body at a frame of a clip, against three.js on the processor",
  `${(played.slow / played.fast).toFixed(1)} times faster`,
  `${played.fast.toFixed(2)} ms; ${apart.toExponential(1)} m apart`,
);

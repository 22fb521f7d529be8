import { Quaternion, Vector3, type Group, type Mesh, type SkinnedMesh } from "three";
import { GLTFLoader } from "three/addons/loaders/GLTFLoader.js";
import { loadMember } from "../../demo/cast";
import { deform, makeRig } from "../../core/deform/rig";
import { weightsAt } from "../../core/evaluate/evaluate";
import { REST_MOMENT, type Moment } from "../../core/evaluate/moment";
import { poseRotation, type Pose } from "../../core/evaluate/poseSkeleton";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { fromAxisAngle, multiplyQuat, toEulerXYZ } from "../../core/math/quat";
import type { Character } from "../../core/model/character";
import type { PoseDriver, SampleSet } from "../../core/model/poseDriver";
import { boneDirection } from "../../core/skeleton/boneDirection";
import { humanoidMap } from "../../core/skeleton/humanoidMap";
import { jointMotions } from "../../core/skeleton/jointMotions";
import { spreadTwist } from "../../core/weights/spreadTwist";
import { between, randomFrom } from "../helpers/random";
import { bindThree, readDrivers } from "../../reader/drivers.mjs";
import { threeInNode } from "../helpers/threeInNode";

/**
 * The reader that goes with a hand-off, in three.js (npm three, its own loader, skinning and morph targets), against
 * our deformation: what a game or web page shows is what was proved here.
 */
threeInNode();

const wick = await loadMember("wick");
const map = humanoidMap(wick.skeleton!, wick.jointMap);
const arm = map.jointOfBone.get("leftUpperArm")!;
const leg = map.jointOfBone.get("rightUpperLeg")!;
const nameOf = (j: number): string => wick.skeleton!.joints[j]!.name;
const [a, b, c, d] = wick.shapes.filter((s) => s.deltas.some((x) => wick.parts[x.part]!.kind === "body"));
const set: SampleSet = {
  name: "shoulder",
  joints: [{ joint: nameOf(arm), along: boneDirection(wick.skeleton!, map, arm) }],
  samples: [
    { name: "up", shape: a!.name, turns: [fromAxisAngle([0, 0, 1], 90)] },
    { name: "front", shape: b!.name, turns: [fromAxisAngle([0, 1, 0], -80)] },
    { name: "turned", shape: null, turns: [multiplyQuat(fromAxisAngle([0, 0, 1], 50), fromAxisAngle([1, 0, 0], 60))] },
  ],
  kernel: "gaussian",
  radiusDegrees: 70,
  twistShare: 0.6,
  group: "corrective",
  enabled: true,
};
const along = boneDirection(wick.skeleton!, map, leg);
const readings: PoseDriver = {
  shape: c!.name,
  terms: [
    {
      kind: "direction",
      joint: nameOf(leg),
      along,
      towards: [0, 0, 1],
      fullDegrees: 10,
      noneDegrees: 120,
      twist: { fromDegrees: -10, toDegrees: 15, fadeDegrees: 70 },
    },
    {
      kind: "angle",
      joint: nameOf(arm),
      axis: [0, 0, 1],
      points: [
        { degrees: -40, weight: 0.9 },
        { degrees: 10, weight: 0.4 },
        { degrees: 90, weight: 1 },
      ],
      between: "smooth",
    },
    { kind: "weight", shape: d!.name, atNone: 0.3 },
  ],
  rule: "least",
  group: "muscle",
  intensity: 0.8,
  enabled: true,
};
const free = (list: Character["drivers"]): Character["drivers"] =>
  list.filter((x) => ![a, b, c].some((s) => s!.name === x.shape));
const plain: Character = {
  ...wick,
  clips: [],
  drivers: free(wick.drivers),
  shapeDrivers: wick.shapeDrivers.filter((x) => ![a, b, c].some((s) => s!.name === x.shape)),
  poseDrivers: [readings],
  sampleSets: [set, { ...set, name: "other", kernel: "compact", samples: [] }],
};
const jointAt = (bone: string): string => nameOf(map.jointOfBone.get(bone)!);
const twisting = (bone: string): string =>
  jointMotions(wick.skeleton!, map).find((m) => m.bone === bone && m.name === "twist")!.joint;
/** With the twist of a forearm and of a thigh spread over joints along them. */
const figure = [
  { joint: twisting("leftLowerArm"), end: jointAt("leftHand"), steps: 3 },
  { joint: twisting("rightUpperLeg"), end: jointAt("rightLowerLeg"), steps: 2 },
].reduce(spreadTwist, plain);
const bytes = await writeGlb(figure);
const gltf = await new Promise<{ scene: Group; userData: Record<string, unknown> }>((resolve, reject) =>
  new GLTFLoader().parse(bytes.slice().buffer, "", (x) => resolve(x as never), reject),
);
const drivers = readDrivers(gltf.userData["yxomorph"]);
const motions = jointMotions(wick.skeleton!, map);
const random = randomFrom(31);

/** A pose within the joints' ranges, a few of them turned about two axes at once. */
function anyPose(): Pose {
  const pose: Record<string, [number, number, number]> = {};
  for (const m of motions) {
    if (random() < 0.5) continue;
    const before = poseRotation(pose, m.joint);
    const turn = fromAxisAngle(m.axis, between(random, 0.8 * m.min, 0.8 * m.max));
    pose[m.joint] = [...toEulerXYZ(multiplyQuat(before, turn))];
  }
  return pose;
}
const anyWeights = (): Record<string, number> => ({ [d!.name]: random(), AU12_left: random(), AU26: random() });
const POSES = Array.from({ length: 100 }, (): Moment => ({ ...REST_MOMENT, pose: anyPose(), weights: anyWeights() }));

it("gives the weights that the core gives, on random poses to 1e-6", () => {
  for (const moment of POSES) {
    const ours = weightsAt(figure, moment);
    const theirs = drivers.weightsOf((joint) => poseRotation(moment.pose, joint), moment.weights);
    figure.shapes.forEach((s, i) => expect(Math.abs((theirs.get(s.name) ?? 0) - ours[i]!)).toBeLessThan(1e-6));
  }
  expect(POSES.some((m) => (weightsAt(figure, m)[figure.shapes.indexOf(a!)] ?? 0) > 0.3)).toBe(true);
});

it("moves a hand-off in three.js as it is moved here: vertices within 0.02 mm on 100 random poses", () => {
  const bound = bindThree(drivers, gltf.scene);
  const rests = new Map<string, Quaternion>();
  const nodes = new Map<string, { quaternion: Quaternion }>();
  gltf.scene.traverse((o) => {
    nodes.set((o.userData["name"] as string | undefined) ?? o.name, o);
    rests.set((o.userData["name"] as string | undefined) ?? o.name, o.quaternion.clone());
  });
  const meshes: SkinnedMesh[] = [];
  gltf.scene.traverse((o) => void ((o as Mesh).isMesh && meshes.push(o as SkinnedMesh)));
  const part = figure.parts.findIndex((p) => p.kind === "body");
  const body = meshes.find(
    (m) =>
      m.geometry.getAttribute("position").count >= figure.parts[part]!.positions.length / 3 &&
      near(m, figure.parts[part]!.positions),
  )!;
  const rig = makeRig(figure);
  const place = new Vector3();
  let worst = 0;
  for (const moment of POSES) {
    for (const [name, node] of nodes) {
      const turn = moment.pose[name] ? poseRotation(moment.pose, name) : null;
      node.quaternion.copy(rests.get(name)!);
      if (turn) node.quaternion.multiply(new Quaternion(...turn));
    }
    bound.update(moment.weights);
    gltf.scene.updateMatrixWorld(true);
    const ours = deform(rig, moment, { normals: false, parts: [part] }).positions[part]!;
    for (let k = 0; k < 120; k++) {
      const v = Math.floor(random() * (ours.length / 3));
      body.getVertexPosition(v, place).applyMatrix4(body.matrixWorld);
      const off = Math.hypot(place.x - ours[3 * v]!, place.y - ours[3 * v + 1]!, place.z - ours[3 * v + 2]!);
      worst = Math.max(worst, off);
    }
  }
  expect(1000 * worst).toBeLessThan(0.02);
});

it("refuses what is no hand-off", () => {
  expect(() => readDrivers(undefined)).toThrow(/no extras of version 1/);
  expect(() => readDrivers({ version: 2 })).toThrow(/no extras of version 1/);
});

/** Whether a mesh's first vertices are a part's. */
function near(mesh: SkinnedMesh, positions: Float32Array): boolean {
  const at = mesh.geometry.getAttribute("position");
  return [0, 7, 100].every((v) => Math.abs(at.getX(v) - positions[3 * v]!) < 1e-5);
}

import { loadOda } from "../../demo/cast";
import { deform, makeRig } from "../deform/rig";
import { weightsAt } from "../evaluate/evaluate";
import { REST_MOMENT, type Moment } from "../evaluate/moment";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { translationOf } from "../math/mat4";
import { fromAxisAngle, toEulerXYZ } from "../math/quat";
import type { Character } from "../model/character";
import { humanoidMap } from "../skeleton/humanoidMap";
import { jointMotions } from "../skeleton/jointMotions";
import { proposeMuscles } from "./proposeMuscles";

const oda = await loadOda();
const map = humanoidMap(oda.skeleton!, oda.jointMap);
const motions = jointMotions(oda.skeleton!, map);
const muscles = proposeMuscles(oda, map, motions, 0.12);
const skin = oda.parts.findIndex((p) => p.kind === "body");
const of = (name: string): (typeof muscles)[number] => muscles.find((m) => m.shape.name === name)!;
const world = worldMatrices(oda.skeleton!, {});
const jointAt = (bone: string): readonly number[] => translationOf(world, 16 * map.jointOfBone.get(bone)!);
/** Middle of the vertices that a belly moves, weighed by how far, and the farthest movement, metres. */
function belly(name: string): { at: number[]; most: number } {
  const delta = of(name).shape.deltas.find((d) => d.part === skin)!;
  const P = oda.parts[skin]!.positions;
  let [sum, most] = [0, 0];
  const at = [0, 0, 0];
  delta.vertices.forEach((v, k) => {
    const m = Math.hypot(...delta.deltas.subarray(3 * k, 3 * k + 3));
    sum += m;
    most = Math.max(most, m);
    for (const c of [0, 1, 2]) at[c]! += m * P[3 * v + c]!;
  });
  return { at: at.map((x) => x / sum), most };
}

it("are biceps, hamstrings and calves of both sides, each with an effort of its own", () => {
  expect(muscles.map((m) => m.shape.name).sort()).toEqual(
    ["biceps", "calf", "hamstring"].flatMap((m) => [`${m}_left`, `${m}_right`]),
  );
  expect(new Set(muscles.map((m) => m.effort)).size).toBe(6);
});

it("lie where anatomy has them: biceps in front of the arm, hamstring and calf behind the leg, at the limb's middle", () => {
  const shoulder = jointAt("leftUpperArm");
  const elbow = jointAt("leftLowerArm");
  const biceps = belly("biceps_left").at;
  // on the side to which the forearm bends, forward
  expect(biceps[2]! - (shoulder[2]! + elbow[2]!) / 2).toBeGreaterThan(0.01);
  expect(biceps[0]!).toBeGreaterThan(shoulder[0]! + 0.2 * (elbow[0]! - shoulder[0]!));
  expect(biceps[0]!).toBeLessThan(shoulder[0]! + 0.8 * (elbow[0]! - shoulder[0]!));
  for (const [name, above, below] of [
    ["hamstring_left", "leftUpperLeg", "leftLowerLeg"],
    ["calf_left", "leftLowerLeg", "leftFoot"],
  ] as const) {
    const { at } = belly(name);
    const [a, b] = [jointAt(above), jointAt(below)];
    const t = (a[1]! - at[1]!) / (a[1]! - b[1]!);
    expect(t).toBeGreaterThan(0.15);
    expect(t).toBeLessThan(0.7);
    expect(at[2]!).toBeLessThan(a[2]! + t * (b[2]! - a[2]!) - 0.01);
  }
});

it("are mirror images of each other", () => {
  for (const name of ["biceps", "hamstring", "calf"]) {
    const [left, right] = [belly(`${name}_left`), belly(`${name}_right`)];
    expect(right.at[0]).toBeCloseTo(-left.at[0]!, 3);
    expect(right.at[2]).toBeCloseTo(left.at[2]!, 3);
    expect(right.most).toBeCloseTo(left.most, 4);
  }
});

it("rise by the angle, a part of it without effort and all of it with", () => {
  const { shape, driver, effort } = of("biceps_left");
  const figure: Character = {
    ...oda,
    shapes: [...oda.shapes, shape, { name: effort, label: effort, deltas: [] }],
    poseDrivers: [driver],
  };
  const bend = motions.find((m) => m.bone === "leftLowerArm" && m.name === "bend")!;
  const at = (degrees: number, set: number): Moment => ({
    ...REST_MOMENT,
    pose: { [bend.joint]: toEulerXYZ(fromAxisAngle(bend.axis, degrees)) },
    weights: { [effort]: set },
  });
  const index = figure.shapes.indexOf(shape);
  expect(weightsAt(figure, at(0, 1))[index]).toBeCloseTo(0, 5);
  expect(weightsAt(figure, at(bend.max, 0))[index]).toBeCloseTo(0.4, 5);
  expect(weightsAt(figure, at(bend.max, 1))[index]).toBeCloseTo(1, 5);
  // some millimetres of the arm, seen in the pose
  const rig = makeRig(figure);
  const [slack, tense] = [0, 1].map((e) =>
    deform(rig, at(90, e), { normals: false, parts: [skin] }).positions[skin]!.slice(),
  ) as [Float32Array, Float32Array];
  const most = slack.reduce((m, x, i) => Math.max(m, Math.abs(x - tense[i]!)), 0);
  expect(most).toBeGreaterThan(0.002);
  expect(most).toBeLessThan(0.02);
});

it("are left out where they are there already, or nothing is mapped", () => {
  const { shape } = of("calf_left");
  expect(proposeMuscles({ ...oda, shapes: [...oda.shapes, shape] }, map, motions, 0.12)).toHaveLength(5);
  expect(proposeMuscles({ ...oda, skeleton: null }, map, motions, 0.12)).toEqual([]);
});

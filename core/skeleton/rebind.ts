import { withTracks } from "../model/character";
import { countedFrom } from "../model/drivenByTurn";
import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT } from "../evaluate/moment";
import { driverAngle } from "../evaluate/drivers/driverWeight";
import { evaluate } from "../evaluate/evaluate";
import { poseRotation, worldMatrices, type Pose } from "../evaluate/poseSkeleton";
import { turnOf } from "../evaluate/turns";
import { invertAffine } from "../math/mat4";
import { fromAxisAngle, multiplyQuat, toEulerXYZ } from "../math/quat";
import { degrees, dot, normalize, sub, type Vec3 } from "../math/vec3";
import { decomposeTRS, translationOf } from "../math/mat4";
import { angleBetweenQuats, conjugate, IDENTITY_QUAT, rotate } from "../math/quat";
import {
  type Character,
  type ClipTrack,
  type Joint,
  type Part,
  type Shape,
  type ShapeDelta,
  type Skeleton,
} from "../model/character";
import { jointIndexOf } from "../model/jointIndex";
import { UserError } from "../model/userError";
import { humanoidMap } from "./humanoidMap";
import { atChangedJoints } from "../model/changeDrivers";
import { UNCHANGED, type JointChange } from "../model/terms/jointChange";
import type { SampleSet } from "../model/poseDriver";

/**
 * The character bound anew in a pose: the mesh takes the posed form, the skeleton rests there, and every shape is
 * turned by each vertex's own skinning, so that in that pose everything looks as before (exactly, with linear
 * skinning). Clips say where joints are and stay, joints without keys held by one where they stood; what drives
 * correctives is counted from the new rest. In other poses vertices held by several joints come out a little otherwise:
 * see rebindError. @throws UserError without a skeleton. Changes nothing of its input.
 */
export function rebind(character: Character, given: Pose): Character {
  const { skeleton } = character;
  if (!skeleton) throw new UserError("The character has no skeleton to bind to.", "rest pose", "");
  const pose = { ...given, ...twistsIn(character, given) };
  const posed = deform(makeRig(character), { ...REST_MOMENT, pose, drivers: false }, { normals: false });
  const joints = skeleton.joints.map((j) => ({ ...j, rotation: multiplyQuat(j.rotation, poseRotation(pose, j.name)) }));
  const world = worldMatrices({ ...skeleton, joints }, {});
  const inverseBinds = new Float32Array(world.length);
  const m = new Float64Array(16);
  joints.forEach((j, i) => {
    if (!invertAffine(m, 0, world, 16 * i))
      throw new UserError(`The rest of ${j.name} cannot be inverted.`, "rest pose", "Give it a scale other than 0.");
    inverseBinds.set(m, 16 * i);
  });
  const turned = (delta: ShapeDelta): ShapeDelta => {
    const matrices = posed.matrices[delta.part];
    return matrices ? { ...delta, deltas: turnDeltas(character.parts[delta.part]!, delta, matrices) } : delta;
  };
  const bindMatrices = posed.matrices.find((x) => x !== null) ?? null;
  const offsets = (shape: Shape): Partial<Shape> =>
    shape.jointOffsets && bindMatrices
      ? {
          jointOffsets: shape.jointOffsets.map((o) => {
            const j = joints.findIndex((x) => x.name === o.joint);
            const up = j >= 0 ? joints[j]!.parent : -1;
            return up < 0 ? o : { ...o, offset: linear(bindMatrices, 16 * up, o.offset) };
          }),
        }
      : {};
  return {
    ...character,
    parts: character.parts.map((p, i): Part =>
      p.skin ? { ...p, positions: posed.positions[i]!, skin: { ...p.skin, inverseBinds: null } } : p,
    ),
    skeleton: { ...skeleton, joints, inverseBinds },
    shapes: character.shapes.map((s) => ({ ...s, deltas: s.deltas.map(turned), ...offsets(s) })),
    clips: character.clips.map((c) => withTracks(c, (all) => holding(all, skeleton, joints))),
    drivers: character.drivers.map((d) => countedFrom(d, driverAngle(d, pose))),
    ...fromNewRest(character, pose),
  };
}

/** Angles of the joints that share a twist in a pose. */
function twistsIn(character: Character, pose: Pose): Pose {
  const { turns } = evaluate(character, { ...REST_MOMENT, pose, drivers: false });
  return Object.fromEntries(
    (character.twistJoints ?? []).map((t) => [
      t.joint,
      toEulerXYZ(turnOf(turns, jointIndexOf(character.skeleton!).get(t.joint)!)),
    ]),
  );
}

/** Drivers of a pose counted from the new rest; in sampled poses the rest of before is a pose without a shape. */
function fromNewRest(character: Character, pose: Pose): ReturnType<typeof atChangedJoints> {
  const counted = atChangedJoints(character, (joint): JointChange => {
    const back = conjugate(poseRotation(pose, joint));
    return {
      ...UNCHANGED,
      joint,
      towards: (v) => rotate(back, v),
      turn: (q) => multiplyQuat(back, q),
      already: (axis) => driverAngle({ joint, axis: [axis[0], axis[1], axis[2]] }, pose),
    };
  });
  const before = (set: SampleSet): SampleSet => {
    const turns = set.joints.map(({ joint }) => conjugate(poseRotation(pose, joint)));
    const samples = set.samples.filter((s) => s.turns.some((q) => angleBetweenQuats(q, IDENTITY_QUAT) > 0.1));
    return turns.some((q) => angleBetweenQuats(q, IDENTITY_QUAT) > 0.1)
      ? { ...set, samples: [...samples, { name: "rest before", shape: null, turns }] }
      : set;
  };
  return { ...counted, ...(counted.sampleSets ? { sampleSets: counted.sampleSets.map(before) } : {}) };
}

/**
 * Tracks with one key for every joint that it leaves at rest and that rests otherwise now: it stands in the clip
 * where it stood.
 */
function holding(tracks: readonly ClipTrack[], before: Skeleton, now: readonly Joint[]): readonly ClipTrack[] {
  const keyed = new Set(tracks.filter((t) => t.path === "rotation").map((t) => t.joint));
  const held = before.joints.flatMap(({ name, rotation }, j): ClipTrack[] =>
    keyed.has(name) || rotation.every((x, i) => x === now[j]!.rotation[i])
      ? []
      : [
          {
            joint: name,
            path: "rotation",
            interpolation: "STEP",
            times: Float32Array.of(0),
            values: Float32Array.from(rotation),
          },
        ],
  );
  return held.length ? [...tracks, ...held] : tracks;
}

const linear = (m: ArrayLike<number>, at: number, v: Vec3): Vec3 =>
  [0, 1, 2].map((r) => m[at + r]! * v[0] + m[at + 4 + r]! * v[1] + m[at + 8 + r]! * v[2]) as unknown as Vec3;

/** Movements turned by the linear part of each vertex's blended skinning matrix. */
function turnDeltas({ skin }: Part, { vertices, deltas }: ShapeDelta, matrices: Float64Array): Float32Array {
  const out = new Float32Array(deltas.length);
  const n = skin!.influenceCount;
  vertices.forEach((v, k) => {
    const d: Vec3 = [deltas[3 * k]!, deltas[3 * k + 1]!, deltas[3 * k + 2]!];
    for (let i = n * v; i < n * v + n; i++) {
      const w = skin!.weights[i]!;
      if (w === 0) continue;
      const turned = linear(matrices, 16 * skin!.joints[i]!, d);
      for (let c = 0; c < 3; c++) out[3 * k + c]! += w * turned[c]!;
    }
  });
  return out;
}

/**
 * Pose that brings both upper arms to an angle below level, degrees (0 is a T, 40 a usual A), on top of a pose; the
 * arms stay where they are seen from above.
 */
export function armsAt(character: Character, below: number, pose: Pose = {}): Pose {
  const { skeleton } = character;
  if (!skeleton) throw new UserError("The character has no skeleton.", "rest pose", "");
  const map = humanoidMap(skeleton, character.jointMap);
  const world = worldMatrices(skeleton, pose);
  const out: Record<string, Vec3> = { ...pose };
  for (const side of ["left", "right"] as const) {
    const [upper, lower] = ["UpperArm", "LowerArm"].map((b) => map.jointOfBone.get(`${side}${b}`));
    if (upper === undefined || lower === undefined)
      throw new UserError(`The ${side} arm is not mapped.`, "rest pose", "Map upper and lower arm first.");
    const d = normalize(sub(translationOf(world, 16 * lower), translationOf(world, 16 * upper)));
    const level = normalize([d[0], 0, d[2]]);
    const now = degrees(Math.atan2(-d[1], dot(d, level)));
    // an axis level and square to the arm: a positive turn about it lifts the arm
    const axis: Vec3 = [level[2] * -1, 0, level[0]];
    const lift =
      dot(
        [axis[1] * d[2] - axis[2] * d[1], axis[2] * d[0] - axis[0] * d[2], axis[0] * d[1] - axis[1] * d[0]],
        [0, 1, 0],
      ) >= 0
        ? 1
        : -1;
    const frame = decomposeTRS(world, 16 * upper).q;
    const turn = fromAxisAngle(rotate(conjugate(frame), axis), lift * (now - below));
    const name = skeleton.joints[upper]!.name;
    out[name] = toEulerXYZ(multiplyQuat(poseRotation(pose, name), turn));
  }
  return out;
}

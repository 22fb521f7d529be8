import { worldMatrices } from "../../evaluate/poseSkeleton";
import { translationOf } from "../../math/mat4";
import { solve3 } from "../../math/solve3";
import { add, pointAt, scale, sub, type Vec3 } from "../../math/vec3";
import {
  isDriven,
  type Character,
  type JointOffset,
  type Part,
  type Shape,
  type Skeleton,
} from "../../model/character";
import { UserError } from "../../model/userError";
import { eyeMoves, eyesOf } from "../../measure/eyeMoves";
import { humanoidMap } from "../../skeleton/humanoidMap";
import { jointNeighbourhoods } from "../../skeleton/jointNeighbourhoods";

/** Joints of the face keep their place: a face shape is no other build. */
const OF_THE_FACE = /^(jaw|leftEye|rightEye)$/;
/** Movements shorter than this are none, metres. */
const LEAST = 1e-5;

/** A ring of fewer vertices says too little; the skin that the joint holds is taken instead. */
const FEWEST = 6;
/** Share of the ring's own spread that holds the fit back where the ring says nothing, as across its plane. */
const RIDGE = 0.01;

/**
 * How far each joint goes with the flesh when a shape changes the build. The ring of skin that a joint holds half
 * together with what it hangs on is fitted by an affine map (least squares, Tikhonov-regularised toward moving as one),
 * and the map is read at the joint's own place; a joint without enough of a ring takes the skin it holds itself. A
 * joint without skin of its own (a hair's) goes as the nearest joint above it that has some; an eye's goes with the
 * centre of its eyeball.
 */
export function jointOffsetsOf(character: Character, shape: Shape): JointOffset[] {
  const { skeleton } = character;
  const body = character.parts.findIndex((p) => p.kind === "body" && p.skin);
  const delta = shape.deltas.find((d) => d.part === body);
  if (!skeleton || body < 0) throw new UserError("There is no bound body to read joints from.", "refit", "");
  const eyes = eyeMoves(character, shape);
  if (!delta && eyes.length === 0) throw new UserError(`${shape.name} moves neither skin nor eyeballs.`, "refit", "");
  const { jointOfBone } = humanoidMap(skeleton, character.jointMap);
  const ofEye = new Map(
    eyes.flatMap(({ eye, move }) =>
      jointOfBone.has(`${eye.side}Eye`) ? [[jointOfBone.get(`${eye.side}Eye`)!, move] as const] : [],
    ),
  );
  const part = character.parts[body]!;
  const { rings, face } = ringsOf(character, skeleton, part);
  const world = worldMatrices(skeleton, {});
  const row = new Map(Array.from(delta?.vertices ?? [], (v, k) => [v, k]));
  const move = (v: number): Vec3 =>
    delta && row.has(v)
      ? [delta.deltas[3 * row.get(v)!]!, delta.deltas[3 * row.get(v)! + 1]!, delta.deltas[3 * row.get(v)! + 2]!]
      : [0, 0, 0];
  const moved: Vec3[] = [];
  return skeleton.joints
    .map(({ name, parent }, j): JointOffset => {
      const ring = rings[j]!;
      const still = face[j] || ring.length < FEWEST;
      // an eye goes with its eyeball, whatever the skin round it does
      const eye = ofEye.get(j);
      if (eye) moved[j] = eye;
      else if (still) moved[j] = parent >= 0 ? moved[parent]! : [0, 0, 0];
      else
        moved[j] = mapAt(
          ring.map((v) => pointAt(part.positions, v)),
          ring.map(move),
          translationOf(world, 16 * j),
        );
      return { joint: name, offset: moved[j]! };
    })
    .filter((o) => Math.hypot(...o.offset) > LEAST);
}

interface Rings {
  readonly skeleton: Skeleton;
  readonly jointMap: Character["jointMap"];
  readonly rings: readonly (readonly number[])[];
  /** Joints of the face. */
  readonly face: readonly boolean[];
}
const known = new WeakMap<Part, Rings>();
/** The skin that each joint goes by, found once for a body and its skeleton. */
function ringsOf({ jointMap }: Character, skeleton: Skeleton, part: Part): Rings {
  const found = known.get(part);
  if (found?.skeleton === skeleton && found.jointMap === jointMap) return found;
  const { boneOfJoint } = humanoidMap(skeleton, jointMap);
  const made: Rings = {
    skeleton,
    jointMap,
    face: boneOfJoint.map((bone) => OF_THE_FACE.test(bone ?? "")),
    rings: jointNeighbourhoods(part, skeleton).map((ring, j) => (ring.length >= FEWEST ? ring : heldBy(part, j))),
  };
  known.set(part, made);
  return made;
}

/** Vertices that a joint holds by a quarter or more. */
function heldBy({ positions, skin }: Part, joint: number): number[] {
  const n = skin!.influenceCount;
  return Array.from({ length: positions.length / 3 }, (_, v) => v).filter((v) =>
    Array.from({ length: n }, (_, k) => n * v + k).some((i) => skin!.joints[i] === joint && skin!.weights[i]! >= 0.25),
  );
}

/** Movement at a place by the affine map that fits the movements of points best. */
function mapAt(points: readonly Vec3[], moves: readonly Vec3[], at: Vec3): Vec3 {
  const mean = (list: readonly Vec3[]): Vec3 =>
    scale(
      list.reduce((a, b) => add(a, b), [0, 0, 0] as Vec3),
      1 / list.length,
    );
  const [centre, shift] = [mean(points), mean(moves)];
  const spread = new Float64Array(9);
  const along = new Float64Array(9);
  points.forEach((p, i) => {
    const q = sub(p, centre);
    const d = sub(moves[i]!, shift);
    for (let r = 0; r < 3; r++)
      for (let c = 0; c < 3; c++) {
        spread[3 * r + c]! += q[r]! * q[c]!;
        along[3 * r + c]! += d[r]! * q[c]!;
      }
  });
  const ridge = (RIDGE * (spread[0]! + spread[4]! + spread[8]!)) / 3 + 1e-12;
  for (const k of [0, 4, 8]) spread[k]! += ridge;
  const x = solve3(spread, sub(at, centre));
  return add(
    shift,
    [0, 1, 2].map((r) => along[3 * r]! * x[0] + along[3 * r + 1]! * x[1] + along[3 * r + 2]! * x[2]) as unknown as Vec3,
  );
}

/** What a shape does to the joints: how many go with the flesh, and the furthest, metres. */
export interface BuildShape {
  readonly name: string;
  readonly joints: number;
  readonly worst: { readonly joint: string; readonly metres: number };
  /** Furthest that a joint is now from where the flesh takes it, metres. */
  readonly off: number;
  /** Whether the shape has joint offsets already. */
  readonly has: boolean;
}

/**
 * Shapes that take joints below the head along by more than a length in metres, the furthest first. Correctives are
 * left out, and so are shapes of the face, which move flesh at the head only, unless they take an eyeball along.
 */
export function buildShapes(character: Character, least = 0.001): BuildShape[] {
  const body = character.parts.findIndex((p) => p.kind === "body" && p.skin);
  if (!character.skeleton || body < 0) return [];
  const { joints } = character.skeleton;
  const { jointOfBone } = humanoidMap(character.skeleton, character.jointMap);
  const head = jointOfBone.get("head");
  const eyes = new Set(
    ["leftEye", "rightEye"].flatMap((b) => (jointOfBone.has(b) ? [joints[jointOfBone.get(b)!]!.name] : [])),
  );
  const eyeParts = new Set(eyesOf(character).map((e) => e.part));
  const ofHead = new Set(
    joints
      .map((_, j) => j)
      .filter((j) => {
        for (let k = j; k >= 0; k = joints[k]!.parent) if (k === head) return true;
        return false;
      })
      .map((j) => joints[j]!.name),
  );
  return character.shapes
    .filter(
      (s) =>
        !isDriven(character, s.name) &&
        s.deltas.some((d) => d.vertices.length > 0 && (d.part === body || eyeParts.has(d.part))) &&
        (s.deltas.some((d) => d.part === body) || eyeMoves(character, s).length > 0),
    )
    .flatMap((shape): BuildShape[] => {
      const offsets = jointOffsetsOf(character, shape);
      const movesEyes = eyeMoves(character, shape).some((m) => Math.hypot(...m.move) > least);
      const has = new Map((shape.jointOffsets ?? []).map((o) => [o.joint, o.offset]));
      const far = offsets.filter(
        (o) => (!ofHead.has(o.joint) || (eyes.has(o.joint) && movesEyes)) && Math.hypot(...o.offset) > least,
      );
      const worst = far.reduce<JointOffset | null>(
        (w, o) => (w && Math.hypot(...w.offset) >= Math.hypot(...o.offset) ? w : o),
        null,
      );
      const off = offsets.reduce((m, o) => Math.max(m, Math.hypot(...sub(o.offset, has.get(o.joint) ?? [0, 0, 0]))), 0);
      return worst
        ? [
            {
              name: shape.name,
              joints: far.length,
              worst: { joint: worst.joint, metres: Math.hypot(...worst.offset) },
              off,
              has: (shape.jointOffsets?.length ?? 0) > 0,
            },
          ]
        : [];
    })
    .sort((a, b) => b.worst.metres - a.worst.metres);
}

/** The character with the joint offsets of several shapes read anew, in one go. */
export const refitShapes = (character: Character, names: readonly string[]): Character =>
  names.reduce(refitJoints, character);

/**
 * The character with the offset of one eye's joint under a shape set to where the eyeball goes; what the shape does to
 * other joints stays. @throws UserError when the shape does not move it.
 */
export function refitEye(character: Character, name: string, joint: string): Character {
  const shape = character.shapes.find((s) => s.name === name);
  const map = character.skeleton && humanoidMap(character.skeleton, character.jointMap);
  const bone = map?.boneOfJoint[character.skeleton!.joints.findIndex((j) => j.name === joint)];
  const found = shape && eyeMoves(character, shape).find((m) => bone === `${m.eye.side}Eye`);
  if (!shape || !found) throw new UserError(`${name} does not move the eyeball of ${joint}.`, "refit", "");
  const jointOffsets = [...(shape.jointOffsets ?? []).filter((o) => o.joint !== joint), { joint, offset: found.move }];
  return { ...character, shapes: character.shapes.map((s) => (s === shape ? { ...s, jointOffsets } : s)) };
}

/** The character with a shape's joint offsets read from what the shape does to the skin round each joint. */
export function refitJoints(character: Character, name: string): Character {
  const shape = character.shapes.find((s) => s.name === name);
  if (!shape) throw new UserError(`There is no shape named ${name}.`, "refit", "");
  const jointOffsets = jointOffsetsOf(character, shape);
  return { ...character, shapes: character.shapes.map((s) => (s === shape ? { ...s, jointOffsets } : s)) };
}

import { worldMatrices } from "../../core/evaluate/poseSkeleton";
import { composeTRS, decomposeTRS, invertAffine, translationOf } from "../../core/math/mat4";
import { conjugate, multiplyQuat, rotate } from "../../core/math/quat";
import { add, normalize, scale, sub, type Vec3 } from "../../core/math/vec3";
import {
  NO_JOINT,
  vertexCountOf,
  type Character,
  type Joint,
  type Material,
  type Part,
  type Skeleton,
} from "../../core/model/character";
import { neighboursOf } from "../../core/model/neighbours";
import { humanoidMap } from "../../core/skeleton/humanoidMap";
import { colour } from "../figure/parts/colour";
import { unfoldShape } from "../modelling/unfoldShape";
import { BASE, type Person } from "./people";
import { extremityMap, eyeMap, eyeShare, headMap, limbMap, torsoMap, type PointMap } from "./personMap";

/**
 * Another person from the base figure: every joint carries the space around it, vertices follow by their skin weights,
 * shapes by the difference of the moved and the resting vertex. Vertex order, parts and shapes stay those of the base.
 */
export function makePerson(base: Character, person: Person): Character {
  const maps = jointMaps(base, person);
  const parts = base.parts.map((part) => ({
    ...part,
    positions: mapped(part, maps, part.positions),
    colors: part.colors && tinted(part, person),
  }));
  const neighbours = parts.map(neighboursOf);
  // the base's proportion shapes lead away from the base's own build
  const shapes = base.shapes
    .filter((shape) => !shape.jointOffsets)
    .map((shape) => ({
      ...shape,
      deltas: shape.deltas.map((delta) => {
        const part = base.parts[delta.part]!;
        const out = new Float32Array(delta.deltas.length);
        delta.vertices.forEach((v, k) => {
          const rest = pointOf(part.positions, v);
          const moved = add(rest, [delta.deltas[3 * k]!, delta.deltas[3 * k + 1]!, delta.deltas[3 * k + 2]!]);
          out.set(sub(carry(part, maps, v, moved, rest), carry(part, maps, v, rest, rest)), 3 * k);
        });
        return unfoldShape(parts[delta.part]!, { ...delta, deltas: out }, neighbours[delta.part]);
      }),
    }));
  return {
    ...base,
    name: person.name,
    parts,
    shapes,
    skeleton: movedSkeleton(base.skeleton!, maps),
    materials: base.materials.map((m) => dyed(m, person)),
  };
}

interface JointMaps {
  readonly of: readonly PointMap[];
  /** Per joint: 0 no head, 1 head and what hangs on it. */
  readonly inHead: readonly boolean[];
  readonly eyes: readonly [PointMap, PointMap];
}

const pointOf = (P: Float32Array, v: number): Vec3 => [P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!];

/** Space map of every joint, from the root outward: limbs start where the map above them puts their joint. */
function jointMaps(base: Character, person: Person): JointMaps {
  const skeleton = base.skeleton!;
  const { boneOfJoint, jointOfBone } = humanoidMap(skeleton, base.jointMap);
  const world = worldMatrices(skeleton, {});
  const place = skeleton.joints.map((_, j) => translationOf(world, 16 * j));
  const torso = torsoMap(person);
  const head = headMap(person);
  const eyes = [eyeMap(person, 1), eyeMap(person, -1)] as const;
  const inHead: boolean[] = [];
  const of: PointMap[] = [];
  const at = (bone: string): Vec3 => place[jointOfBone.get(bone)!]!;
  skeleton.joints.forEach((joint, j) => {
    const bone = boneOfJoint[j] ?? "";
    const above = joint.parent === NO_JOINT ? torso : of[joint.parent]!;
    const side = bone.startsWith("left") ? "left" : bone.startsWith("right") ? "right" : null;
    const kind = side ? bone.slice(side.length) : bone;
    inHead[j] = kind === "head" || (joint.parent !== NO_JOINT && inHead[joint.parent]!);
    const limb = (to: string, [length, girth]: readonly [number, number]): PointMap =>
      limbMap(place[j]!, above(place[j]!), normalize(sub(at(`${side}${to}`), place[j]!)), length, girth);
    const { body } = person;
    if (kind === "Eye") of[j] = eyes[side === "left" ? 0 : 1];
    else if (inHead[j]) of[j] = head;
    else if (["hips", "spine", "chest", "upperChest", "neck", "Shoulder"].includes(kind)) of[j] = torso;
    else if (kind === "UpperArm") of[j] = limb("LowerArm", body.upperArm);
    else if (kind === "LowerArm") of[j] = limb("Hand", body.lowerArm);
    else if (kind === "UpperLeg")
      of[j] = hipMap(place[j]!, torso, normalize(sub(at(`${side}LowerLeg`), place[j]!)), person);
    else if (kind === "LowerLeg") of[j] = limb("Foot", body.lowerLeg);
    else if (kind === "Hand")
      of[j] = extremityMap(
        place[j]!,
        above(place[j]!),
        acrossHand(at(`${side}IndexProximal`), at(`${side}LittleProximal`)),
        ...body.hand,
      );
    else if (kind === "Foot") of[j] = footMap(place[j]!, above(place[j]!), person);
    else of[j] = above;
  });
  return { of, inHead, eyes };
}

const acrossHand = (index: Vec3, little: Vec3): Vec3 => sub(index, little);

/** The thigh starts at the hips' own place, set apart by the person's width. */
function hipMap(from: Vec3, torso: PointMap, along: Vec3, person: Person): PointMap {
  const to = torso(from);
  return limbMap(from, [from[0] * person.body.hipsApart, to[1], to[2]], along, ...person.body.upperLeg);
}

/** A foot keeps its sole on the ground. */
function footMap(from: Vec3, to: Vec3, person: Person): PointMap {
  const [size, wide] = person.body.foot;
  return (p) => [to[0] + (p[0] - from[0]) * size * wide, p[1] * (to[1] / from[1]), to[2] + (p[2] - from[2]) * size];
}

/** Where a vertex goes; `rest` decides how much of an eye it is, so that a lid keeps to its eyeball on the way down. */
function carry(part: Part, maps: JointMaps, v: number, p: Vec3, rest: Vec3): Vec3 {
  const skin = part.skin!;
  let out: Vec3 = [0, 0, 0];
  let inHead = 0;
  for (let k = 0; k < skin.influenceCount; k++) {
    const w = skin.weights[v * skin.influenceCount + k]!;
    if (w === 0) continue;
    const j = skin.joints[v * skin.influenceCount + k]!;
    out = add(out, scale(maps.of[j]!(p), w));
    if (maps.inHead[j]) inHead += w;
  }
  if (inHead < 0.5 || part.kind === "eye") return out;
  const side = rest[0] >= 0 ? 1 : -1;
  const share = eyeShare(rest, side);
  return share === 0 ? out : add(out, scale(sub(maps.eyes[side === 1 ? 0 : 1](p), out), share));
}

function mapped(part: Part, maps: JointMaps, positions: Float32Array): Float32Array {
  const out = new Float32Array(positions.length);
  for (let v = 0; v < vertexCountOf(part); v++) {
    const p = pointOf(positions, v);
    out.set(carry(part, maps, v, p, p), 3 * v);
  }
  return out;
}

/** Joints at their new places, frames turned along with the bone they lie on. */
function movedSkeleton(skeleton: Skeleton, maps: JointMaps): Skeleton {
  const world = worldMatrices(skeleton, {});
  const place = skeleton.joints.map((_, j) => translationOf(world, 16 * j));
  const frame = skeleton.joints.map((_, j) => decomposeTRS(world, 16 * j).q);
  const to = skeleton.joints.map((_, j) => maps.of[j]!(place[j]!));
  const inverseBinds = new Float32Array(skeleton.inverseBinds.length);
  const m = new Float64Array(16);
  const inverse = new Float64Array(16);
  const joints = skeleton.joints.map((joint, j): Joint => {
    composeTRS(m, 0, to[j]!, frame[j]!, [1, 1, 1]);
    invertAffine(inverse, 0, m, 0);
    inverseBinds.set(inverse, 16 * j);
    const up = joint.parent;
    return up === NO_JOINT
      ? { ...joint, translation: to[j]! }
      : {
          ...joint,
          translation: rotate(conjugate(frame[up]!), sub(to[j]!, to[up]!)),
          rotation: multiplyQuat(conjugate(frame[up]!), frame[j]!),
        };
  });
  return { ...skeleton, joints, inverseBinds };
}

const linear = (c: readonly number[]): readonly number[] => colour(c[0]!, c[1]!, c[2]!);
const ratio = (to: readonly number[], from: readonly number[]): number[] =>
  linear(to).map((x, k) => x / linear(from)[k]!);

const luminance = (c: readonly number[]): number => 0.2126 * c[0]! + 0.7152 * c[1]! + 0.0722 * c[2]!;
/** Red over green of the base's skin, linear. */
const BASE_RED = linear(BASE.skin)[0]! / linear(BASE.skin)[1]!;

/** Vertex colours of skin, hair and irises in the person's tones; cloth and the whites of eyes stay. */
function tinted(part: Part, person: Person): Float32Array {
  const { colour: tones } = person;
  const skin = ratio(tones.skin, BASE.skin);
  const iris = ratio(tones.iris, BASE.iris);
  const hair = linear(tones.hair);
  const pale = linear(tones.skin);
  const out = part.colors!.slice();
  for (let i = 0; i < out.length; i += 4) {
    const c: Vec3 = [out[i]!, out[i + 1]!, out[i + 2]!];
    if (part.kind === "body" && c[2] < c[0]) {
      const tinted = c.map((x, k) => x * skin[k]!);
      // lips: what is redder than skin gives way to it by the person's share
      const red = Math.min(1, Math.max(0, (c[0] / c[1] / (BASE_RED * 1.5) - 1) * 2)) * (1 - tones.lips);
      out.set(
        tinted.map((x, k) => x + red * (0.55 * pale[k]! - x)),
        i,
      );
    } else if (part.kind === "hair" || part.kind === "brow") {
      const light = luminance(c) / luminance(linear(BASE.hair));
      out.set(
        hair.map((x) => Math.min(1, x * light)),
        i,
      );
    } else if (part.kind === "eye" && Math.min(...c) <= 0.4)
      out.set(
        c.map((x, k) => Math.min(1, x * iris[k]!)),
        i,
      );
  }
  return out;
}

function dyed(material: Material, person: Person): Material {
  const { top, trousers, shoes } = person.colour;
  const cloth = { "top cloth": top, "trouser cloth": trousers, "shoe leather": shoes }[material.name] ?? null;
  const [r, g, b] = cloth ? linear(cloth) : [];
  return cloth ? { ...material, baseColor: [r!, g!, b!, 1] } : material;
}

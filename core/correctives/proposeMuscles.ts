import { decomposeTRS, invertAffine, translationOf } from "../math/mat4";
import { rotate } from "../math/quat";
import { add, cross, dot, length, normalize, scale, sub, type Vec3 } from "../math/vec3";
import type { Character, Shape, ShapeDelta, Skeleton } from "../model/character";
import type { PoseDriver } from "../model/poseDriver";
import { uniqueName } from "../model/uniqueName";
import type { HumanoidMap } from "../skeleton/humanoidMap";
import type { JointMotion } from "../skeleton/jointMotions";
import { carryMovement, carrySurface } from "../surface/carryMovement";
import { smoothStep } from "../math/smoothStep";

/** A muscle whose belly shows: which bone it lies on, what it bends, and where its belly is (common practice). */
interface MuscleKind {
  readonly name: string;
  readonly bone: string;
  readonly bends: string;
  /** Where the bone that it bends ends. */
  readonly beyond: string;
  readonly motion: string;
  /** Whether it lies on the side to which the next bone bends, or behind the bone, away from where the foot points. */
  readonly side: "bends to" | "behind";
  /** Along the bone, 0..1: its middle, and how far it reaches to either side. */
  readonly middle: number;
  readonly reach: number;
}
const KINDS: readonly MuscleKind[] = [
  {
    name: "biceps",
    bone: "UpperArm",
    bends: "LowerArm",
    beyond: "Hand",
    motion: "bend",
    side: "bends to",
    middle: 0.55,
    reach: 0.42,
  },
  {
    name: "hamstring",
    bone: "UpperLeg",
    bends: "LowerLeg",
    beyond: "Foot",
    motion: "bend",
    side: "bends to",
    middle: 0.52,
    reach: 0.4,
  },
  {
    name: "calf",
    bone: "LowerLeg",
    bends: "Foot",
    beyond: "Toes",
    motion: "point",
    side: "behind",
    middle: 0.3,
    reach: 0.32,
  },
];

export interface ProposedMuscle {
  readonly shape: Shape;
  readonly driver: PoseDriver;
  /** Shape that moves nothing and holds the effort which the animator sets. */
  readonly effort: string;
}

/** Part of it that shows without effort: a bent arm bulges a little by itself. */
const WITHOUT_EFFORT = 0.4;
/** Movement below this is left out, metres. */
const LEAST = 5e-5;

/**
 * Bellies of biceps, hamstrings and calves on both sides, each driven by the angle that it bends and by an effort.
 * @param amount how far a belly rises, as a share of the limb's thickness there. Limbs whose joints are not mapped, or
 * whose belly is there already by name, are left out. Changes nothing.
 */
export function proposeMuscles(
  character: Character,
  map: HumanoidMap,
  motions: readonly JointMotion[],
  amount: number,
): ProposedMuscle[] {
  const { skeleton } = character;
  const skin = character.parts.findIndex((p) => p.kind === "body" && p.skin);
  if (!skeleton || skin < 0) return [];
  const bind = bindMatrices(skeleton);
  const taken = new Set(character.shapes.map((s) => s.name));
  const surface = carrySurface(character.parts[skin]!);
  return (["left", "right"] as const).flatMap((side) =>
    KINDS.flatMap((kind): ProposedMuscle[] => {
      if (taken.has(`${kind.name}_${side}`)) return [];
      const bends = motions.find((m) => m.bone === `${side}${kind.bends}` && m.name === kind.motion);
      const delta = bends && bellyOf(character, skin, map, bind, kind, side, bends, amount);
      if (!bends || !delta) return [];
      const carried = character.parts.flatMap((_, p) =>
        p === skin ? [] : (carryMovement(character, p, delta, surface) ?? []),
      );
      const name = uniqueName(`${kind.name}_${side}`, taken, kind.name);
      const effort = `effort_${name}`;
      return [
        {
          shape: { name, label: `${kind.name} ${side}`, deltas: [delta, ...carried].sort((a, b) => a.part - b.part) },
          effort,
          driver: {
            shape: name,
            terms: [
              {
                kind: "angle",
                joint: bends.joint,
                axis: bends.axis,
                points: [
                  { degrees: 0, weight: 0 },
                  { degrees: bends.max, weight: 1 },
                ],
                between: "smooth",
              },
              { kind: "weight", shape: effort, atNone: WITHOUT_EFFORT },
            ],
            rule: "product",
            group: "muscle",
            intensity: 1,
            enabled: true,
          },
        },
      ];
    }),
  );
}

/** 16 x jointCount, joint space to bind space. */
function bindMatrices({ inverseBinds }: Skeleton): Float64Array {
  const out = new Float64Array(inverseBinds.length);
  for (let at = 0; at < out.length; at += 16) invertAffine(out, at, inverseBinds, at);
  return out;
}

/** Joints of a bone: from its own down to the one that the next bone hangs on, helpers that twist it included. */
function jointsOfBone({ joints }: Skeleton, first: number, next: number): Set<number> {
  const all = new Set([first]);
  for (let j = joints[next]!.parent; j >= 0 && j !== first; j = joints[j]!.parent) all.add(j);
  return all;
}

function bellyOf(
  character: Character,
  part: number,
  map: HumanoidMap,
  bind: Float64Array,
  kind: MuscleKind,
  side: string,
  bends: JointMotion,
  amount: number,
): ShapeDelta | null {
  const skeleton = character.skeleton!;
  const first = map.jointOfBone.get(`${side}${kind.bone}`);
  const next = map.jointOfBone.get(`${side}${kind.bends}`);
  if (first === undefined || next === undefined) return null;
  const from = translationOf(bind, 16 * first);
  const bone = sub(translationOf(bind, 16 * next), from);
  const long = length(bone);
  if (long < 1e-3) return null;
  const along = scale(bone, 1 / long);
  const to = outwards(character, map, bind, kind, side, bends, next);
  const belly = sub(to, scale(along, dot(to, along)));
  if (length(belly) < 0.1) return null;
  const out = normalize(belly);
  const { positions: P, skin } = character.parts[part]!;
  const own = jointsOfBone(skeleton, first, next);
  const { influenceCount, joints, weights } = skin!;
  const found: { v: number; share: number; way: Vec3; off: number }[] = [];
  for (let v = 0; v < P.length / 3; v++) {
    let held = 0;
    for (let k = v * influenceCount; k < (v + 1) * influenceCount; k++) if (own.has(joints[k]!)) held += weights[k]!;
    if (held < 0.05) continue;
    const at = sub([P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!], from);
    const t = dot(at, along);
    const apart = (t / long - kind.middle) / kind.reach;
    if (Math.abs(apart) >= 1) continue;
    const way = sub(at, scale(along, t));
    const off = length(way);
    const facing = off > 1e-6 ? dot(way, out) / off : 0;
    if (facing <= 0) continue;
    const share = held * (1 - apart * apart) ** 2 * smoothStep(facing);
    found.push({ v, share, way: normalize(add(scale(way, 1 / off), out)), off });
  }
  const middle = found.filter((f) => f.share > 0.5);
  if (middle.length === 0) return null;
  const thick = (2 * middle.reduce((sum, f) => sum + f.off, 0)) / middle.length;
  const moved = found.filter((f) => amount * thick * f.share > LEAST);
  return {
    part,
    vertices: Uint32Array.from(moved, (f) => f.v),
    deltas: Float32Array.from(moved.flatMap((f) => scale(f.way, amount * thick * f.share))),
  };
}

/** Where a belly lies, in bind space; not yet square to the bone. */
function outwards(
  { skeleton }: Character,
  map: HumanoidMap,
  bind: Float64Array,
  kind: MuscleKind,
  side: string,
  bends: JointMotion,
  next: number,
): Vec3 {
  const turning = skeleton!.joints.findIndex((j) => j.name === bends.joint);
  const axis = rotate(decomposeTRS(bind, 16 * Math.max(0, turning)).q, bends.axis);
  const beyond = map.jointOfBone.get(`${side}${kind.beyond}`);
  if (beyond === undefined) return kind.side === "behind" ? [0, 0, -1] : [0, 0, 0];
  const child = sub(translationOf(bind, 16 * beyond), translationOf(bind, 16 * next));
  return kind.side === "behind" ? scale(child, -1) : cross(axis, normalize(child));
}

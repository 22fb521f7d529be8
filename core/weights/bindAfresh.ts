import { worldMatrices } from "../evaluate/poseSkeleton";
import { translationOf } from "../math/mat4";
import { add, dot, pointAt, scale, sub, type Vec3 } from "../math/vec3";
import { buildBvh, windingNumber, type Bvh } from "../math/bvh";
import { NO_JOINT, triangulate, vertexCountOf, type Character, type Part, type Skeleton } from "../model/character";
import { neighboursOf } from "../model/neighbours";
import { UserError } from "../model/userError";
import { humanoidMap } from "../skeleton/humanoidMap";

export const BIND_WAYS = ["surface", "volume"] as const;
export type BindWay = (typeof BIND_WAYS)[number];

interface Bone {
  readonly joint: number;
  readonly from: Vec3;
  readonly to: Vec3;
}
/** How far the last joint of a chain reaches beyond itself, share of the bone above it. */
const TIP = 0.6;
/** Places along the way from a vertex to a bone that must lie inside. */
const PROBES = [0.25, 0.5, 0.75] as const;

/**
 * Weights of a part from scratch: each vertex on its nearest bone, then evened out over the surface, half-way to the
 * neighbours' mean each round. Along the surface, what is nearest to a bone but apart from the bone's main piece goes
 * to the neighbours round it, so that a hand beside the thigh does not take its skin; through the volume, a bone counts
 * only where the straight way to it stays inside. Bones of eyes, jaw and tongue take no part.
 * @returns jointCount numbers a vertex, each sums to 1. @throws UserError when no joint can hold the part.
 */
export function bindAfresh(character: Character, part: Part, way: BindWay, rounds: number): Float32Array {
  const skeleton = character.skeleton!;
  const bones = bonesOf(character, skeleton);
  if (!bones.length) throw new UserError("No joint is there that could hold skin.", "weights", "");
  const count = vertexCountOf(part);
  const { triangles } = triangulate(part);
  const bvh = way === "volume" ? buildBvh(triangles, part.positions) : null;
  const nearest = new Int32Array(count);
  const distances = new Float64Array(bones.length);
  for (let v = 0; v < count; v++) {
    const p = pointAt(part.positions, v);
    for (let i = 0; i < bones.length; i++) distances[i] = squaredDistance(bones[i]!, p);
    const first = leastOf(distances);
    const inside = bvh ? firstInside(bvh, part.positions, p, bones, distances) : -1;
    nearest[v] = bones[inside < 0 ? first : inside]!.joint;
  }
  if (way === "surface") reclaimIslands(part, nearest);
  return evenOut(part, nearest, skeleton.joints.length, rounds);
}

/** Index of the least number, the first of equal ones. */
function leastOf(numbers: Float64Array): number {
  let least = 0;
  for (let i = 1; i < numbers.length; i++) if (numbers[i]! < numbers[least]!) least = i;
  return least;
}

/** The nearest bone to which the straight way stays inside, -1 for none. @param distances to each, squared; used up. */
function firstInside(
  bvh: Bvh,
  positions: Float32Array,
  p: Vec3,
  bones: readonly Bone[],
  distances: Float64Array,
): number {
  for (let tried = 0; tried < bones.length; tried++) {
    const i = leastOf(distances);
    const at = closestOn(bones[i]!, p);
    if (PROBES.every((t) => windingNumber(bvh, positions, ...add(scale(p, 1 - t), scale(at, t))) !== 0)) return i;
    distances[i] = Infinity;
  }
  return -1;
}

function bonesOf(character: Character, skeleton: Skeleton): Bone[] {
  const map = humanoidMap(skeleton, character.jointMap);
  const world = worldMatrices(skeleton, {});
  const at = (j: number): Vec3 => translationOf(world, 16 * j);
  const inFace = new Uint8Array(skeleton.joints.length);
  skeleton.joints.forEach((j, i) => {
    inFace[i] =
      ["jaw", "leftEye", "rightEye"].includes(map.boneOfJoint[i] ?? "") || (j.parent !== NO_JOINT && inFace[j.parent])
        ? 1
        : 0;
  });
  return skeleton.joints.flatMap((joint, i): Bone[] => {
    if (inFace[i]) return [];
    const children = skeleton.joints.flatMap((c, k) => (c.parent === i && !inFace[k] ? [k] : []));
    if (children.length) return children.map((k) => ({ joint: i, from: at(i), to: at(k) }));
    const up = joint.parent;
    return [{ joint: i, from: at(i), to: up === NO_JOINT ? at(i) : add(at(i), scale(sub(at(i), at(up)), TIP)) }];
  });
}

function squaredDistance({ from, to }: Bone, p: Vec3): number {
  const [x, y, z] = [to[0] - from[0], to[1] - from[1], to[2] - from[2]];
  const [px, py, pz] = [p[0] - from[0], p[1] - from[1], p[2] - from[2]];
  const l = x * x + y * y + z * z;
  const t = l > 0 ? (px * x + py * y + pz * z) / l : 0;
  // bones that meet at a joint are equally far where it is nearest
  if (t <= 0) return px * px + py * py + pz * pz;
  if (t >= 1) return (p[0] - to[0]) ** 2 + (p[1] - to[1]) ** 2 + (p[2] - to[2]) ** 2;
  return (px - x * t) ** 2 + (py - y * t) ** 2 + (pz - z * t) ** 2;
}

function closestOn({ from, to }: Bone, p: Vec3): Vec3 {
  const along = sub(to, from);
  const l = dot(along, along);
  const t = l > 0 ? Math.min(1, Math.max(0, dot(sub(p, from), along) / l)) : 0;
  return add(from, scale(along, t));
}

/** Pieces of a joint's skin that do not hang together with its largest go to whoever surrounds them, ring by ring. */
function reclaimIslands(part: Part, nearest: Int32Array): void {
  const { start, list } = neighboursOf(part);
  const piece = new Int32Array(nearest.length).fill(-1);
  const pieces: number[][] = [];
  for (let v = 0; v < nearest.length; v++) {
    if (piece[v]! >= 0) continue;
    const members = [v];
    piece[v] = pieces.length;
    for (const w of members)
      for (let k = start[w]!; k < start[w + 1]!; k++) {
        const n = list[k]!;
        if (piece[n]! >= 0 || nearest[n] !== nearest[v]) continue;
        piece[n] = pieces.length;
        members.push(n);
      }
    pieces.push(members);
  }
  const main = new Map<number, number>();
  pieces.forEach((m, i) => {
    const joint = nearest[m[0]!]!;
    if (m.length > (pieces[main.get(joint) ?? -1]?.length ?? 0)) main.set(joint, i);
  });
  const open = new Set(pieces.flatMap((m, i) => (main.get(nearest[m[0]!]!) === i ? [] : m)));
  while (open.size) {
    const given: [number, number][] = [];
    for (const v of open) {
      const around = Array.from(list.subarray(start[v]!, start[v + 1]!)).filter((n) => !open.has(n));
      if (around.length) given.push([v, nearest[around[0]!]!]);
    }
    if (!given.length) return;
    for (const [v, joint] of given) {
      nearest[v] = joint;
      open.delete(v);
    }
  }
}

/** What a vertex has of each joint: joints and their shares. */
interface Shares {
  readonly joints: Uint16Array;
  readonly weights: Float64Array;
}

function evenOut(part: Part, nearest: Int32Array, jointCount: number, rounds: number): Float32Array {
  const { start, list } = neighboursOf(part);
  const sum = new Float64Array(jointCount);
  const isIn = new Uint8Array(jointCount);
  let now = Array.from(nearest, (j): Shares => ({ joints: Uint16Array.of(j), weights: Float64Array.of(1) }));
  const evened = (own: Shares, v: number): Shares => {
    const n = start[v + 1]! - start[v]!;
    if (n === 0) return own;
    const touched: number[] = [];
    const take = ({ joints, weights }: Shares, share: number): void => {
      for (let k = 0; k < joints.length; k++) {
        const j = joints[k]!;
        if (!isIn[j]) touched.push(j);
        isIn[j] = 1;
        sum[j]! += weights[k]! / share;
      }
    };
    take(own, 2);
    for (let k = start[v]!; k < start[v + 1]!; k++) take(now[list[k]!]!, 2 * n);
    const made = { joints: Uint16Array.from(touched), weights: Float64Array.from(touched, (j) => sum[j]!) };
    for (const j of touched) sum[j] = isIn[j] = 0;
    return made;
  };
  for (let round = 0; round < rounds; round++) now = now.map(evened);
  const dense = new Float32Array(nearest.length * jointCount);
  now.forEach(({ joints, weights }, v) => joints.forEach((j, k) => (dense[v * jointCount + j] = weights[k]!)));
  return dense;
}

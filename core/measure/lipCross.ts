import { computeNormals, normalFacesAt, renewNormals, type FacesAt } from "../deform/computeNormals";
import type { Rig } from "../deform/rig";
import type { Character, Shape } from "../model/character";
import { ownTree, restTree } from "../surface/restTree";
import { buildBvh, closestPoint, type Bvh } from "../math/bvh";
import { eyeballsOf } from "./eyeballs";
import { outerAtRest } from "./outerSkin";
import { skinOverlap, type OverlapFinder } from "./skinOverlap";

/** The two lips of a face, and the trees for finding where one pushes into the other. */
export interface LipGauge {
  readonly part: number;
  readonly finder: OverlapFinder;
  readonly rest: Float32Array;
  readonly restDepths: Float32Array;
  readonly normals: Float32Array;
  /** Faces round the lips' vertices: elsewhere no normal is asked for. */
  readonly around: FacesAt;
  /** From the middle to where the lips' outer skin meets at the corner, metres. */
  readonly halfWidth: number;
}

/** Lips lie within this of the mouth's middle, in distances between the eyes. */
const REACH = 0.62;
/** What moves down by more than this share of the jaw's movement belongs to the lower lip. */
const LOWER = 0.5;
/** Skin that lies closer than this at rest counts as touching already, metres. */
const TOUCH = 1e-4;

/**
 * Finds the lips without a name or a map: the shape that moves the lower teeth down farthest opens the mouth, and the
 * skin in front of the teeth is the lower lip's where it goes along, the upper's where it stays. @returns null without
 * teeth, eyes or such a shape.
 */
export function makeLipGauge(rig: Rig): LipGauge | null {
  const { character } = rig;
  const part = character.parts.findIndex((p) => p.kind === "body");
  const teeth = character.parts.flatMap((p, i) => (p.kind === "teeth" ? [i] : []));
  const eyes = eyeballsOf(character);
  if (part < 0 || eyes.length < 2) return null;
  const opening = character.shapes
    .filter((s) => !s.jointOffsets)
    .map((shape) => ({ shape, down: teethApart(shape, teeth) }))
    .sort((a, b) => b.down - a.down)[0];
  const skin = opening?.shape.deltas.find((d) => d.part === part);
  if (!opening || opening.down < 0.005 || !skin) return null;
  const P = character.parts[part]!.positions;
  const middle = mouthMiddle(character, teeth);
  const reach = REACH * Math.abs(eyes[0]!.centre[0] - eyes[1]!.centre[0]);
  const share = new Float32Array(P.length / 3);
  skin.vertices.forEach((v, k) => (share[v] = -skin.deltas[3 * k + 1]! > LOWER * opening.down ? 1 : 0));
  const near = (v: number): boolean =>
    Math.hypot(P[3 * v]! - middle[0]!, P[3 * v + 1]! - middle[1]!, P[3 * v + 2]! - middle[2]!) < reach;
  const triangles = rig.triangles[part]!;
  const finder = lipFinder(triangles, P, part, share, middle, near);
  const placeOf = rig.placeOf[part] ?? null;
  const asked = new Set(finder.candidates);
  if (placeOf) for (const v of finder.candidates) asked.add(placeOf[v]!);
  const normals = new Float32Array(P.length);
  computeNormals(P, rig.normalFaces[part]!, placeOf, normals);
  const gauge = {
    part,
    finder,
    rest: P,
    restDepths: new Float32Array(P.length / 3),
    normals,
    around: normalFacesAt(rig.normalFaces[part]!, asked),
    halfWidth: cornerOf(P, finder.moving, finder.still),
  };
  return { ...gauge, restDepths: depthsAt(rig, gauge, P) };
}

/** Trees of the two lips' outer skin: the mouth's inside is folded on itself when it is shut. */
function lipFinder(
  triangles: Uint32Array,
  P: Float32Array,
  part: number,
  share: Float32Array,
  middle: readonly number[],
  near: (v: number) => boolean,
): OverlapFinder {
  const whole = ownTree(restTree(triangles, P));
  const nearby: number[] = [];
  for (let t = 0; t < triangles.length / 3; t++)
    if ([0, 1, 2].every((k) => near(triangles[3 * t + k]!))) nearby.push(t);
  const lists: { upper: number[]; lower: number[] } = { upper: [], lower: [] };
  for (const t of outerAtRest(triangles, P, nearby)) {
    const corners = [triangles[3 * t]!, triangles[3 * t + 1]!, triangles[3 * t + 2]!];
    const low = corners.filter((v) => share[v] === 1).length;
    if (low === 3) lists.lower.push(...corners);
    else if (low === 0) lists.upper.push(...corners);
  }
  const [moving, still] = [lists.lower, lists.upper].map((list) => buildBvh(Uint32Array.from(list), P)) as [Bvh, Bvh];
  const candidates = Uint32Array.from([...new Set([...lists.lower, ...lists.upper])].sort((a, b) => a - b));
  const none = new Uint32Array(0);
  const region = {
    joint: -1,
    part,
    share,
    vertices: none,
    limbTriangles: none,
    borderEdges: none,
    capOfEdge: none,
    capCount: 0,
    edges: none,
    moving: none,
    still: none,
    centre: [middle[0]!, middle[1]!, middle[2]!],
    radius: 4 * TOUCH,
  } as const;
  return { region, triangles, whole, moving, still, candidates };
}

/** How much farther one row of teeth goes down than the other under a shape, metres. */
function teethApart(shape: Shape, teeth: readonly number[]): number {
  const drops = teeth.map((part) => {
    const delta = shape.deltas.find((d) => d.part === part);
    return delta ? delta.deltas.reduce((most, y, i) => (i % 3 === 1 ? Math.max(most, -y) : most), 0) : 0;
  });
  return drops.length > 1 ? Math.max(...drops) - Math.min(...drops) : 0;
}

/** Between the foremost points of the rows of teeth, metres. */
export function mouthMiddle(character: Character, teeth: readonly number[]): number[] {
  const fronts = teeth.map((p) => {
    const P = character.parts[p]!.positions;
    let best = 0;
    for (let v = 0; v < P.length / 3; v++) if (P[3 * v + 2]! > P[3 * best + 2]!) best = v;
    return [P[3 * best]!, P[3 * best + 1]!, P[3 * best + 2]!];
  });
  const n = fronts.length;
  return [0, fronts.reduce((s, f) => s + f[1]! / n, 0), fronts.reduce((s, f) => s + f[2]! / n, 0)];
}

/** How far out the two lips still lie within a millimetre of each other at rest. */
function cornerOf(P: Float32Array, lower: Bvh, upper: Bvh): number {
  let out = 0;
  for (const v of lower.triangles)
    if (closestPoint(upper, P, P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!, 0.001).triangle >= 0)
      out = Math.max(out, Math.abs(P[3 * v]!));
  return out;
}

function depthsAt(
  rig: Rig,
  gauge: Pick<LipGauge, "part" | "finder" | "rest" | "normals" | "around">,
  posed: Float32Array,
  allowed?: Float32Array,
): Float32Array {
  renewNormals(posed, gauge.around, rig.placeOf[gauge.part]!, gauge.normals);
  return skinOverlap(gauge.finder, gauge.rest, posed, gauge.normals, allowed).depths;
}

/**
 * Depth of one lip in the other beyond what is there at rest, metres, per vertex. @param posed of the gauge's part, 3 x
 * vertexCount, face in its rest pose.
 */
export function lipCross(rig: Rig, gauge: LipGauge, posed: Float32Array): { depth: number; depths: Float32Array } {
  const { restDepths } = gauge;
  const depths = depthsAt(rig, gauge, posed, restDepths);
  let depth = 0;
  for (let v = 0; v < depths.length; v++) {
    if (depths[v] === 0) continue;
    depths[v] = Math.max(0, depths[v]! - restDepths[v]!);
    if (depths[v]! > depth) depth = depths[v]!;
  }
  return { depth, depths };
}

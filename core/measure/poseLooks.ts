import { degrees } from "../math/vec3";
import { neighboursOf } from "../model/neighbours";
import { bonyJoints } from "./boneUnderSkin";
import { noiseOf } from "./deltaNoise";
import { percentile } from "./edgeStretch";
import { jointFold, overTip } from "./jointFold";
import type { JointRegion } from "./jointRegion";
import type { JointGauge } from "./measureJoint";

/** How a bent limb looks, measured. */
export interface PoseLooks {
  /** 99th percentile of what edges outside the fold are sharper by than at rest, degrees. */
  readonly crease: number;
  /** Mean change of the distance between bone and the skin over a joint's tip, mm; 0 where no bone lies under skin. */
  readonly bone: number;
}

/** Inner edges of a region: for each both its ends, and the triangle on either side, first the one that runs a to b. */
function innerEdges(
  region: JointRegion,
  triangles: Uint32Array,
  places: Uint32Array | null,
  count: number,
): Uint32Array {
  const place = (v: number): number => (places ? places[v]! : v);
  const bent = new Set<number>();
  for (let e = 0; e < region.edges.length; e += 2) bent.add(region.edges[e]! * count + region.edges[e + 1]!);
  const open = new Map<number, number>();
  const out: number[] = [];
  for (const t of region.limbTriangles)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [place(triangles[3 * t + k]!), place(triangles[3 * t + ((k + 1) % 3)]!)];
      if (!bent.has(Math.min(a, b) * count + Math.max(a, b))) continue;
      const other = open.get(b * count + a);
      if (other === undefined) open.set(a * count + b, t);
      else out.push(b, a, other, t);
    }
  return Uint32Array.from(out);
}

/** Angle between two faces across an edge, degrees; positive where the surface is convex. */
function foldAngle(P: Float32Array, T: Uint32Array, a: number, b: number, first: number, second: number): number {
  normalOf(P, T, first, one);
  normalOf(P, T, second, two);
  const [ex, ey, ez] = [P[3 * b]! - P[3 * a]!, P[3 * b + 1]! - P[3 * a + 1]!, P[3 * b + 2]! - P[3 * a + 2]!];
  const size = Math.hypot(ex, ey, ez) * Math.hypot(...one) * Math.hypot(...two);
  if (size < 1e-18) return 0;
  const across =
    (ex * (one[1] * two[2] - one[2] * two[1]) +
      ey * (one[2] * two[0] - one[0] * two[2]) +
      ez * (one[0] * two[1] - one[1] * two[0])) /
    Math.hypot(ex, ey, ez);
  return degrees(Math.atan2(across, one[0] * two[0] + one[1] * two[1] + one[2] * two[2]));
}
const one: [number, number, number] = [0, 0, 0];
const two: [number, number, number] = [0, 0, 0];
function normalOf(P: Float32Array, T: Uint32Array, t: number, out: [number, number, number]): void {
  const [a, b, c] = [3 * T[3 * t]!, 3 * T[3 * t + 1]!, 3 * T[3 * t + 2]!];
  const [ux, uy, uz] = [P[b]! - P[a]!, P[b + 1]! - P[a + 1]!, P[b + 2]! - P[a + 2]!];
  const [vx, vy, vz] = [P[c]! - P[a]!, P[c + 1]! - P[a + 1]!, P[c + 2]! - P[a + 2]!];
  out[0] = uy * vz - uz * vy;
  out[1] = uz * vx - ux * vz;
  out[2] = ux * vy - uy * vx;
}

interface Edges {
  /** Four numbers an edge. */
  readonly list: Uint32Array;
  /** Angle of each at rest, degrees. */
  readonly atRest: Float32Array;
}
const edgesOf = new WeakMap<JointRegion, Edges>();
function edgesAt({ region, rig, rest }: JointGauge): Edges {
  const known = edgesOf.get(region);
  if (known) return known;
  const triangles = rig.triangles[region.part]!;
  const list = innerEdges(region, triangles, rig.placeOf[region.part] ?? null, rest.length / 3);
  const atRest = Float32Array.from({ length: list.length / 4 }, (_, i) =>
    foldAngle(rest, triangles, list[4 * i]!, list[4 * i + 1]!, list[4 * i + 2]!, list[4 * i + 3]!),
  );
  const found = { list, atRest };
  edgesOf.set(region, found);
  return found;
}

/**
 * Reads how a bent limb looks: edges outside the fold that became sharp corners, and skin over bone that sank or rose.
 * @param P posed places of the region's part, 3 x vertexCount, metres. @param matrices 16 x jointCount of the pose.
 */
export function poseLooks(gauge: JointGauge, P: Float32Array, matrices: ArrayLike<number>): PoseLooks {
  const { region, rig } = gauge;
  const triangles = rig.triangles[region.part]!;
  const fold = jointFold(gauge, matrices);
  const { list, atRest } = edgesAt(gauge);
  const sharper: number[] = [];
  const outside = (v: number): boolean =>
    !fold ||
    fold.into[0] * (P[3 * v]! - fold.centre[0]) +
      fold.into[1] * (P[3 * v + 1]! - fold.centre[1]) +
      fold.into[2] * (P[3 * v + 2]! - fold.centre[2]) <
      0;
  for (let i = 0; i < atRest.length; i++) {
    const [a, b] = [list[4 * i]!, list[4 * i + 1]!];
    if (outside(a) && outside(b))
      sharper.push(foldAngle(P, triangles, a, b, list[4 * i + 2]!, list[4 * i + 3]!) - atRest[i]!);
  }
  let [sum, count] = [0, 0];
  if (fold && bonyJoints(rig.character).has(region.joint))
    for (const v of region.vertices) {
      const tip = overTip(gauge, fold, P, v);
      if (!tip) continue;
      sum += Math.abs(tip.posed - tip.rest);
      count++;
    }
  return {
    crease: sharper.length ? Math.max(0, percentile(sharper, 0.99)) : 0,
    bone: count ? (1000 * sum) / count : 0,
  };
}

/**
 * How rough the movement is that correctives make in a pose: the 99th percentile of what alternates between neighbours,
 * mm (`noiseOf`).
 * @param without, posed 3 x vertexCount: the pose without and with them.
 */
export function roughness({ region, rig, rest }: JointGauge, without: Float32Array, posed: Float32Array): number {
  const vertices: number[] = [];
  const deltas: number[] = [];
  for (let v = 0; v < posed.length / 3; v++) {
    const d = [0, 1, 2].map((k) => posed[3 * v + k]! - without[3 * v + k]!);
    if (Math.hypot(...d) < 1e-5) continue;
    vertices.push(v);
    deltas.push(...d);
  }
  if (vertices.length === 0) return 0;
  const moved = { part: region.part, vertices: Uint32Array.from(vertices), deltas: Float32Array.from(deltas) };
  const noise = noiseOf(moved, neighboursOf(rig.character.parts[region.part]!), rest);
  return noise.length
    ? percentile(
        noise.map((n) => n.mm),
        0.99,
      )
    : 0;
}

import { computeNormals, normalFacesAt, renewNormals } from "../deform/computeNormals";
import { edgeStretch } from "../measure/edgeStretch";
import { limbVolume } from "../measure/limbVolume";
import type { JointGauge } from "../measure/measureJoint";
import { onlyMoving, skinOverlap } from "../measure/skinOverlap";
import { neighboursOf, type Neighbours } from "../model/neighbours";
import { openFaces, shortenEdges } from "./fleshLimits";

export interface EaseOptions {
  /** Rounds at most. */
  readonly rounds: number;
  /** Overlap left between the two sides of the joint, metres. */
  readonly touch: number;
  /** Ratio to the rest length beyond which edges are shortened. */
  readonly stretchLimit: number;
  /** Loss of volume that is left, share. */
  readonly leastLoss: number;
}

/** How far a push spreads over the skin round it: passes of averaging with the neighbours. */
const SPREAD = 6;
/** Share of an overlap that one round takes away. */
const RELIEF = 0.5;
/** Share of the rounds in which volume is given back; the last only push, so that nothing is left inside. */
const REFILLING = 0.75;
/** Passes over edges and faces in each round. */
const PASSES = 6;
/** While nothing is pressed, overlaps are looked for only every so many rounds. */
const LOOK_AGAIN = 4;
/** A push of this length counts as pressed, metres. */
const PRESSED = 0.002;
/** Skin stretched farther than this swells no more, and swells ever less over the step before it, ratio. */
const TAUT = 1.6;
const TAUT_STEP = 0.3;
/** Share of the missing volume that one round gives back. */
const REFILL = 0.25;

/**
 * Moves posed skin in place, round by round, until no side of the joint lies deeper in the other than at rest, the
 * volume is back, no edge is longer than the limit and no face is turned inside out; or until the rounds are used up.
 * What is pressed is pushed back along its own normal and the push spread over the skin round it; missing volume swells
 * the skin that is free. Yields the share done after every round.
 * @param P 3 x vertexCount, character space, metres. @param freedom per vertex 0..1: how far it may give way. @param
 * facing from `carriedNormals`, for the limb's triangles.
 */
export function* easeFlesh(
  gauge: JointGauge,
  P: Float32Array,
  freedom: Float32Array,
  facing: Float32Array,
  { rounds, touch, stretchLimit, leastLoss }: EaseOptions,
): Generator<number, void> {
  const { rig, region, rest, restDepths } = gauge;
  const neighbours = neighboursOf(rig.character.parts[region.part]!);
  const normals = new Float32Array(P.length);
  const triangles = rig.triangles[region.part]!;
  const free = Uint32Array.from(freedom.keys()).filter((v) => freedom[v]! > 0);
  computeNormals(P, rig.normalFaces[region.part]!, rig.placeOf[region.part]!, normals);
  const pressed = skinOverlap(gauge.finder, rest, P, normals).depths;
  const movable = withRings(
    Uint32Array.from(freedom.keys()).filter((v) => freedom[v]! > 0 || pressed[v]! > restDepths[v]!),
    neighbours,
    2 * SPREAD,
  );
  const faces = normalFacesAt(rig.normalFaces[region.part]!, movable);
  const finder = onlyMoving(gauge.finder, P, Uint32Array.from(movable));
  const slack = new Float32Array(freedom.length);
  let idle = LOOK_AGAIN;
  for (let round = 0; round < rounds; round++) {
    yield round / rounds;
    renewNormals(P, faces, rig.placeOf[region.part]!, normals);
    const push = new Map<number, number>();
    if (idle >= LOOK_AGAIN) {
      skinOverlap(finder, rest, P, normals).depths.forEach((depth, v) => {
        const over = depth - restDepths[v]! - touch;
        if (over > 0) push.set(v, over);
      });
    }
    idle = push.size ? LOOK_AGAIN : idle >= LOOK_AGAIN ? 1 : idle + 1;
    const relief = spread(push, normals, neighbours);
    let swell = 0;
    if (round < REFILLING * rounds) {
      slack.fill(0);
      for (const v of free) slack[v] = freedom[v]!;
      for (const [v, by] of relief) slack[v]! *= Math.max(0, 1 - Math.hypot(...by) / PRESSED);
      holdTaut(region.edges, edgeStretch(region.edges, rest, P), slack);
      swell = swelling(gauge, P, slack, leastLoss);
      if (swell > 0)
        for (const v of free) for (let c = 0; c < 3; c++) P[3 * v + c]! += swell * slack[v]! * normals[3 * v + c]!;
    }
    for (const [v, by] of relief) if (movable.has(v)) for (let c = 0; c < 3; c++) P[3 * v + c]! += RELIEF * by[c]!;
    let amiss = 0;
    for (let pass = 0; pass < PASSES; pass++) {
      amiss =
        shortenEdges(P, rest, region.edges, stretchLimit, freedom) +
        openFaces(P, triangles, region.limbTriangles, facing, freedom);
      if (amiss === 0) break;
    }
    if (push.size === 0 && swell === 0 && amiss === 0) return;
  }
}

/** Vertices and the rings of neighbours round them. */
function withRings(vertices: Iterable<number>, { start, list }: Neighbours, rings: number): Set<number> {
  const reached = new Set(vertices);
  let rim = [...reached];
  for (let ring = 0; ring < rings; ring++) {
    const next: number[] = [];
    for (const v of rim)
      for (let k = start[v]!; k < start[v + 1]!; k++) {
        if (reached.has(list[k]!)) continue;
        reached.add(list[k]!);
        next.push(list[k]!);
      }
    rim = next;
  }
  return reached;
}

/**
 * Averages pushes along the normals with the neighbours' a few times, and scales them so that what is pressed is moved
 * as far as before. @returns per vertex reached, metres.
 */
function spread(
  push: ReadonlyMap<number, number>,
  normals: Float32Array,
  { start, list }: Neighbours,
): Map<number, [number, number, number]> {
  if (push.size === 0) return new Map();
  const vertices = [...withRings(push.keys(), { start, list }, SPREAD)];
  let now = new Map<number, [number, number, number]>(
    vertices.map((v) => {
      const depth = push.get(v) ?? 0;
      return [v, [-depth * normals[3 * v]!, -depth * normals[3 * v + 1]!, -depth * normals[3 * v + 2]!]];
    }),
  );
  for (let pass = 0; pass < SPREAD; pass++) {
    const next = new Map<number, [number, number, number]>();
    for (const v of vertices) {
      let [x, y, z] = now.get(v)!;
      for (let k = start[v]!; k < start[v + 1]!; k++) {
        const other = now.get(list[k]!);
        if (!other) continue;
        x += other[0];
        y += other[1];
        z += other[2];
      }
      const n = start[v + 1]! - start[v]! + 1;
      next.set(v, [x / n, y / n, z / n]);
    }
    now = next;
  }
  let most = 0;
  for (const by of now.values()) most = Math.max(most, Math.hypot(...by));
  const deepest = Math.max(...push.values());
  const scale = most > 0 ? Math.min(4, deepest / most) : 0;
  for (const by of now.values()) for (let c = 0; c < 3; c++) by[c]! *= scale;
  return now;
}

/** Takes slack from vertices with a taut edge. */
function holdTaut(edges: Uint32Array, stretch: Float32Array, slack: Float32Array): void {
  const most = new Map<number, number>();
  for (let e = 0; e < stretch.length; e++) {
    if (stretch[e]! <= TAUT - TAUT_STEP) continue;
    for (const v of [edges[2 * e]!, edges[2 * e + 1]!]) most.set(v, Math.max(most.get(v) ?? 0, stretch[e]!));
  }
  for (const [v, s] of most) slack[v]! *= Math.max(0, Math.min(1, (TAUT - s) / TAUT_STEP));
}

/**
 * How far the free skin must swell to give back some of the volume that is missing, metres; 0 when enough is there.
 * @param slack per vertex 0..1: how free it is to move.
 */
function swelling(
  { rig, region, restVolume }: JointGauge,
  P: Float32Array,
  slack: Float32Array,
  leastLoss: number,
): number {
  const triangles = rig.triangles[region.part]!;
  const missing = restVolume - limbVolume(region, triangles, P);
  if (missing < leastLoss * restVolume) return 0;
  let free = 0;
  for (const t of region.limbTriangles) {
    const [va, vb, vc] = [triangles[3 * t]!, triangles[3 * t + 1]!, triangles[3 * t + 2]!];
    const share = (slack[va]! + slack[vb]! + slack[vc]!) / 3;
    if (share === 0) continue;
    const [a, b, c] = [3 * va, 3 * vb, 3 * vc];
    const [ux, uy, uz] = [P[b]! - P[a]!, P[b + 1]! - P[a + 1]!, P[b + 2]! - P[a + 2]!];
    const [vx, vy, vz] = [P[c]! - P[a]!, P[c + 1]! - P[a + 1]!, P[c + 2]! - P[a + 2]!];
    free += (share * Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx)) / 2;
  }
  return free > 0 ? (REFILL * missing) / free : 0;
}

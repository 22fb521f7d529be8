import { computeNormals } from "../deform/computeNormals";
import { deform, REST_MOMENT, type Moment } from "../deform/rig";
import { edgeStretch, percentile, vertexStretch } from "../measure/edgeStretch";
import { faceArea } from "../measure/faceArea";
import { limbVolume } from "../measure/limbVolume";
import type { JointGauge } from "../measure/measureJoint";
import { skinOverlap } from "../measure/skinOverlap";
import type { ShapeDelta } from "../model/character";
import { neighboursOf, type Neighbours } from "../model/neighbours";
import { carryMovement, carrySurface } from "../shapes/carryMovement";
import { smoothDelta } from "../shapes/smoothDelta";
import { correctiveFromSculpt } from "./correctiveFromSculpt";

export interface Proposal {
  /** Movement at rest, of the skin and of every part that follows it. */
  readonly deltas: readonly ShapeDelta[];
  /** Share of the way from linear to dual quaternion skinning that keeps the volume best. */
  readonly roundness: number;
  /** Vertices that could not be returned to rest well, of the skin. */
  readonly ill: Uint32Array;
}
export interface ProposalOptions {
  /** Stretch above which more roundness is not taken, ratio. */
  readonly stretchLimit: number;
  /** Rounds of pushing the two sides of the joint apart. */
  readonly rounds: number;
  /** Overlap left between them, metres. */
  readonly touch: number;
}
export const PROPOSAL_DEFAULTS: ProposalOptions = { stretchLimit: 1.9, rounds: 32, touch: 0.001 };

const ROUNDNESS_STEPS = 10;
/** How far a push spreads over the skin round it: passes of averaging with the neighbours. */
const SPREAD = 6;
/** Share of an overlap that one round takes away. */
const RELIEF = 0.5;

/**
 * A first sculpt for a bent joint: flesh that keeps its volume and does not push into itself. In the pose the skin is led from linear toward dual
 * quaternion skinning (Kavan et al. 2007) as far as volume asks and stretch allows; then, round by round, what lies inside the other side of the joint is pushed
 * back along its own normal, and the push is spread smoothly. The result is returned to rest by each vertex's own skinning; other parts are carried by the skin.
 * Changes nothing. @returns null when nothing needs to move.
 */
export function proposeSculpt(gauge: JointGauge, moment: Moment, options: ProposalOptions = PROPOSAL_DEFAULTS): Proposal | null {
  const steps = proposeInSteps(gauge, moment, options);
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value;
  }
}

/** The same, pausing after every round with the share done, for whoever reports progress or may be cancelled. */
export function* proposeInSteps(gauge: JointGauge, moment: Moment, options: ProposalOptions = PROPOSAL_DEFAULTS): Generator<number, Proposal | null> {
  const { rig, region, restVolume, rest } = gauge;
  const { part } = region;
  const triangles = rig.triangles[part]!;
  const pose = { ...moment, method: "linear" } as const;
  const linear = deform(rig, pose, { normals: false, parts: [part] }).positions[part]!.slice();
  const dual = deform(rig, { ...pose, method: "dual" }, { normals: false, parts: [part] }).positions[part]!;
  const touched = regionMask(gauge);
  const between = (share: number): Float32Array => linear.map((x, i) => x + share * touched[Math.floor(i / 3)]! * (dual[i]! - x));
  let roundness = 0;
  let best = Infinity;
  for (let k = 0; k <= ROUNDNESS_STEPS; k++) {
    const P = between(k / ROUNDNESS_STEPS);
    const edges = edgeStretch(region.edges, rest, P);
    const cost = Math.abs(limbVolume(region, triangles, P) / restVolume - 1) + Math.max(0, (edges.length ? percentile(edges, 0.99) : 1) - options.stretchLimit);
    if (cost < best - 1e-6) [best, roundness] = [cost, k / ROUNDNESS_STEPS];
  }
  const sculpt = between(roundness);
  yield* pushApart(gauge, sculpt, touched, options);
  const returned = correctiveFromSculpt(rig, pose, rig.character.parts.map((_, p) => (p === part ? sculpt : null)));
  if (!returned.deltas[0]) return null;
  const skin = smoothDelta(returned.deltas[0], neighboursOf(rig.character.parts[part]!), SMOOTHING);
  const surface = carrySurface(rig.character.parts[part]!);
  const carried = rig.character.parts.flatMap((_, p) => (p === part ? [] : (carryMovement(rig.character, p, skin, surface) ?? [])));
  return { deltas: [skin, ...carried].sort((a, b) => a.part - b.part), roundness, ill: returned.ill[0]?.vertices ?? new Uint32Array(0) };
}

/** 1 in the middle of the joint's region, fading to 0 where its two sides hold nothing of each other. */
function regionMask({ region, rest }: JointGauge): Float32Array {
  const mask = new Float32Array(rest.length / 3);
  const reach = 2 * region.radius;
  for (let v = 0; v < mask.length; v++) {
    const d = Math.hypot(rest[3 * v]! - region.centre[0], rest[3 * v + 1]! - region.centre[1], rest[3 * v + 2]! - region.centre[2]) / reach;
    mask[v] = d < 1 ? (1 - d * d) ** 2 : 0;
  }
  for (const v of region.vertices) mask[v] = Math.max(mask[v]!, Math.min(1, 8 * region.share[v]! * (1 - region.share[v]!)));
  return mask;
}

/** Moves vertices in place until no side of the joint lies deeper in the other than at rest, or the rounds are used up. */
function* pushApart(gauge: JointGauge, P: Float32Array, mask: Float32Array, { rounds, touch }: ProposalOptions): Generator<number, void> {
  const { rig, region, finder, rest, restDepths } = gauge;
  const neighbours = neighboursOf(rig.character.parts[region.part]!);
  const normals = new Float32Array(P.length);
  for (let round = 0; round < rounds; round++) {
    yield round / rounds;
    computeNormals(P, rig.normalFaces[region.part]!, rig.placeOf[region.part]!, normals);
    const { depths } = skinOverlap(finder, rest, P, normals);
    const push = new Float32Array(P.length);
    let worst = 0;
    for (let v = 0; v < depths.length; v++) {
      const depth = Math.max(0, depths[v]! - restDepths[v]! - touch);
      worst = Math.max(worst, depth);
      for (let c = 0; c < 3; c++) push[3 * v + c] = -depth * normals[3 * v + c]!;
    }
    const relief = spread(push, neighbours);
    const slack = mask.map((m, v) => m * bare(Math.hypot(relief[3 * v]!, relief[3 * v + 1]!, relief[3 * v + 2]!)));
    // the last rounds only push, so that nothing is left inside
    let swell = 0;
    if (round < 0.75 * rounds) {
      vertexStretch(region.edges, edgeStretch(region.edges, rest, P), slack.length).forEach((s, v) => (slack[v]! *= Math.max(0, Math.min(1, (TAUT - s) / 0.3))));
      swell = swelling(gauge, P, slack);
    }
    if (worst === 0 && swell === 0) return;
    for (let i = 0; i < P.length; i++) P[i]! += swell * slack[Math.floor(i / 3)]! * normals[i]! + RELIEF * relief[i]!;
  }
}

/** Passes of smoothing over what was found. */
const SMOOTHING = 2;

/** Averages a push with the neighbours' a few times, and scales it so that what is pressed is moved as far as before. */
function spread(push: Float32Array, { start, list }: Neighbours): Float32Array {
  let now = push;
  for (let pass = 0; pass < SPREAD; pass++) {
    now = now.map((own, i) => {
      const [v, c] = [Math.floor(i / 3), i % 3];
      const [from, to] = [start[v]!, start[v + 1]!];
      if (from === to) return own;
      let sum = own;
      for (let k = from; k < to; k++) sum += now[3 * list[k]! + c]!;
      return sum / (to - from + 1);
    });
  }
  const most = (field: Float32Array): number => {
    let l = 0;
    for (let i = 0; i < field.length; i += 3) l = Math.max(l, Math.hypot(field[i]!, field[i + 1]!, field[i + 2]!));
    return l;
  };
  const scale = most(now) > 0 ? Math.min(4, most(push) / most(now)) : 0;
  return now.map((x) => x * scale);
}

/** Flesh gives way sideways: 1 where the skin is free, 0 where it is pressed. */
const bare = (push: number): number => Math.max(0, 1 - push / PRESSED);
/** A push of this length counts as pressed, metres. */
const PRESSED = 0.002;
/** Skin stretched farther than this swells no more, ratio. */
const TAUT = 1.6;
/** Share of the missing volume that one round gives back. */
const REFILL = 0.25;
/** Less missing than this is left, share of the volume. */
const LEAST_LOSS = 0.05;

/**
 * How far the free skin must swell to give back some of the volume that is missing, metres; 0 when enough is there.
 * @param slack per vertex 0..1: how free it is to move.
 */
function swelling({ rig, region, restVolume }: JointGauge, P: Float32Array, slack: Float32Array): number {
  const triangles = rig.triangles[region.part]!;
  const missing = restVolume - limbVolume(region, triangles, P);
  if (missing < LEAST_LOSS * restVolume) return 0;
  let free = 0;
  for (const t of region.limbTriangles) {
    const [a, b, c] = [0, 1, 2].map((k) => triangles[3 * t + k]!) as [number, number, number];
    free += (faceArea(P, [a, b, c]) * (slack[a]! + slack[b]! + slack[c]!)) / 3;
  }
  return free > 0 ? (REFILL * missing) / free : 0;
}

/** The moment of a motion at an angle with nothing else on. */
export const sculptMoment = (pose: Moment["pose"]): Moment => ({ ...REST_MOMENT, pose, drivers: false });

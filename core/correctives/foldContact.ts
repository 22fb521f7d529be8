import { dot, type Vec3 } from "../math/vec3";
import { overTip, type JointFold } from "../measure/jointFold";
import type { JointGauge } from "../measure/measureJoint";
import type { Neighbours } from "../model/neighbours";

/** Width over which skin turns from its own way into the plane of contact, metres. */
const SOFT = 0.001;
/** The contact sets in over this share of the limb's radius from the joint. */
const SETS_IN = 0.25;
/** What a ring round pressed skin is weighted by, against the ring before it. */
const RING = 0.8;
/** Share of the missing distance from the bone that is given back at once. */
const HOLD = 0.5;

/** Weights round marked vertices that fade from ring to ring. @param marked per vertex, 0 or 1. */
export function fadingRings(marked: Float32Array, { start, list }: Neighbours, rings: number): Float32Array {
  let now = marked.slice();
  for (let ring = 0; ring < rings; ring++) {
    const next = now.slice();
    for (let v = 0; v < now.length; v++) {
      let [most, sum] = [0, 0];
      for (let k = start[v]!; k < start[v + 1]!; k++) {
        const w = now[list[k]!]!;
        sum += w;
        if (w > most) most = w;
      }
      if (most > 0) next[v] = Math.max(now[v]!, (RING * (most + sum / (start[v + 1]! - start[v]!))) / 2);
    }
    now = next;
  }
  return now;
}

/** Skin farther from the joint than this is pressed by something else than the fold, in radii of the limb. */
const NEAR = 3;
/** So much more than its depth in the other side a vertex may lie beyond the plane, in times and metres. */
const BEYOND = { hinge: { times: 2, room: 0.01 }, ball: { times: 1.2, room: 0.004 } } as const;

/**
 * Whether the plane of the fold is what presses a vertex: it lies near the joint and not much farther beyond the plane
 * than it is deep in the other side (a forearm on the hip is pressed far from the shoulder's fold).
 * @param depth metres. @param hinge the two limbs of a hinge are of one kind; beside a ball joint's lies the trunk.
 */
export function crossesPlane(
  P: Float32Array,
  v: number,
  { region }: JointGauge,
  { centre, across }: JointFold,
  depth: number,
  hinge: boolean,
): boolean {
  const { times, room } = BEYOND[hinge ? "hinge" : "ball"];
  const x: Vec3 = [P[3 * v]! - centre[0], P[3 * v + 1]! - centre[1], P[3 * v + 2]! - centre[2]];
  return Math.hypot(...x) < NEAR * region.radius && Math.abs(dot(x, across)) < times * depth + room;
}

/**
 * Brings skin that crossed the plane which halves the bend back onto its own side, along the plane's normal: pressed
 * flesh lies flat against flesh, and what is seen of either limb stays. In place.
 * @param P 3 x vertexCount, metres. @param weights per vertex 0..1: how far it is in contact. @param touch overlap left
 * on either side, metres.
 */
export function layInFold(
  P: Float32Array,
  { region }: JointGauge,
  { centre, across, into }: JointFold,
  weights: Float32Array,
  touch: number,
): void {
  for (let v = 0; v < weights.length; v++) {
    if (weights[v]! < 0.01) continue;
    const x: Vec3 = [P[3 * v]! - centre[0], P[3 * v + 1]! - centre[1], P[3 * v + 2]! - centre[2]];
    const inside = dot(x, into);
    if (inside <= 0) continue;
    const side = region.share[v]! > 0.5 ? 1 : -1;
    const off = side * dot(x, across);
    const wanted = 0.5 * (off + Math.sqrt(off * off + 4 * SOFT * SOFT)) - touch;
    if (wanted <= off) continue;
    const by = weights[v]! * Math.min(1, inside / (SETS_IN * region.radius)) * (wanted - off) * side;
    for (let k = 0; k < 3; k++) P[3 * v + k]! += by * across[k]!;
  }
}

/** Skin over the tip may rise to so much of its distance at rest. */
const RISES = 1.0;

/**
 * Brings skin over a joint's tip back where it sank toward the bone or swelled away from it, part of the way, in place.
 * @param keep share of its distance at rest that it should have at least.
 */
export function holdOverTip(P: Float32Array, gauge: JointGauge, fold: JointFold, keep: number): void {
  for (const v of gauge.region.vertices) {
    const tip = overTip(gauge, fold, P, v);
    if (!tip || tip.posed < 1e-6) continue;
    const wanted = Math.max(keep * tip.rest, Math.min(RISES * tip.rest, tip.posed));
    const by = (HOLD * (wanted - tip.posed)) / tip.posed;
    for (let k = 0; k < 3; k++) P[3 * v + k]! += by * (P[3 * v + k]! - fold.centre[k]!);
  }
}

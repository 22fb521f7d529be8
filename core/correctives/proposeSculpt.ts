import { deform, withShapes } from "../deform/rig";
import { REST_MOMENT, type Moment } from "../evaluate/moment";
import { edgeStretch, percentile } from "../measure/edgeStretch";
import { limbVolume } from "../measure/limbVolume";
import type { JointGauge } from "../measure/measureJoint";
import type { ShapeDelta } from "../model/character";
import { neighboursOf } from "../model/neighbours";
import { carryMovement, carrySurface } from "../surface/carryMovement";
import { smoothDelta } from "../shapes/smoothDelta";
import { correctiveFromSculpt, TRIAL, withTrialShape, type ReturnedSculpt } from "./correctiveFromSculpt";
import { easeFlesh } from "./easeFlesh";
import { carriedNormals } from "../measure/turnedFaces";

export interface Proposal {
  /** Movement at rest, of the skin and of every part that follows it. */
  readonly deltas: readonly ShapeDelta[];
  /** Share of the way from linear to dual quaternion skinning that keeps the volume best. */
  readonly roundness: number;
  /** Vertices that could not be returned to rest well, of the skin. */
  readonly ill: Uint32Array;
}
export interface ProposalOptions {
  /** Stretch above which more roundness is not taken and edges are shortened, ratio. */
  readonly stretchLimit: number;
  /** Rounds of easing the skin in the pose. */
  readonly rounds: number;
  /** Overlap left between the two sides, metres. */
  readonly touch: number;
}
export const PROPOSAL_DEFAULTS: ProposalOptions = { stretchLimit: 1.85, rounds: 32, touch: 0.001 };

const ROUNDNESS_STEPS = 10;
/** Passes of smoothing over what was found. */
const SMOOTHING = 2;
/** Loss of volume that is left, share; more when what smoothing undid is set right, so that little is moved twice. */
const LEAST_LOSS = 0.05;
const LEFT_AT_LAST = 0.085;
/** Strength of one last pass of smoothing, too weak to turn a face again. */
const LAST_TOUCH = 0.2;

/**
 * A first sculpt for a bent joint: flesh that keeps its volume, does not push into itself, is not overstretched and
 * shows no face inside out. In the pose the skin is led from linear toward dual quaternion skinning (Kavan et al. 2007)
 * as far as volume asks and stretch allows, then eased (`easeFlesh`). The result is returned to rest by each vertex's
 * own skinning; other parts are carried by the skin. Changes nothing. @returns null when nothing needs to move.
 */
export function proposeSculpt(
  gauge: JointGauge,
  moment: Moment,
  options: ProposalOptions = PROPOSAL_DEFAULTS,
): Proposal | null {
  const steps = proposeInSteps(gauge, moment, options);
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value;
  }
}

/** The same, pausing after every round with the share done, for whoever reports progress or may be cancelled. */
export function* proposeInSteps(
  gauge: JointGauge,
  moment: Moment,
  options: ProposalOptions = PROPOSAL_DEFAULTS,
): Generator<number, Proposal | null> {
  const { rig, region, restVolume, rest } = gauge;
  const { part } = region;
  const body = rig.character.parts[part]!;
  const triangles = rig.triangles[part]!;
  const pose = { ...moment, method: "linear" } as const;
  const posed = deform(rig, pose, { normals: false, parts: [part] });
  const facing = carriedNormals(triangles, region.limbTriangles, rest, body.skin, posed.matrices[part] ?? null);
  const linear = posed.positions[part]!.slice();
  const dual = deform(rig, { ...pose, method: "dual" }, { normals: false, parts: [part] }).positions[part]!;
  const freedom = regionMask(gauge);
  const between = (share: number): Float32Array =>
    linear.map((x, i) => x + share * freedom[(i / 3) | 0]! * (dual[i]! - x));
  let roundness = 0;
  let best = Infinity;
  for (let k = 0; k <= ROUNDNESS_STEPS; k++) {
    const P = between(k / ROUNDNESS_STEPS);
    const edges = edgeStretch(region.edges, rest, P);
    const cost =
      Math.abs(limbVolume(region, triangles, P) / restVolume - 1) +
      Math.max(0, (edges.length ? percentile(edges, 0.99) : 1) - options.stretchLimit);
    if (cost < best - 1e-6) [best, roundness] = [cost, k / ROUNDNESS_STEPS];
  }
  const toRest = (P: Float32Array): ReturnedSculpt =>
    correctiveFromSculpt(
      rig,
      pose,
      rig.character.parts.map((_, p) => (p === part ? P : null)),
    );
  const eased = between(roundness);
  yield* scaled(0, 2 / 3, easeFlesh(gauge, eased, freedom, facing, { ...options, leastLoss: LEAST_LOSS }));
  const [first] = toRest(eased).deltas;
  if (!first) return null;
  // what smoothing undoes is set right once more, and that is left as it is
  const smooth = smoothDelta(first, neighboursOf(body), SMOOTHING);
  const again = deform(
    withShapes(rig, withTrialShape(rig.character, [smooth])),
    { ...pose, weights: { ...pose.weights, [TRIAL]: 1 } },
    { normals: false, parts: [part] },
  ).positions[part]!.slice();
  yield* scaled(
    2 / 3,
    1,
    easeFlesh(gauge, again, freedom, facing, {
      ...options,
      rounds: Math.ceil(options.rounds / 2),
      leastLoss: LEFT_AT_LAST,
    }),
  );
  const {
    deltas: [last],
    ill,
  } = toRest(again);
  if (!last) return null;
  const skin = smoothDelta(last, neighboursOf(body), 1, LAST_TOUCH);
  const surface = carrySurface(body);
  const carried = rig.character.parts.flatMap((_, p) =>
    p === part ? [] : (carryMovement(rig.character, p, skin, surface) ?? []),
  );
  return {
    deltas: [skin, ...carried].sort((a, b) => a.part - b.part),
    roundness,
    ill: ill[0]?.vertices ?? new Uint32Array(0),
  };
}

/** Passes on a generator's shares done, brought into a stretch of the whole. */
function* scaled(from: number, to: number, steps: Generator<number, void>): Generator<number, void> {
  for (const share of steps) yield from + (to - from) * share;
}

/** 1 in the middle of the joint's region, fading to 0 where its two sides hold nothing of each other. */
function regionMask({ region, rest }: JointGauge): Float32Array {
  const mask = new Float32Array(rest.length / 3);
  const reach = 2 * region.radius;
  for (let v = 0; v < mask.length; v++) {
    const d =
      Math.hypot(
        rest[3 * v]! - region.centre[0],
        rest[3 * v + 1]! - region.centre[1],
        rest[3 * v + 2]! - region.centre[2],
      ) / reach;
    mask[v] = d < 1 ? (1 - d * d) ** 2 : 0;
  }
  for (const v of region.vertices)
    mask[v] = Math.max(mask[v]!, Math.min(1, 8 * region.share[v]! * (1 - region.share[v]!)));
  return mask;
}

/** The moment of a motion at an angle with nothing else on. */
export const sculptMoment = (pose: Moment["pose"]): Moment => ({ ...REST_MOMENT, pose, drivers: false });

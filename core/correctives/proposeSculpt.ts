import { deform, withShapes, type Rig } from "../deform/rig";
import { REST_MOMENT, type Moment } from "../evaluate/moment";
import { edgeStretch, percentile } from "../measure/edgeStretch";
import { limbVolume } from "../measure/limbVolume";
import type { JointGauge } from "../measure/measureJoint";
import type { ShapeDelta } from "../model/character";
import { carryMovement, carrySurface } from "../surface/carryMovement";
import { correctiveFromSculpt, TRIAL, withTrialShape } from "./correctiveFromSculpt";
import { easeFlesh, type EaseOptions } from "./easeFlesh";
import { neighboursOf } from "../model/neighbours";
import { smoothDelta } from "../shapes/smoothDelta";
import { carriedNormals } from "../measure/turnedFaces";

export interface Proposal {
  /** Movement at rest, of the skin and of every part that follows it. */
  readonly deltas: readonly ShapeDelta[];
  /** Share of the way from linear to dual quaternion skinning that keeps the volume best. */
  readonly roundness: number;
  /** Vertices that could not be returned to rest well, of the skin. */
  readonly ill: Uint32Array;
}
/** How a proposal eases the skin; beyond `stretchLimit` no more roundness is taken either. */
export const PROPOSAL_DEFAULTS: EaseOptions = {
  stretchLimit: 1.7,
  rounds: 40,
  touch: 0.0012,
  leastLoss: 0.04,
  overBone: 0.92,
};

const ROUNDNESS_STEPS = 10;
/**
 * Skin that its own skinning squashes more than this is returned to rest with care: what is missed there lies deep in
 * the fold, and a movement met exactly would show on the way to the pose.
 */
const SQUASHED = 0.7;
/** Strength of a pass of smoothing over what was found, at rest, and of a last one, too weak to turn a face again. */
const STRENGTH = 1.2;
const LAST_TOUCH = 0.1;
/**
 * A first sculpt for a bent joint: flesh that keeps its volume, does not push into itself, is not overstretched and
 * shows no face inside out. In the pose the skin is led from linear toward dual quaternion skinning (Kavan et al. 2007)
 * as far as volume asks and stretch allows, then eased (`easeFlesh`). The result is returned to rest by each vertex's
 * own skinning; other parts are carried by the skin. Changes nothing. @returns null when nothing needs to move.
 */
export function proposeSculpt(
  gauge: JointGauge,
  moment: Moment,
  options: EaseOptions = PROPOSAL_DEFAULTS,
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
  options: EaseOptions = PROPOSAL_DEFAULTS,
): Generator<number, Proposal | null> {
  const { rig, region, restVolume, rest } = gauge;
  const { part } = region;
  const body = rig.character.parts[part]!;
  const triangles = rig.triangles[part]!;
  const pose = { ...moment, method: "linear" } as const;
  const posed = deform(rig, pose, { normals: false, parts: [part] });
  const facing = carriedNormals(
    triangles,
    region.limbTriangles,
    body.positions,
    body.skin,
    posed.matrices[part] ?? null,
  );
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
  const eased = between(roundness);
  const matrices = posed.matrices[part]!;
  yield* easeFlesh(gauge, eased, freedom, facing, matrices, options);
  const { skin, ill } = returned(rig, pose, part, eased, (P) => {
    // what was missed in the fold is set right as far as faces and limits ask, and that is met exactly
    const steps = easeFlesh(gauge, P, freedom, facing, matrices, { ...options, rounds: 0 });
    while (!steps.next().done);
  });
  if (!skin) return null;
  const surface = carrySurface(body);
  const carried = rig.character.parts.flatMap((_, p) =>
    p === part ? [] : (carryMovement(rig.character, p, skin, surface) ?? []),
  );
  return { deltas: [skin, ...carried].sort((a, b) => a.part - b.part), roundness, ill };
}

/** A sculpt of a part at rest: with care first, then what `settle` still moves of it. */
function returned(
  rig: Rig,
  pose: Moment,
  part: number,
  sculpt: Float32Array,
  settle: (P: Float32Array) => void,
): { skin: ShapeDelta | null; ill: Uint32Array } {
  const only = (P: Float32Array): (Float32Array | null)[] => rig.character.parts.map((_, p) => (p === part ? P : null));
  const first = correctiveFromSculpt(rig, pose, only(sculpt), { smallestStretch: SQUASHED });
  const [raw] = first.deltas;
  if (!raw) return { skin: null, ill: new Uint32Array(0) };
  const neighbours = neighboursOf(rig.character.parts[part]!);
  const delta = smoothDelta(raw, neighbours, 1, STRENGTH);
  const trial = withShapes(rig, withTrialShape(rig.character, [delta]));
  const at = { ...pose, weights: { ...pose.weights, [TRIAL]: 1 } };
  const again = deform(trial, at, { normals: false, parts: [part] }).positions[part]!.slice();
  settle(again);
  const last = correctiveFromSculpt(trial, at, only(again));
  const [rest] = last.deltas;
  return {
    skin: smoothDelta(rest ? sumOf(delta, rest, sculpt.length) : delta, neighbours, 1, LAST_TOUCH),
    ill: last.ill[0]?.vertices ?? new Uint32Array(0),
  };
}

/** Two movements of a part as one. @param size 3 x vertexCount. */
function sumOf(a: ShapeDelta, b: ShapeDelta, size: number): ShapeDelta {
  const all = new Float32Array(size);
  for (const { vertices, deltas } of [a, b])
    vertices.forEach((v, k) => {
      for (let c = 0; c < 3; c++) all[3 * v + c]! += deltas[3 * k + c]!;
    });
  const vertices = Uint32Array.from(new Set([...a.vertices, ...b.vertices])).sort();
  return {
    part: a.part,
    vertices,
    deltas: Float32Array.from({ length: 3 * vertices.length }, (_, i) => all[3 * vertices[(i / 3) | 0]! + (i % 3)]!),
  };
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

import { withShapes } from "../deform/rig";
import type { Moment } from "../evaluate/moment";
import { measureJoint, withRig, type JointGauge, type JointReading } from "../measure/measureJoint";
import { sweepAngles } from "../measure/sweepMotion";
import type { Driver, Shape } from "../model/character";
import { motionPose, type JointMotion } from "../skeleton/jointMotions";
import { proposeInSteps, sculptMoment } from "./proposeSculpt";

/** What a pose must keep to; null: not looked at. Units of `JointReading`. */
export interface PoseLimits {
  /** Least change of volume, negative share. */
  readonly volume: number | null;
  readonly depth: number | null;
  readonly stretch: number | null;
}

export interface DrivenShape {
  readonly shape: Shape;
  readonly driver: Driver;
}
export interface RangeProposal {
  /** One shape, or two of which the second works on top of the first. */
  readonly made: readonly DrivenShape[];
  /** Sum of what is still over the limits along the way, in limits. */
  readonly after: number;
}

/** Shares of the full angle at which a corrective may set in; the first that leaves least over the limits is taken. */
const SETS_IN = [0.3, 0.2, 0.4] as const;
/**
 * Where one shape does not keep the whole way within the limits, a first one is at full at this share of the way and
 * the second takes over.
 */
const HALFWAY = 0.75;
/** Angles looked at from rest to the end of the motion. */
const STEPS = 9;

/** How far a reading is over the limits: 0 within them, else the excess in limits; every turned face counts as one. */
export function excess({ volume, depth, stretch, flips }: JointReading, limits: PoseLimits): number {
  const over = (value: number, limit: number | null): number =>
    limit === null || limit === 0 ? 0 : Math.max(0, value / limit - 1);
  return over(volume, limits.volume) + over(depth, limits.depth) + over(stretch, limits.stretch) + flips;
}

/**
 * Correctives with drivers for one end of a motion, when the way there is over the limits: sculpted by measure
 * (`proposeInSteps`), set in where they do best. Yields the share done. @param end degrees: the motion's `min` or
 * `max`. @param limits with some room, for the angles between those measured.
 * @returns null when nothing is over the limits, or nothing can be proposed.
 */
export function* proposeForRange(
  gauge: JointGauge,
  motion: JointMotion,
  end: number,
  limits: PoseLimits,
  named: Pick<Shape, "name" | "label">,
): Generator<number, RangeProposal | null> {
  // the end first: it is the worst as a rule
  const angles = sweepAngles(Math.min(0, end), Math.max(0, end), STEPS).sort((a, b) => Math.abs(b) - Math.abs(a));
  const along = (made: readonly DrivenShape[], enough: number): number => {
    const g = withMade(gauge, made);
    let sum = 0;
    for (const angle of angles) {
      sum += excess(measureJoint(g, { ...sculptMoment(motionPose(motion, angle)), drivers: true }).reading, limits);
      if (sum > enough) break;
    }
    return sum;
  };
  if (
    ![1, 2 / 3, 1 / 3].some(
      (share) => excess(measureJoint(gauge, sculptMoment(motionPose(motion, share * end))).reading, limits) > 0,
    )
  )
    return null;
  yield 0.05;
  const [whole] = yield* sculptAt(gauge, motion, end, [], named, 0.05, 0.3);
  if (!whole) return null;
  let best: RangeProposal | null = null;
  for (const share of SETS_IN) {
    const made = [{ shape: whole, driver: driverOf(whole, motion, share * end, end) }];
    const after = along(made, best?.after ?? Infinity);
    if (!best || after < best.after) best = { made, after };
    yield 0.4;
    if (after === 0) return best;
  }
  const turn = Math.round(HALFWAY * end);
  const [first] = yield* sculptAt(
    gauge,
    motion,
    turn,
    [],
    { name: `${named.name}_half`, label: `${named.label}, half` },
    0.4,
    0.65,
  );
  if (!first) return best;
  const half = { shape: first, driver: driverOf(first, motion, SETS_IN[0] * turn, turn) };
  const [last] = yield* sculptAt(gauge, motion, end, [half], named, 0.65, 0.95);
  const made = last ? [half, { shape: last, driver: driverOf(last, motion, turn, end) }] : [half];
  const after = along(made, best!.after);
  return after < best!.after ? { made, after } : best;
}

const driverOf = (shape: Shape, motion: JointMotion, from: number, to: number): Driver => ({
  shape: shape.name,
  joint: motion.joint,
  axis: motion.axis,
  fromDegrees: Math.round(from),
  toDegrees: to,
  easing: "smooth",
  intensity: 1,
  enabled: true,
});

/** The gauge of the character with these shapes as its only driven ones. */
function withMade(gauge: JointGauge, made: readonly DrivenShape[]): JointGauge {
  const { character } = gauge.rig;
  return withRig(
    gauge,
    withShapes(gauge.rig, {
      ...character,
      shapes: [...character.shapes, ...made.map((m) => m.shape)],
      drivers: made.map((m) => m.driver),
    }),
  );
}

function* sculptAt(
  gauge: JointGauge,
  motion: JointMotion,
  degrees: number,
  on: readonly DrivenShape[],
  named: Pick<Shape, "name" | "label">,
  from: number,
  to: number,
): Generator<number, Shape[]> {
  const shape = yield* sculptFor(withMade(gauge, on), sculptMoment(motionPose(motion, degrees)), named, from, to);
  return shape ? [shape] : [];
}

/** A shape sculpted by measure at a moment, what is driven there at work; its share done lies between two others. */
export function* sculptFor(
  gauge: JointGauge,
  moment: Moment,
  named: Pick<Shape, "name" | "label">,
  from: number,
  to: number,
): Generator<number, Shape | null> {
  const steps = proposeInSteps(gauge, { ...moment, drivers: true });
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value && { ...named, deltas: value.deltas };
    yield from + (to - from) * value;
  }
}

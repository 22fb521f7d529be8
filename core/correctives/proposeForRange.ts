import { withShapes } from "../deform/rig";
import type { Moment } from "../evaluate/moment";
import { measureJoint, withRig, type JointGauge, type JointReading } from "../measure/measureJoint";
import { sweepAngles } from "../measure/sweepMotion";
import type { Driver, Shape } from "../model/character";
import { drivenByTurn } from "../model/drivenByTurn";
import { motionPose, type JointMotion } from "../skeleton/jointMotions";
import { proposeInSteps, sculptMoment } from "./proposeSculpt";
import { withinShares } from "./withinShares";

/** What a pose must keep to; null: not looked at. Units of `JointReading`. */
export interface PoseLimits {
  /** Least change of volume, negative share. */
  readonly volume: number | null;
  readonly depth: number | null;
  readonly stretch: number | null;
  /** How the limb looks: degrees, mm. */
  readonly crease?: number | null;
  readonly bone?: number | null;
}

export interface DrivenShape {
  readonly shape: Shape;
  readonly driver: Driver;
}
export interface RangeProposal {
  /** One shape, or several of which each works on top of those before it. */
  readonly made: readonly DrivenShape[];
  /** Sum of what is still over the limits along the way, in limits. */
  readonly after: number;
}

/** Shares of the way at which the first corrective may set in; the one that leaves least over the limits is taken. */
const SETS_IN = [0.3, 0.2, 0.4] as const;
/** Shapes at most for one end of a motion: where one does not keep the whole way, others take over from it. */
const MOST_LINKS = 3;
/** Two of them are at full no nearer to each other than this, degrees. */
const APART = 12;
/** Angles looked at from rest to the end of the motion are no farther apart than this, degrees. */
const STEP = 6;

/** How far a reading is over the limits: 0 within them, else the excess in limits; every turned face counts as one. */
export function excess(reading: JointReading, limits: PoseLimits): number {
  const over = (value: number | undefined, limit: number | null | undefined): number =>
    value === undefined || !limit ? 0 : Math.max(0, value / limit - 1);
  return (
    over(reading.volume, limits.volume) +
    over(reading.depth, limits.depth) +
    over(reading.stretch, limits.stretch) +
    over(reading.crease, limits.crease) +
    over(reading.bone, limits.bone) +
    reading.flips
  );
}

/** How much of the limit that is nearest a reading uses up: 1 at a limit. */
export function usedUp(reading: JointReading, limits: PoseLimits): number {
  const share = (value: number | undefined, limit: number | null | undefined): number =>
    value === undefined || !limit ? 0 : value / limit;
  return Math.max(
    share(reading.volume, limits.volume),
    share(reading.depth, limits.depth),
    share(reading.stretch, limits.stretch),
    share(reading.crease, limits.crease),
    share(reading.bone, limits.bone),
    reading.flips,
  );
}

/** A shape of a chain: at full at one angle, sculpted with those before it at work. */
interface Link {
  readonly full: number;
  readonly shape: Shape;
}

/**
 * Correctives with drivers for one end of a motion, when the way there is over the limits: sculpted by measure
 * (`proposeInSteps`) at the end and, where that does not keep the whole way, at the worst angles before it, each on top
 * of those that are at full earlier; the first sets in where it does best. Yields the share done. @param end degrees:
 * the motion's `min` or `max`. @param limits with some room, for the angles between those measured.
 * @returns null when nothing is over the limits, or nothing can be proposed.
 */
export function* proposeForRange(
  gauge: JointGauge,
  motion: JointMotion,
  end: number,
  limits: PoseLimits,
  named: Pick<Shape, "name" | "label">,
): Generator<number, RangeProposal | null> {
  const over = (g: JointGauge, degrees: number, drivers: boolean): number =>
    excess(measureJoint(g, { ...sculptMoment(motionPose(motion, degrees)), drivers }).reading, limits);
  if (![1, 2 / 3, 1 / 3].some((share) => over(gauge, share * end, false) > 0)) return null;
  yield 0.02;
  const angles = sweepAngles(Math.min(0, end), Math.max(0, end), Math.ceil(Math.abs(end) / STEP) + 1).reverse();
  let best: RangeProposal | null = null;
  let links: readonly Link[] = [];
  let full = [end];
  for (let round = 0; round < MOST_LINKS; round++) {
    const done = (share: number): number => 0.02 + (0.98 * (round + share)) / MOST_LINKS;
    // links before the new angle stay as they are: they were sculpted without those behind them
    links = links.filter((l, i) => l.full === full[i]);
    const asked = full.slice(links.length);
    for (const [i, degrees] of asked.entries()) {
      const on = withMade(gauge, driven(links, motion, SETS_IN[0]));
      const own = degrees === end ? named : before(named, degrees);
      const shape: Shape | null = yield* sculptFor(
        on,
        sculptMoment(motionPose(motion, degrees)),
        own,
        done((0.6 * i) / asked.length),
        done((0.6 * (i + 1)) / asked.length),
      );
      if (shape) links = [...links, { full: degrees, shape }];
    }
    if (links.length === 0) return null;
    let worst = { degrees: 0, over: 0 };
    for (const share of SETS_IN) {
      const made = driven(links, motion, share);
      const g = withMade(gauge, made);
      let [after, most] = [0, { degrees: 0, over: 0 }];
      for (const degrees of angles) {
        const left = over(g, degrees, true);
        after += left;
        if (left > most.over) most = { degrees, over: left };
        if (best && after >= best.after) break;
      }
      if (best && after >= best.after) continue;
      best = { made, after };
      worst = most;
      yield done(0.8);
      if (after === 0) return best;
    }
    const next = between(full, worst.degrees);
    if (next === null) return best;
    full = [...full, next].sort((a, b) => Math.abs(a) - Math.abs(b));
  }
  return best;
}

/** An angle for one more link: the wanted one, kept apart from those round it; null where they leave no room. */
function between(full: readonly number[], wanted: number): number | null {
  const sign = Math.sign(full[0]!);
  const at = Math.abs(wanted);
  const below = Math.max(0, ...full.map(Math.abs).filter((x) => x < at));
  const above = Math.min(...full.map(Math.abs).filter((x) => x >= at));
  if (!(above - below >= 2 * APART)) return null;
  return sign * Math.round(Math.min(above - APART, Math.max(below + APART, at)));
}

const before = ({ name, label }: Pick<Shape, "name" | "label">, degrees: number): Pick<Shape, "name" | "label"> => ({
  name: `${name}_${Math.abs(degrees)}`,
  label: `${label}, at ${degrees}°`,
});

/** A chain with its drivers: the first sets in at a share of its way, each other one where the one before is full. */
const driven = (links: readonly Link[], motion: JointMotion, setsIn: number): DrivenShape[] =>
  links.map(({ shape, full }, i) => ({
    shape,
    driver: driverOf(shape, motion, i === 0 ? setsIn * full : links[i - 1]!.full, full),
  }));

const driverOf = ({ name }: Shape, motion: JointMotion, from: number, to: number): Driver => ({
  shape: name,
  ...drivenByTurn(motion, Math.round(from), to),
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

/** A shape sculpted by measure at a moment, what is driven there at work; its share done lies between two others. */
export function* sculptFor(
  gauge: JointGauge,
  moment: Moment,
  named: Pick<Shape, "name" | "label">,
  from: number,
  to: number,
): Generator<number, Shape | null> {
  const made = yield* withinShares(from, to, proposeInSteps(gauge, { ...moment, drivers: true }));
  return made && { ...named, deltas: made.deltas };
}

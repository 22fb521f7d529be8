import { readySamples } from "../evaluate/drivers/sampleWeights";
import { withShapes } from "../deform/rig";
import { fromAxisAngle, IDENTITY_QUAT, toEulerXYZ, twistDegrees } from "../math/quat";
import { dot, type Quat, type Vec3 } from "../math/vec3";
import { measureJoint, withRig, type JointGauge } from "../measure/measureJoint";
import type { Shape } from "../model/character";
import { uniqueName } from "../model/uniqueName";
import type { PoseSample, SampleSet } from "../model/poseDriver";
import { sweepAngles } from "../measure/sweepMotion";
import type { JointMotion } from "../skeleton/jointMotions";
import { excess, sculptFor, usedUp, type PoseLimits } from "./proposeForRange";
import { sculptMoment } from "./proposeSculpt";
import { withRadius } from "./sampleEdits";
import { coastOf, turnTo, type Place, type SwingMap } from "./swingMap";
import type { Moment } from "../evaluate/moment";
import type { Pose } from "../evaluate/poseSkeleton";

export interface SamplesProposal {
  readonly set: SampleSet;
  /** Shapes of its samples. */
  readonly shapes: readonly Shape[];
  /** Poses that were looked at, and how many of them are over the limits before and after. */
  readonly looked: number;
  readonly before: number;
  readonly after: number;
}

/** Directions round the bone, and shares of the way to the coast, in which poses are looked at. */
const AZIMUTHS = 12;
const SHARES = [0.45, 0.7, 0.85, 1] as const;
/** Beside them poses spread evenly over swing and twist (Halton 1960) are looked at, in rounds of so many. */
const SPREAD = 64;
/** Share of the twist's range at which the coast is looked at. */
const COAST_TWIST = 0.8;
const ROUNDS = 3;
/** Samples at most. */
export const MOST_SAMPLES = 16;

interface SwingPose {
  readonly name: string;
  readonly turn: Quat;
}

/** Steps in which each motion alone is looked at, degrees. */
const ALONG = 12;

/** Poses of a joint over its whole swing, as turns away from rest: named by where the bone points. */
export function swingPoses(map: SwingMap, motions: readonly JointMotion[]): SwingPose[] {
  const alone = motions.flatMap(({ name, axis, min, max }) =>
    sweepAngles(min, max, Math.ceil((max - min) / ALONG) + 1).flatMap((degrees) =>
      Math.abs(degrees) < NEAR_REST
        ? []
        : { name: `${name} ${Math.round(degrees)}°`, turn: fromAxisAngle(axis, degrees) },
    ),
  );
  const coast = coastOf(map, motions);
  const step = coast.length / AZIMUTHS;
  const swung = Array.from({ length: coast.length ? AZIMUTHS : 0 }, (_, i) => {
    const [x, y] = coast[Math.round(i * step) % coast.length]!;
    // between two of the directions the coast alone
    const between = coast[Math.round((i + 0.5) * step) % coast.length]!;
    return [...SHARES.map((share): Place => [share * x, share * y]), between];
  })
    .flat()
    .flatMap((place) => poseAt(map, place) ?? []);
  return [...alone, ...swung];
}

/** Poses spread evenly over swing and twist; the next ones with every round. */
function spreadPoses(map: SwingMap, motions: readonly JointMotion[], round: number): SwingPose[] {
  const coast = coastOf(map, motions);
  const twist = motions.find((m) => Math.abs(dot(m.axis, map.along)) > 0.9);
  if (coast.length === 0) return [];
  // first the coast twisted to either side: there a joint is at its ends in every way at once
  const ends = round === 0 && twist ? [twist.min, twist.max].map((x) => Math.round(COAST_TWIST * x)) : [];
  const twisted = ends.flatMap((degrees) =>
    Array.from({ length: AZIMUTHS }, (_, i) => coast[Math.floor((i * coast.length) / AZIMUTHS)]!).flatMap(
      (place) => poseAt(map, place, { axis: twist!.axis, degrees }) ?? [],
    ),
  );
  const spread = Array.from({ length: SPREAD }, (_, k) => 1 + round * SPREAD + k).flatMap((i) => {
    const [x, y] = coast[Math.floor(halton(i, 2) * coast.length)]!;
    // one in three at the coast itself, where joints are worst
    const share = Math.min(1, Math.sqrt(1.5 * halton(i, 3)));
    const degrees = twist ? Math.round(twist.min + halton(i, 5) * (twist.max - twist.min)) : 0;
    return poseAt(map, [share * x, share * y], twist && { axis: twist.axis, degrees }) ?? [];
  });
  return [...twisted, ...spread];
}

/** Nearer to rest than this nothing is looked at, degrees. */
const NEAR_REST = 12;
function poseAt(map: SwingMap, place: Place, twist?: { axis: Vec3; degrees: number }): SwingPose | null {
  const off = Math.round(Math.hypot(...place));
  if (off < NEAR_REST && Math.abs(twist?.degrees ?? 0) < NEAR_REST) return null;
  const turned = twist && twist.degrees !== 0;
  return {
    name: `${off}° ${sideWords(map, place)}${turned ? ` twist ${twist.degrees}°` : ""}`,
    turn: turnTo(map, place, turned ? fromAxisAngle(twist.axis, twist.degrees) : IDENTITY_QUAT),
  };
}

/** The i-th number of Halton's sequence of a base, 0..1. */
function halton(i: number, base: number): number {
  let [sum, place] = [0, 1];
  for (let n = i; n > 0; n = Math.floor(n / base)) {
    place /= base;
    sum += place * (n % base);
  }
  return sum;
}

/** A turn of a joint as a pose, with what must be out of its way (the other leg while a thigh is drawn in). */
export function swingPose(joint: string, turn: Quat, motions: readonly JointMotion[]): Pose {
  const asides = motions.flatMap(({ axis, aside }) => {
    const along = twistDegrees(turn, axis);
    if (!aside || along >= 0) return [];
    return [[aside.joint, toEulerXYZ(fromAxisAngle(aside.axis, aside.share * along))] as const];
  });
  return { ...Object.fromEntries(asides), [joint]: toEulerXYZ(turn) };
}

/** Where a place lies on a map, to an eighth of the round. */
function sideWords({ sides }: SwingMap, [x, y]: Place): string {
  const far = Math.max(Math.abs(x), Math.abs(y));
  const up = Math.abs(y) > 0.4 * far ? sides[y > 0 ? 0 : 2] : "";
  const along = Math.abs(x) > 0.4 * far ? sides[x > 0 ? 1 : 3] : "";
  return [up, along].filter(Boolean).join(" ");
}

/**
 * Sampled poses over a joint's whole swing, by measure: the pose that is most over the limits is sculpted
 * (`proposeInSteps`) and sampled, until none is or nothing more helps; then others are looked at, until a whole round
 * of them has none. Yields the share done. Correctives that act already stay at work, and samples are what is missing
 * on top of them.
 * @param empty the set to begin with, of one joint.
 * @returns null when nothing is over the limits.
 */
export function* proposeSamples(
  of: JointGauge,
  map: SwingMap,
  motions: readonly JointMotion[],
  empty: SampleSet,
  limits: PoseLimits,
  most = MOST_SAMPLES,
): Generator<number, SamplesProposal | null> {
  // the same poses are read again and again, with other shapes
  const gauge: JointGauge = of.rig.character.shapes.some((s) => s.jointOffsets)
    ? of
    : { ...of, carriedAt: new WeakMap() };
  const poses = new PosesLookedAt(gauge, empty, motions, limits);
  let made: Made = { set: empty, shapes: [] };
  for (let round = 0; round <= ROUNDS; round++) {
    const done = (share: number): number => Math.min(1, (round + share) / (ROUNDS + 1));
    const next = round === 0 ? swingPoses(map, motions) : spreadPoses(map, motions, round - 1);
    const fresh = yield* poses.lookAt(next, made, (share) => done(0.3 * share));
    if (fresh === 0 && round > 0) break;
    for (let tries = 0; made.set.samples.length < most; tries++) {
      const worst = poses.worst();
      if (!worst) break;
      worst.tried = true;
      made = (yield* sampled(poses, worst, made, done(0.3 + (0.7 * tries) / (tries + 4)))) ?? made;
    }
    for (const set of made.set.samples.length > 1 ? weighedOtherwise(made.set) : []) {
      const other = { ...made, set };
      if (poses.over("now") === 0 || !readySamples(set)) continue;
      if (!(yield* poses.takeIfBetter(other, done(0.98)))) continue;
      poses.tryAgain();
      made = other;
    }
  }
  const before = poses.over("before");
  return before === 0 ? null : { ...made, looked: poses.count, before, after: poses.over("now") };
}

/** What was proposed so far. */
interface Made {
  readonly set: SampleSet;
  readonly shapes: readonly Shape[];
}

/** With the worst pose sculpted and sampled; null where that is no better. */
function* sampled(poses: PosesLookedAt, worst: LookedAt, made: Made, share: number): Generator<number, Made | null> {
  const { set, shapes } = made;
  const name = uniqueName(worst.pose.name, new Set(set.samples.map((s) => s.name)), "pose");
  const own = { name: `${poses.joint} ${name}`, label: `${poses.joint} ${name}` };
  const shape = yield* sculptFor(poses.bare, worst.moment, own, share, share);
  if (!shape) return null;
  const sample: PoseSample = { name, shape: shape.name, turns: [worst.pose.turn] };
  const added = { ...set, samples: [...set.samples, sample] };
  // one more sample near others must not make all of them narrow: the radius stays where that is better
  for (const next of set.samples.length ? [added, withRadius(added)] : [withRadius(added)]) {
    if (!readySamples(next)) continue;
    const taken = { set: next, shapes: [...shapes, shape] };
    if (yield* poses.takeIfBetter(taken, share)) return taken;
  }
  return null;
}

/** Poses of a joint with what was read of them, with the samples that were taken last. */
class PosesLookedAt {
  readonly joint: string;
  /** The joint without any of these samples. */
  readonly bare: JointGauge;
  private readonly looked: LookedAt[] = [];

  constructor(
    private readonly gauge: JointGauge,
    empty: SampleSet,
    private readonly motions: readonly JointMotion[],
    private readonly limits: PoseLimits,
  ) {
    this.joint = empty.joints[0]!.joint;
    this.bare = withMade(gauge, { ...empty, samples: [] }, []);
  }

  get count(): number {
    return this.looked.length;
  }
  over(when: "before" | "now"): number {
    return this.looked.filter((p) => p[when] > 0).length;
  }
  /** The pose most over the limits that no sample was tried at. */
  worst(): LookedAt | null {
    return this.looked.reduce<LookedAt | null>((best, p) => (!p.tried && p.now > (best?.now ?? 0) ? p : best), null);
  }
  /** Samples are tried once more at poses that are still over the limits. */
  tryAgain(): void {
    for (const p of this.looked) p.tried &&= p.now === 0;
  }

  private read(g: JointGauge, moment: Moment): Pick<LookedAt, "now" | "used"> {
    const { reading } = measureJoint(g, moment);
    return { now: excess(reading, this.limits), used: usedUp(reading, this.limits) };
  }

  /** Looks at more poses. Yields the share done. @returns how many of them are over the limits. */
  *lookAt(
    poses: readonly SwingPose[],
    { set, shapes }: Made,
    done: (share: number) => number,
  ): Generator<number, number> {
    const g = withMade(this.gauge, set, shapes);
    const weigh = weigher(set);
    let fresh = 0;
    for (const [i, pose] of poses.entries()) {
      const moment = { ...sculptMoment(swingPose(this.joint, pose.turn, this.motions)), drivers: true };
      const found = this.read(g, moment);
      if (found.now > 0) fresh++;
      const before = this.read(this.bare, moment).now;
      this.looked.push({ pose, moment, before, ...found, weights: weigh(pose.turn), tried: false });
      if (i % 8 === 0) yield done(i / poses.length);
    }
    return fresh;
  }

  /**
   * The poses read anew with these samples, those that the samples weigh otherwise; false, and nothing is kept, as soon
   * as they are no better than now.
   */
  *takeIfBetter({ set, shapes }: Made, share: number): Generator<number, boolean> {
    const g = withMade(this.gauge, set, shapes);
    const weigh = weigher(set);
    const enough = this.looked.reduce((total, p) => total + p.now, 0);
    const others = new Map<LookedAt, Pick<LookedAt, "now" | "used" | "weights">>();
    // the worst first: what is no better shows soon
    const anew = this.looked.flatMap((p) => {
      const weights = weigh(p.pose.turn);
      return sameWeights(weights, p.weights, p.used < SAFE ? SMALL_CHANGE : SAME_WEIGHT) ? [] : [{ p, weights }];
    });
    anew.sort((a, b) => b.p.now - a.p.now);
    let total = enough - anew.reduce((sum, { p }) => sum + p.now, 0);
    for (const [i, { p, weights }] of anew.entries()) {
      const found = this.read(g, p.moment);
      total += found.now;
      others.set(p, { ...found, weights });
      if (total >= enough) return false;
      if (i % 8 === 0) yield share;
    }
    if (total >= enough) return false;
    for (const [p, to] of others) Object.assign(p, to);
    return true;
  }
}

/** A pose that is looked at, how far it is over the limits, and the weights of the samples at which that was read. */
interface LookedAt {
  readonly pose: SwingPose;
  readonly moment: Moment;
  readonly before: number;
  now: number;
  /** How much of its nearest limit it uses up. */
  used: number;
  weights: Float64Array;
  tried: boolean;
}
/** Weights that differ by less move skin by less than can be seen. */
const SAME_WEIGHT = 2e-3;
/** A pose that uses up less of its limits than this bears a somewhat larger change without another reading. */
const SAFE = 0.8;
const SMALL_CHANGE = 0.03;

/** Weights of a set's samples in a turn, in their order. */
function weigher(set: SampleSet): (turn: Quat) => Float64Array {
  const ready = set.samples.length ? readySamples(set) : null;
  return (turn) => (ready ? ready.weightsAt([turn]).slice(1) : new Float64Array(0));
}

/** Samples are only added: one that was not there weighed nothing. */
const sameWeights = (a: Float64Array, b: Float64Array, most: number): boolean =>
  a.length >= b.length && a.every((w, i) => Math.abs(w - (b[i] ?? 0)) < most);

/** The same samples, weighed by other kernels, radii and shares of twist. */
const weighedOtherwise = (set: SampleSet): SampleSet[] => [
  ...[0.7, 1.4].map((times) => ({ ...set, radiusDegrees: Math.round(Math.min(150, times * set.radiusDegrees)) })),
  { ...set, kernel: "compact", radiusDegrees: Math.round(Math.min(180, 2 * set.radiusDegrees)) },
  { ...set, kernel: "linear" },
  ...[0.25, 1].map((twistShare) => ({ ...set, twistShare })),
];

/** The gauge of the character with these sampled poses beside what drives its shapes already. */
function withMade(gauge: JointGauge, set: SampleSet, shapes: readonly Shape[]): JointGauge {
  const { character } = gauge.rig;
  const others = (character.sampleSets ?? []).filter((s) => s.name !== set.name);
  return withRig(
    gauge,
    withShapes(gauge.rig, {
      ...character,
      shapes: [...character.shapes, ...shapes],
      sampleSets: set.samples.length ? [...others, set] : others,
    }),
  );
}

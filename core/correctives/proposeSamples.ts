import { readySamples } from "../evaluate/drivers/sampleWeights";
import { withShapes } from "../deform/rig";
import { fromAxisAngle, IDENTITY_QUAT, toEulerXYZ, twistDegrees } from "../math/quat";
import { dot, type Quat } from "../math/vec3";
import { measureJoint, withRig, type JointGauge } from "../measure/measureJoint";
import type { Shape } from "../model/character";
import type { PoseSample, SampleSet } from "../model/poseDriver";
import type { JointMotion } from "../skeleton/jointMotions";
import { excess, sculptFor, type PoseLimits } from "./proposeForRange";
import { sculptMoment } from "./proposeSculpt";
import { withRadius } from "./sampleEdits";
import { coastOf, turnTo, type Place, type SwingMap } from "./swingMap";
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
/** Twists that are looked at beside none, as shares of the range, at so much of the way to the coast. */
const TWISTS = [-0.8, 0.8] as const;
const TWISTED_AT = 0.6;
/** Samples at most. */
export const MOST_SAMPLES = 14;

/** Poses of a joint over its whole swing, as turns away from rest: named by where the bone points. */
export function swingPoses(
  map: SwingMap,
  motions: readonly JointMotion[],
): { readonly name: string; readonly turn: Quat }[] {
  const coast = coastOf(map, motions);
  const twist = motions.find((m) => Math.abs(dot(m.axis, map.along)) > 0.9);
  const step = coast.length / AZIMUTHS;
  const poses: { name: string; turn: Quat }[] = [];
  const add = (place: Place, q: Quat, words: string): void => {
    const off = Math.round(Math.hypot(...place));
    if (off >= 12 || q !== IDENTITY_QUAT)
      poses.push({ name: `${off}° ${sideWords(map, place)}${words}`, turn: turnTo(map, place, q) });
  };
  for (let i = 0; i < AZIMUTHS && coast.length > 0; i++) {
    const [x, y] = coast[Math.round(i * step) % coast.length]!;
    for (const share of SHARES) add([share * x, share * y], IDENTITY_QUAT, "");
    for (const t of twist && i % 2 === 0 ? TWISTS : []) {
      const degrees = Math.round(t * (t > 0 ? twist!.max : -twist!.min));
      add([TWISTED_AT * x, TWISTED_AT * y], fromAxisAngle(twist!.axis, degrees), ` twist ${degrees}°`);
    }
  }
  return poses;
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
 * (`proposeInSteps`) and sampled, until none is or nothing more helps. Yields the share done.
 * Correctives that act already stay at work, and samples are what is missing on top of them.
 * @param empty the set to begin with, of one joint.
 * @returns null when nothing is over the limits.
 */
export function* proposeSamples(
  gauge: JointGauge,
  map: SwingMap,
  motions: readonly JointMotion[],
  empty: SampleSet,
  limits: PoseLimits,
  most = MOST_SAMPLES,
): Generator<number, SamplesProposal | null> {
  const joint = empty.joints[0]!.joint;
  const poses = swingPoses(map, motions);
  const moments = poses.map(({ turn }) => sculptMoment(swingPose(joint, turn, motions)));
  const read = function* (g: JointGauge, from: number, to: number): Generator<number, number[]> {
    const out: number[] = [];
    for (const [i, moment] of moments.entries()) {
      out.push(excess(measureJoint(g, { ...moment, drivers: true }).reading, limits));
      yield from + ((to - from) * i) / moments.length;
    }
    return out;
  };
  const bare = withMade(gauge, { ...empty, samples: [] }, []);
  const before = yield* read(bare, 0, 0.1);
  const over = (list: readonly number[]): number => list.filter((x) => x > 0).length;
  if (over(before) === 0) return null;
  let set = empty;
  let shapes: readonly Shape[] = [];
  let now = before;
  const refused = new Set<number>();
  for (let made = 0; made < most; made++) {
    const from = 0.1 + (0.9 * made) / most;
    const to = from + 0.9 / most;
    const worst = now.reduce((best, x, i) => (!refused.has(i) && x > (best < 0 ? 0 : now[best]!) ? i : best), -1);
    if (worst < 0) break;
    const name = `${joint} ${poses[worst]!.name}`;
    const shape = yield* sculptFor(bare, moments[worst]!, { name, label: name }, from, to - 0.02);
    refused.add(worst);
    if (!shape) continue;
    const sample: PoseSample = { name: poses[worst]!.name, shape: shape.name, turns: [poses[worst]!.turn] };
    const next = withRadius({ ...set, samples: [...set.samples, sample] });
    if (!readySamples(next)) continue;
    const after = yield* read(withMade(gauge, next, [...shapes, shape]), to - 0.02, to);
    if (sum(after) >= sum(now)) continue;
    [set, shapes, now] = [next, [...shapes, shape], after];
  }
  return { set, shapes, looked: poses.length, before: over(before), after: over(now) };
}

const sum = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0);

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

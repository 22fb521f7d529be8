import { withShapes } from "../deform/rig";
import { subtreeOf, weightShare } from "../measure/jointRegion";
import { measureJoint, withRig, type JointGauge, type JointReading } from "../measure/measureJoint";
import { isDriven, type Character, type Driver, type Shape } from "../model/character";
import { drivenByTurn } from "../model/drivenByTurn";
import type { HumanoidMap } from "../skeleton/humanoidMap";
import { motionPose, type JointMotion } from "../skeleton/jointMotions";
import { sculptMoment } from "./proposeSculpt";

/** The motion and angles at which a shape does most good, found by measuring. */
export interface FoundDriver {
  readonly motion: JointMotion;
  /** Degrees along the motion at which it sets in, and at which it is at full. */
  readonly driver: Omit<Driver, "shape">;
  /** Share of what is wrong on that motion that it takes away. */
  readonly gain: number;
  /** Whether no other motion, of this joint or another, comes near: the next one gains less than half as much. */
  readonly certain: boolean;
}

/** Joints that are tried, those first whose bend a shape moves most; and shares of a motion at which it is tried. */
const JOINTS = 3;
const TRIED = [0.35, 0.6, 0.8, 1] as const;
/** Shares of the motion at which full is looked for, and how much less than the most the end of the motion may gain. */
const FULL = Array.from({ length: 13 }, (_, k) => (k + 4) / 16);
const NEARLY = 0.5;
/** A shape sets in at this share of its full angle. Common practice, no source. */
const SETS_IN = 0.3;
/** Less gain than this is none; the next joint must gain less than this share of the best. */
const LEAST_GAIN = 0.02;
const AHEAD = 0.5;
/** Share of a shape's squared movement that a joint must bend to be tried. */
const BENDS = 0.02;
/** A shape that moves more of the head than this is no corrective of a limb. */
const OF_THE_HEAD = 0.5;

/** What is wrong with a bent joint, in limits; also below them, where a corrective does good already. */
const wrong = ({ volume, depth, stretch, flips }: JointReading): number =>
  Math.max(0, -volume) / 0.1 + depth / 5 + Math.max(0, stretch - 1.2) / 0.8 + 0.05 * flips;

/** Shapes that nothing sets and that move flesh of the body rather than of the head. */
export function loneShapes(character: Character, humanoid: HumanoidMap): Shape[] {
  const head = humanoid.jointOfBone.get("head");
  const body = character.parts.findIndex((p) => p.kind === "body" && p.skin);
  if (body < 0 || !character.skeleton) return [];
  const ofHead = head === undefined ? null : weightShare(character.parts[body]!, subtreeOf(character, head));
  return character.shapes.filter((shape) => {
    if (isDriven(character, shape.name) || character.shapeDrivers.some((d) => d.of.includes(shape.name))) return false;
    const moved = squares(shape, body);
    const all = moved.reduce((sum, [, d]) => sum + d, 0);
    return all > 1e-8 && moved.reduce((sum, [v, d]) => sum + d * (ofHead?.[v] ?? 0), 0) < OF_THE_HEAD * all;
  });
}

/** Squared movement of each vertex of a part that a shape moves. */
function squares(shape: Shape, part: number): [vertex: number, squared: number][] {
  const delta = shape.deltas.find((d) => d.part === part);
  return Array.from(delta?.vertices ?? [], (v, k): [number, number] => [
    v,
    [0, 1, 2].reduce((sum, c) => sum + delta!.deltas[3 * k + c]! ** 2, 0),
  ]);
}

/**
 * What drives a shape, found by measuring each motion of the joints that it moves most with it and without it: volume,
 * overlap, stretch and turned faces. Yields the share done.
 * @returns null where it does no good anywhere.
 */
export function* findDriver(
  character: Character,
  gaugeOf: (joint: string) => JointGauge | null,
  motions: readonly JointMotion[],
  shape: Shape,
): Generator<number, FoundDriver | null> {
  const joints = nearestJoints(character, motions, shape).slice(0, JOINTS);
  const alone = (g: JointGauge): JointGauge =>
    withRig(g, withShapes(g.rig, { ...character, shapes: [shape], drivers: [], shapeDrivers: [], mixes: [] }));
  const gains = (g: JointGauge, motion: JointMotion, degrees: number): { without: number; gain: number } => {
    const [without, driven] = [0, 1].map((weight) =>
      wrong(
        measureJoint(g, { ...sculptMoment(motionPose(motion, degrees)), weights: { [shape.name]: weight } }).reading,
      ),
    ) as [number, number];
    return { without, gain: without - driven };
  };
  const tried: { motion: JointMotion; end: number; good: number; share: number; gauge: JointGauge }[] = [];
  for (const [i, joint] of joints.entries()) {
    const found = gaugeOf(joint);
    if (!found) continue;
    const gauge = alone(found);
    for (const motion of motions.filter((m) => m.joint === joint))
      for (const end of [motion.min, motion.max].filter((e) => Math.abs(e) >= 10)) {
        const at = TRIED.map((share) => gains(gauge, motion, share * end));
        const good = Math.max(...at.map((x) => x.gain));
        const most = Math.max(...at.map((x) => x.without));
        tried.push({ motion, end, good, share: most > 0 ? good / most : 0, gauge });
        yield (0.8 * (i + 0.5)) / joints.length;
      }
  }
  tried.sort((a, b) => b.good - a.good);
  const best = tried[0];
  if (!best || best.good <= LEAST_GAIN) return null;
  const next = tried.find((t) => t.motion.id !== best.motion.id);
  const along = FULL.map((share) => ({ share, ...gains(best.gauge, best.motion, share * best.end) }));
  const most = along.reduce((a, b) => (b.gain > a.gain ? b : a));
  // correctives are made for the end of a motion as a rule: it is taken unless another angle gains clearly more
  const end = along.at(-1)!;
  const full = Math.round((end.gain >= NEARLY * most.gain ? 1 : most.share) * best.end);
  yield 1;
  return {
    motion: best.motion,
    driver: drivenByTurn(best.motion, Math.round(SETS_IN * full), full),
    gain: best.share,
    certain: !next || next.good < AHEAD * best.good,
  };
}

/** Joints that bend the skin which a shape moves, those first that bend most of it. */
function nearestJoints(character: Character, motions: readonly JointMotion[], shape: Shape): string[] {
  const body = character.parts.findIndex((p) => p.kind === "body" && p.skin);
  if (body < 0) return [];
  const moved = squares(shape, body);
  const all = moved.reduce((sum, [, d]) => sum + d, 0);
  const bent = (name: string): number => {
    const joint = character.skeleton!.joints.findIndex((j) => j.name === name);
    const share = weightShare(character.parts[body]!, subtreeOf(character, joint));
    return moved.reduce((sum, [v, d]) => sum + d * 4 * share[v]! * (1 - share[v]!), 0) / (all || 1);
  };
  return [...new Set(motions.map((m) => m.joint))]
    .map((name) => ({ name, bends: bent(name) }))
    .filter((j) => j.bends > BENDS)
    .sort((a, b) => b.bends - a.bends)
    .map((j) => j.name);
}

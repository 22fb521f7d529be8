import { rebind } from "../skeleton/rebind";
import { dot, type Vec3 } from "../math/vec3";
import { conjugate, multiplyQuat, rotate } from "../math/quat";
import type { Quat } from "../math/vec3";
import { changedDriver, changedSamples } from "../model/changeDrivers";
import { UNCHANGED, type JointChange } from "../model/terms/jointChange";
import type { Character, Driver, Shape } from "../model/character";
import { wholeDegrees } from "../model/drivenByTurn";
import { poseDriven } from "../model/drivenShapes";
import { jointsRead as termJoints } from "../model/terms/driverTerms";
import type { PoseDriver, SampleSet } from "../model/poseDriver";
import { UserError } from "../model/userError";
import { humanoidMap } from "../skeleton/humanoidMap";
import { jointMotions } from "../skeleton/jointMotions";
import type { Tick } from "../measure/sweepMotion";
import { framesOf, standLike } from "./standLike";
import { transferShapes } from "./transferShapes";

/** A character's correctives with what drives them, made for another one. Changes nothing of either. */
export interface CarriedCorrectives {
  readonly driven: readonly { readonly shape: Shape; readonly driver: Driver }[];
  readonly read: readonly { readonly shape: Shape; readonly driver: PoseDriver }[];
  readonly sampled: readonly { readonly set: SampleSet; readonly shapes: readonly Shape[] }[];
  /** Shapes that were left out, and why. */
  readonly leftOut: readonly { readonly name: string; readonly why: string }[];
  /** How the two surfaces were brought together, as a sentence. */
  readonly how: string;
}

/** An axis that is nearer to one of the other's motions than this is that motion's, cosine. */
const SAME_AXIS = 0.97;

/** Joints there by those here: by the bones that both are mapped to, and by the joints that twist the same limb. */
function jointsThere(source: Character, target: Character): Map<string, string> {
  const [own, theirs] = [source.skeleton!, target.skeleton!];
  const [map, otherMap] = [humanoidMap(own, source.jointMap), humanoidMap(theirs, target.jointMap)];
  const out = new Map<string, string>();
  own.joints.forEach((joint, j) => {
    const bone = map.boneOfJoint[j];
    const k = bone ? otherMap.jointOfBone.get(bone) : undefined;
    if (k !== undefined) out.set(joint.name, theirs.joints[k]!.name);
  });
  const others = jointMotions(theirs, otherMap);
  for (const m of jointMotions(own, map)) {
    const same = others.find((o) => o.bone === m.bone && o.name === m.name);
    if (same && !out.has(m.joint)) out.set(m.joint, same.joint);
  }
  return out;
}

/** What becomes of what is read at the source's joints, resting as the target does. */
function changesTo(source: Character, target: Character, there: ReadonlyMap<string, string>) {
  const [own, theirs] = [source.skeleton!, target.skeleton!];
  const [frames, others] = [framesOf(own, "rest"), framesOf(theirs, "rest")];
  const motions = jointMotions(theirs, humanoidMap(theirs, target.jointMap));
  return (name: string): JointChange => {
    const joint = there.get(name)!;
    const from = frames[own.joints.findIndex((j) => j.name === name)]!;
    const back = conjugate(others[theirs.joints.findIndex((j) => j.name === joint)]!);
    const across: Quat = multiplyQuat(back, from);
    const vector = (v: Vec3): Vec3 => rotate(across, v);
    const axis = (v: Vec3): Vec3 => {
      const found = vector(v);
      const along = motions.find((m) => m.joint === joint && Math.abs(dot(m.axis, found)) > SAME_AXIS);
      return along ? (dot(along.axis, found) > 0 ? along.axis : (along.axis.map((x) => -x + 0) as never)) : found;
    };
    const turn = (q: Quat): Quat => multiplyQuat(multiplyQuat(across, q), conjugate(across));
    return { ...UNCHANGED, joint, axis, along: vector, towards: vector, turn };
  };
}

/**
 * Carries everything that poses drive over to another character: the source is bound anew as the target is bound, so
 * that its movement stands in the same limbs, and that goes by deformation transfer (`transferShapes`); what drives it
 * is counted from the target's rest, about the target's own motions. Changes nothing of either.
 * @param names shapes to be carried. @throws UserError without skeletons, or where the bodies cannot be brought
 * together.
 */
export async function carryCorrectives(
  source: Character,
  target: Character,
  names: ReadonlySet<string>,
  tick: Tick = () => {},
): Promise<CarriedCorrectives> {
  if (!source.skeleton || !target.skeleton)
    throw new UserError("Correctives are driven by joints, and one of the two has none.", "carry correctives", "");
  const there = jointsThere(source, target);
  const wanted = [...poseDriven(source)].filter((n) => names.has(n));
  const leftOut: { name: string; why: string }[] = [];
  const kept = wanted.filter((name) => {
    const unknown = jointsRead(source, name).find((j) => !there.has(j));
    const deltas = source.shapes.find((s) => s.name === name)?.deltas ?? [];
    if (unknown !== undefined)
      leftOut.push({ name, why: `${unknown} has no counterpart: map the joints of both first.` });
    else if (deltas.length && deltas.every((d) => source.parts[d.part]!.kind === "garment"))
      leftOut.push({ name, why: "Cloth alone is moved: push this one's own cloth out at Trials, Cloth." });
    else return true;
    return false;
  });
  const lone: Character = { ...source, clips: [], mixes: [] };
  const bound = rebound(lone, standLike(source, target, "bound"));
  const undriven = { ...bound, drivers: [], shapeDrivers: [], poseDrivers: [], sampleSets: [] };
  const carried = await transferShapes(undriven, target, kept, tick);
  const shapes = new Map(carried.shapes.map((s) => [s.name, s]));
  const rested = rebound(lone, standLike(source, target, "rest"));
  const to = changesTo(rested, target, there);
  return {
    driven: rested.drivers.flatMap((d) => {
      const shape = shapes.get(d.shape);
      if (!shape) return [];
      const { joint, axis } = to(d.joint);
      return [{ shape, driver: { ...wholeDegrees(d), joint, axis: axis(d.axis) } }];
    }),
    read: (rested.poseDrivers ?? []).flatMap((d) => {
      const shape = shapes.get(d.shape);
      return shape ? [{ shape, driver: changedDriver(d, to) }] : [];
    }),
    sampled: (rested.sampleSets ?? []).flatMap((set) => {
      if (!set.joints.every((j) => there.has(j.joint))) return [];
      const own = set.samples.flatMap((s) => shapes.get(s.shape ?? "") ?? []);
      const now = changedSamples(set, to);
      const samples = now.samples.map((s) => ({
        ...s,
        shape: s.shape !== null && shapes.has(s.shape) ? s.shape : null,
      }));
      return own.length ? [{ set: { ...now, samples }, shapes: own }] : [];
    }),
    leftOut: [...leftOut, ...carried.leftOut],
    how: carried.how,
  };
}

const rebound = (character: Character, pose: ReturnType<typeof standLike>): Character =>
  Object.keys(pose).length ? rebind(character, pose) : character;

/** Joints that what drives a shape reads. */
function jointsRead({ drivers, poseDrivers = [], sampleSets = [] }: Character, shape: string): string[] {
  return [
    ...drivers.filter((d) => d.shape === shape).map((d) => d.joint),
    ...poseDrivers.filter((d) => d.shape === shape).flatMap((d) => termJoints(d.terms)),
    ...sampleSets.filter((s) => s.samples.some((x) => x.shape === shape)).flatMap((s) => s.joints.map((j) => j.joint)),
  ];
}

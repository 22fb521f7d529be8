import { mirrorPoseDriver, mirrorSamples } from "~core/correctives/mirrorCorrective";
import { newSamples, withoutSample, withSample } from "~core/correctives/sampleEdits";
import type { ProposedMuscle } from "~core/correctives/proposeMuscles";
import type { SamplesProposal } from "~core/correctives/proposeSamples";
import { encodeDeltas } from "~core/ledger/deltasBlob";
import type { Step } from "~core/ledger/steps";
import { jointIndexOf, shapeNamed, type Character, type Driver } from "~core/model/character";
import type { PoseDriver, SampleSet } from "~core/model/poseDriver";
import type { DriverTerm } from "~core/model/terms/driverTerms";
import { uniqueName } from "~core/model/uniqueName";
import { UserError } from "~core/model/userError";
import { mirrorDeltas, mirrorName } from "~core/shapes/mirrorDeltas";
import { boneDirection } from "~core/skeleton/boneDirection";
import { rotate } from "~core/math/quat";
import { poseRotation, type Pose } from "~core/evaluate/poseSkeleton";
import { hashOf, type StepWithBlobs } from "./ledgerClient";
import type { Loaded } from "./session";

/** A driver as steps take it: arrays of their own, without the shape that they name beside it. */
export const written = <T>(value: unknown): T => JSON.parse(JSON.stringify(value)) as T;
type DriveStep = Extract<Step, { op: "drive by pose" }>;
type SampleStep = Extract<Step, { op: "sample poses" }>;

/** The step that lets a shape be driven so from now on. */
export function driveStep(driver: PoseDriver, controls: readonly string[] = []): DriveStep {
  const { shape, ...rest } = driver;
  return {
    op: "drive by pose",
    items: [{ name: shape, driver: written<DriveStep["items"][number]["driver"]>(rest) }],
    ...(controls.length ? { controls: [...controls] } : {}),
  };
}

/** A driver by one angle with a from and a to, as a curve that gives the same weights where it eases so. */
export function asPoseDriver(driver: Driver): PoseDriver {
  const { shape, joint, axis, fromDegrees, toDegrees, intensity, enabled, method, group = "corrective" } = driver;
  const rises = toDegrees >= fromDegrees;
  const ends = [
    { degrees: fromDegrees, weight: 0 },
    { degrees: Math.abs(toDegrees - fromDegrees) < 1e-6 ? toDegrees + 1e-3 : toDegrees, weight: 1 },
  ];
  const points = driver.easing === "linear" || driver.easing === "smooth" ? ends : withMiddle(driver, ends);
  return {
    shape,
    terms: [
      {
        kind: "angle",
        joint,
        axis,
        points: rises ? points : [...points].reverse(),
        between: driver.easing === "linear" ? "straight" : "smooth",
      },
    ],
    rule: "product",
    group,
    intensity,
    enabled,
    ...(method ? { method } : {}),
  };
}

/** Easings that start or end slowly go through their own middle. */
const withMiddle = (
  { easing }: Driver,
  [a, b]: readonly { readonly degrees: number; readonly weight: number }[],
): { degrees: number; weight: number }[] => [
  { ...a! },
  { degrees: (a!.degrees + b!.degrees) / 2, weight: easing === "slow start" ? 0.25 : 0.75 },
  { ...b! },
];

/** Where a joint's bone points now, as a term: full within 20 degrees, none beyond 60. */
export function directionNow({ character, humanoid }: Loaded, joint: string, pose: Pose): DriverTerm {
  const along = boneDirection(character.skeleton!, humanoid, jointIndexOf(character.skeleton!, joint));
  return {
    kind: "direction",
    joint,
    along,
    towards: rotate(poseRotation(pose, joint), along),
    fullDegrees: 20,
    noneDegrees: 60,
  };
}

/** The step that gives a corrective that a pose drives its counterpart on the other side. */
export async function mirrorDriverStep(
  character: Character,
  driver: PoseDriver,
): Promise<StepWithBlobs & { unmatched: number }> {
  const shape = shapeNamed(character, driver.shape);
  if (!shape) throw new UserError(`There is no corrective named ${driver.shape}.`, "", "");
  const other = mirrorPoseDriver(character, driver);
  if (shapeNamed(character, other.shape))
    throw new UserError(`${other.shape} is there already.`, "", "Remove it first if it should be made again.");
  const { deltas, unmatched } = mirrorDeltas(character, shape.deltas);
  const bytes = encodeDeltas(character, deltas);
  const made = { name: other.shape, label: mirrorName(shape.label), blob: await hashOf(bytes) };
  return { step: { ...driveStep(other), shapes: [made] }, blobs: [bytes], unmatched };
}

/** The step that sets how sampled poses are weighed, or switches them. */
export const samplesStep = (set: SampleSet, gone: readonly string[] = []): SampleStep => ({
  op: "sample poses",
  set: written<SampleStep["set"]>(set),
  shapes: [],
  ...(gone.length ? { gone: [...gone] } : {}),
});

/** Sampled poses of joints, not in the ledger before the first sample is. */
export function beginSamples({ character, humanoid }: Loaded, joints: readonly string[]): SampleSet {
  const { skeleton } = character;
  if (!skeleton) throw new UserError("There is no skeleton.", "", "");
  const name = uniqueName(`${joints.join(" and ")} poses`, new Set(character.sampleSets?.map((s) => s.name)), "poses");
  return newSamples(
    name,
    joints.map((joint) => ({ joint, along: boneDirection(skeleton, humanoid, jointIndexOf(skeleton, joint)) })),
  );
}

/** The step that samples the present pose; with a shape it moves at first as the set does there already. */
export async function sampleStep(
  { character }: Loaded,
  set: SampleSet,
  pose: Pose,
  names: { readonly sample: string; readonly shape: string },
  shaped: boolean,
): Promise<StepWithBlobs & { readonly shape: string | null }> {
  const shape = shaped ? uniqueName(names.shape, new Set(character.shapes.map((s) => s.name)), "pose") : null;
  const sample = uniqueName(names.sample, new Set(set.samples.map((s) => s.name)), "pose");
  const made = withSample(character, set, pose, { sample, shape });
  if (shape === null) return { step: samplesStep(made.set), blobs: [], shape };
  const bytes = encodeDeltas(character, made.deltas);
  return {
    step: { ...samplesStep(made.set), shapes: [{ name: shape, label: shape, blob: await hashOf(bytes) }] },
    blobs: [bytes],
    shape,
  };
}

/** Sampled poses as steps carry them, their shapes named apart from those taken, with the bytes of the shapes. */
export async function sampledItem(
  character: Character,
  { set, shapes }: Pick<SamplesProposal, "set" | "shapes">,
  taken: Set<string>,
): Promise<{ item: Pick<SampleStep, "set" | "shapes">; blobs: Uint8Array[] }> {
  const names = new Map(shapes.map((s) => [s.name, uniqueName(s.name, taken, "pose")]));
  const blobs = shapes.map((s) => encodeDeltas(character, s.deltas));
  const made = await Promise.all(
    shapes.map(async (s, i) => ({
      name: names.get(s.name)!,
      label: names.get(s.name)!,
      blob: await hashOf(blobs[i]!),
    })),
  );
  const samples = set.samples.map((s) => ({ ...s, shape: s.shape === null ? null : (names.get(s.shape) ?? s.shape) }));
  return { item: { set: written<SampleStep["set"]>({ ...set, samples }), shapes: made }, blobs };
}

/** The step that keeps sampled poses which were proposed by measure. */
export async function proposedSamplesStep(character: Character, proposal: SamplesProposal): Promise<StepWithBlobs> {
  const taken = new Set(character.shapes.map((s) => s.name));
  const { item, blobs } = await sampledItem(character, proposal, taken);
  return { step: { op: "sample poses", ...item }, blobs };
}

/** The step that keeps proposed bellies of muscles, with the efforts that drive them. */
export async function musclesStep(character: Character, muscles: readonly ProposedMuscle[]): Promise<StepWithBlobs> {
  const blobs = muscles.map((m) => encodeDeltas(character, m.shape.deltas));
  const shapes = await Promise.all(
    muscles.map(async ({ shape }, i) => ({ name: shape.name, label: shape.label, blob: await hashOf(blobs[i]!) })),
  );
  const items = muscles.flatMap((m) => driveStep(m.driver).items);
  return { step: { op: "drive by pose", items, shapes, controls: muscles.map((m) => m.effort) }, blobs };
}

/** The step that takes a sample out, its shape with it. */
export const withoutSampleStep = (set: SampleSet, sample: string): SampleStep =>
  samplesStep(
    withoutSample(set, sample),
    set.samples.flatMap((s) => (s.name === sample && s.shape !== null ? s.shape : [])),
  );

/** The step that gives sampled poses and their shapes their counterpart on the other side. */
export async function mirrorSamplesStep(
  character: Character,
  set: SampleSet,
): Promise<StepWithBlobs & { unmatched: number }> {
  const other = mirrorSamples(character, set);
  if (character.sampleSets?.some((s) => s.name === other.name))
    throw new UserError(`${other.name} are there already.`, "", "Remove them first if they should be made again.");
  const made = set.samples.flatMap(({ shape }) => {
    const own = shape === null ? undefined : shapeNamed(character, shape);
    return own ? [{ own, ...mirrorDeltas(character, own.deltas) }] : [];
  });
  const taken = made.find(({ own }) => shapeNamed(character, mirrorName(own.name)));
  if (taken) throw new UserError(`${mirrorName(taken.own.name)} is there already.`, "", "Rename it first.");
  const blobs = made.map(({ deltas }) => encodeDeltas(character, deltas));
  const shapes = await Promise.all(
    made.map(async ({ own }, i) => ({
      name: mirrorName(own.name),
      label: mirrorName(own.label),
      blob: await hashOf(blobs[i]!),
    })),
  );
  return {
    step: { ...samplesStep(other), shapes },
    blobs,
    unmatched: made.reduce((n, m) => Math.max(n, m.unmatched), 0),
  };
}

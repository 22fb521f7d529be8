import { z } from "zod";
import type { Character } from "../model/character";
import { shapesRead, TERM_KINDS, type DriverTerm } from "../model/terms/driverTerms";
import { DRIVER_GROUPS, SAMPLE_KERNELS, TERM_RULES, type PoseDriver, type SampleSet } from "../model/poseDriver";

const unit = z
  .tuple([z.number(), z.number(), z.number()])
  .refine((v) => Math.abs(Math.hypot(...v) - 1) < 0.01, "a vector of length 1");
const turn = z
  .tuple([z.number(), z.number(), z.number(), z.number()])
  .refine((q) => Math.abs(Math.hypot(...q) - 1) < 0.01, "a quaternion of length 1");
const degrees = z.number().min(-360).max(360);
const joint = z.string().min(1).max(200);

/** A term of any kind, as its own file says. */
const term = z.discriminatedUnion(
  "kind",
  Object.values(TERM_KINDS).map((kind) => kind.schema({ z, joint, unit, degrees })) as [z.ZodObject, ...z.ZodObject[]],
) as unknown as z.ZodType<DriverTerm, DriverTerm>;

/** What sets a shape from one to four readings of a pose. */
export const poseDriverSchema = z.object({
  shape: z.string(),
  terms: z.array(term).min(1).max(4),
  rule: z.enum(TERM_RULES),
  group: z.enum(DRIVER_GROUPS),
  intensity: z.number().min(0).max(4),
  enabled: z.boolean(),
  method: z.enum(["linear", "dual"]).optional(),
});

/** Sampled poses of one to three joints. */
export const sampleSetSchema = z
  .object({
    name: z.string().min(1).max(200),
    joints: z
      .array(z.object({ joint, along: unit }))
      .min(1)
      .max(3),
    samples: z
      .array(z.object({ name: z.string().min(1).max(200), shape: z.string().nullable(), turns: z.array(turn) }))
      .max(60),
    kernel: z.enum(SAMPLE_KERNELS),
    radiusDegrees: z.number().min(1).max(180),
    twistShare: z.number().min(0).max(1),
    group: z.enum(DRIVER_GROUPS),
    enabled: z.boolean(),
  })
  .refine((s) => s.samples.every((x) => x.turns.length === s.joints.length), "one turn a joint in every sample");

/** A joint that shares the twist of another. */
export const twistJointSchema = z.object({
  joint,
  of: joint,
  /** The bone, in the frame of the joint that is read, and in its own. */
  axis: unit,
  about: unit,
  share: z.number().min(-1).max(1),
});

type Written = {
  readonly poseDrivers: z.infer<typeof poseDriverSchema>[];
  readonly sampleSets: z.infer<typeof sampleSetSchema>[];
};
type WrittenTwists = z.infer<typeof twistJointSchema>[];

/** Copies that a schema's types take (arrays that may be changed). */
const copied = <T>(list: readonly unknown[] | undefined): T[] => JSON.parse(JSON.stringify(list ?? [])) as T[];
export const writtenPoseDrivers = ({ poseDrivers }: Character): Written["poseDrivers"] => copied(poseDrivers);
export const writtenSampleSets = ({ sampleSets }: Character): Written["sampleSets"] => copied(sampleSets);

export const writtenTwistJoints = ({ twistJoints }: Character): WrittenTwists => copied(twistJoints);

/** Those of a file whose joints are there. */
export function keptTwistJoints(
  extras: { readonly twistJoints: WrittenTwists } | undefined,
  skeleton: Character["skeleton"],
): Pick<Character, "twistJoints"> {
  const names = new Set(skeleton?.joints.map((j) => j.name));
  const kept = (extras?.twistJoints ?? []).filter((t) => names.has(t.joint) && names.has(t.of));
  return kept.length ? { twistJoints: kept } : {};
}

/** Those of a file whose shapes are there; a sample whose shape is gone keeps its pose. */
export function keptPoseDrivers(
  extras: Written | undefined,
  names: ReadonlySet<string> | ReadonlyMap<string, unknown>,
): Pick<Character, "poseDrivers" | "sampleSets"> {
  const drivers = (extras?.poseDrivers ?? []).filter(
    (d) => names.has(d.shape) && shapesRead(d.terms).every((s) => names.has(s)),
  );
  const sets = (extras?.sampleSets ?? []).map((s): SampleSet => ({
    ...s,
    samples: s.samples.map((x) => ({ ...x, shape: x.shape !== null && names.has(x.shape) ? x.shape : null })),
  }));
  return {
    ...(drivers.length ? { poseDrivers: drivers as PoseDriver[] } : {}),
    ...(sets.length ? { sampleSets: sets } : {}),
  };
}

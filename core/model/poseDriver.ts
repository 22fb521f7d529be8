import type { Quat, Vec3 } from "../math/vec3";
import type { DriverTerm } from "./terms/driverTerms";

export const TERM_RULES = ["product", "least"] as const;
export const DRIVER_GROUPS = ["corrective", "muscle", "expression"] as const;
export type DriverGroup = (typeof DRIVER_GROUPS)[number];

/** Sets a shape's weight from one to four readings of a pose, multiplied, or the least of them. */
export interface PoseDriver {
  readonly shape: string;
  readonly terms: readonly DriverTerm[];
  readonly rule: (typeof TERM_RULES)[number];
  readonly group: DriverGroup;
  readonly intensity: number;
  readonly enabled: boolean;
  /** Skinning that the shape was sculpted under; absent where that is not known. */
  readonly method?: "linear" | "dual" | undefined;
}

/**
 * gaussian: exp(-(d/r)^2); compact: Wendland's C2 function, nothing beyond r; linear: d itself, whatever the radius.
 */
export const SAMPLE_KERNELS = ["gaussian", "compact", "linear"] as const;
export type SampleKernel = (typeof SAMPLE_KERNELS)[number];

export interface SampledJoint {
  readonly joint: string;
  /** The way the bone points, unit vector in the joint's own frame. */
  readonly along: Vec3;
}

/** One pose of the sampled joints and the shape that is at full there; null where the skin is right as it is. */
export interface PoseSample {
  readonly name: string;
  readonly shape: string | null;
  /** Turns away from rest, one a joint of the set, unit quaternions in the joint's own frame. */
  readonly turns: readonly Quat[];
}

/**
 * Poses of one to three joints, each with a shape. At a sample its own shape is at full and the others are at none;
 * between them all weights lie in 0..1 and add up to 1. The rest pose is always one of them, without being listed.
 */
export interface SampleSet {
  readonly name: string;
  readonly joints: readonly SampledJoint[];
  readonly samples: readonly PoseSample[];
  readonly kernel: SampleKernel;
  readonly radiusDegrees: number;
  /** How much a turn about the bone counts beside where it points, 0..1; 0 leaves it out. */
  readonly twistShare: number;
  readonly group: DriverGroup;
  readonly enabled: boolean;
}

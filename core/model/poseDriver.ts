import type { Quat, Vec3 } from "../math/vec3";

/** A weight at an angle of a joint. */
export interface AnglePoint {
  readonly degrees: number;
  /** 0..2 */
  readonly weight: number;
}

/** By the turn of a joint about one axis: a curve through any number of points, level beyond its ends. */
export interface AngleTerm {
  readonly kind: "angle";
  readonly joint: string;
  /** Unit vector in the joint's own frame. */
  readonly axis: Vec3;
  /** At least two, angles rising. */
  readonly points: readonly AnglePoint[];
  /** smooth: monotone cubic between points, so that nothing rises above them; straight: lines. */
  readonly between: "smooth" | "straight";
}

/** By how near a joint's bone points to a direction: full within one cone, nothing beyond another. */
export interface DirectionTerm {
  readonly kind: "direction";
  readonly joint: string;
  /** The way the bone points, unit vector in the joint's own frame. */
  readonly along: Vec3;
  /** Where it has to point, unit vector in the joint's frame as it is at rest. */
  readonly towards: Vec3;
  readonly fullDegrees: number;
  readonly noneDegrees: number;
  /** Turn about the bone itself within which it counts, and over how many degrees it fades beyond; absent: any. */
  readonly twist?: { readonly fromDegrees: number; readonly toDegrees: number; readonly fadeDegrees: number };
}

/** By another shape's weight, also one that moves nothing and is there for the animator to set (an effort). */
export interface WeightTerm {
  readonly kind: "weight";
  readonly shape: string;
  /** What it counts where that weight is 0; it counts 1 at 1. */
  readonly atNone: number;
}

export type DriverTerm = AngleTerm | DirectionTerm | WeightTerm;

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

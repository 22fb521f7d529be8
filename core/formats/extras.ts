import { z } from "zod";
import { MIX_BLOCKS, PART_KINDS, SHAPE_RULES } from "../model/character";
import { poseDriverSchema, sampleSetSchema, twistJointSchema } from "./poseDrivers";
import { DRIVER_GROUPS } from "../model/poseDriver";

/** Version of the JSON kept in `extras.yxomorph` and in the sidecar file (docs/formats.md). */
export const EXTRAS_VERSION = 1;

export const driverSchema = z.object({
  shape: z.string(),
  joint: z.string(),
  /** Unit vector in the joint's own frame. */
  axis: z.tuple([z.number(), z.number(), z.number()]),
  fromDegrees: z.number(),
  toDegrees: z.number(),
  easing: z.enum(["linear", "smooth", "slow start", "slow end"]),
  intensity: z.number(),
  enabled: z.boolean(),
  /** Skinning that the shape was sculpted under, where that is known. */
  method: z.enum(["linear", "dual"]).optional(),
  /** corrective where it is left out. */
  group: z.enum(DRIVER_GROUPS).optional(),
});

export const shapeDriverSchema = z.object({
  shape: z.string(),
  of: z.array(z.string()).min(1),
  rule: z.enum(SHAPE_RULES),
  span: z
    .object({ from: z.number(), peak: z.number(), to: z.number() })
    .refine((s) => s.from < s.peak && s.peak < s.to, "from < peak < to")
    .optional(),
  enabled: z.boolean(),
});

export const mixSchema = z.object({
  name: z.string().min(1).max(200),
  shares: z.array(z.object({ shape: z.string(), weight: z.number() })).max(2000),
  blocks: z.array(z.enum(MIX_BLOCKS)).optional(),
});

const jsonObject = z.record(z.string(), z.json());
const vrmKeptSchema = z
  .object({
    meta: jsonObject,
    lookAt: jsonObject,
    firstPerson: z.array(jsonObject),
    expressions: z.record(z.string(), jsonObject),
    constraints: jsonObject,
    springs: jsonObject,
  })
  .partial();

/** Top-level `extras.yxomorph` of a written glTF file. */
export const rootExtrasSchema = z.object({
  version: z.literal(EXTRAS_VERSION),
  drivers: z.array(driverSchema).default([]),
  /** Combinations and in-betweens: weights set from other shapes' weights. */
  shapeDrivers: z.array(shapeDriverSchema).default([]),
  /** What is set by several readings of a pose together, by a direction or by a curve. */
  poseDrivers: z.array(poseDriverSchema).default([]),
  /** Sampled poses of joints with their shapes. */
  sampleSets: z.array(sampleSetSchema).default([]),
  /** Joints that share the twist of others. */
  twistJoints: z.array(twistJointSchema).default([]),
  /** Expressions as weighted sets of shapes. */
  mixes: z.array(mixSchema).default([]),
  /** Shapes whose movement the base holds already, with the weight. */
  baked: z.array(z.object({ shape: z.string(), weight: z.number() })).default([]),
  /**
   * The pose in which clips of other skeletons are taken for their rest: per joint its turn in space away from rest,
   * quaternion x y z w.
   */
  retargetPose: z.record(z.string(), z.tuple([z.number(), z.number(), z.number(), z.number()])).optional(),
  /** What a VRM brought beyond bones and expressions, carried along: nodes by name. */
  vrm: vrmKeptSchema.optional(),
  jointMap: z.record(z.string(), z.string().nullable()).default({}),
  shapeLabels: z.record(z.string(), z.string()).default({}),
  /** Per shape: joints whose rest place it moves, metres at full. */
  jointOffsets: z
    .record(z.string(), z.array(z.object({ joint: z.string(), offset: z.tuple([z.number(), z.number(), z.number()]) })))
    .default({}),
});
export type RootExtras = z.infer<typeof rootExtrasSchema>;

/** `extras.yxomorph` of a mesh: what glTF cannot say about a part. */
export const meshExtrasSchema = z.object({
  kind: z.enum(PART_KINDS),
  /** Runs of polygons by corner count, [corners, faces, corners, faces, ...], over the mesh's primitives in order. */
  polygons: z.array(z.number().int().positive()).optional(),
  /** Vertices that are drawn as several: the vertex behind each of the last ones of the mesh, which are its copies. */
  copies: z.array(z.number().int().nonnegative()).optional(),
  /** Smoothing groups as runs of faces, [group, faces, group, faces, ...], over the mesh's primitives in order. */
  smoothing: z.array(z.number().int().nonnegative()).optional(),
});

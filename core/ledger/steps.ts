import { z } from "zod";
import { driverSchema, mixSchema } from "../formats/extras";
import { vrmTermsSchema } from "../formats/vrm/vrmTerms";
import { PART_KINDS } from "../model/character";
import { RENAMED_KINDS } from "../names/renameThings";
import { repairSchema } from "../repairs/repairs";
import { shapeChoiceSchema } from "../shapes/choice/chooseShapes";
import { derivedItemSchema, newDriverSchema } from "../shapes/deriveShapes";
import { followSchema } from "../shapes/followSkin";
import { weightChangeSchema } from "../weights/changeWeights";
import { HUMANOID_BONES } from "../skeleton/humanoidBones";

const name = z.string().min(1).max(200);
const hash = z.string().regex(/^[0-9a-f]{64}$/);

/** One corrective as a step carries it: geometry by hash of a blob of deltas (see deltasBlob.ts). */
export const correctiveItemSchema = z.object({ name, label: name, blob: hash, driver: driverSchema });

/**
 * What a corrective of the same joint becomes so that it is still met beside a new one: its movement, and the angle at
 * which it sets in now.
 */
const neighbourEditSchema = z.object({ name, blob: hash, fromDegrees: z.number().nullable() });

/** One shape as a step carries it, with what sets its weight if not the hand. */
export const shapeItemSchema = z.object({ name, label: name, blob: hash, driver: newDriverSchema.optional() });

/** Where a finding stands. Steps kept from before clips had findings have none. */
const place = {
  part: z.string().nullable(),
  joint: z.string().nullable(),
  shape: z.string().nullable(),
  clip: z.string().nullable().default(null),
};

/** Textures that a step made, by material: kept with it when it is taken, for making them again takes long. */
const madeSchema = z.array(z.object({ material: z.number().int().min(0), blob: hash })).max(5000);

/** Every operation a ledger may hold. Parts, joints and shapes are referred to by name. */
export const stepSchema = z.discriminatedUnion("op", [
  z.object({
    op: z.literal("map joint"),
    joint: z.string(),
    bone: z.enum(HUMANOID_BONES as [string, ...string[]]).nullable(),
  }),
  z.object({ op: z.literal("map joints"), map: z.record(z.string(), z.enum(HUMANOID_BONES as [string, ...string[]])) }),
  z.object({
    op: z.literal("make correctives"),
    items: z.array(correctiveItemSchema).min(1),
    edits: z.array(neighbourEditSchema).max(500).optional(),
  }),
  z.object({ op: z.literal("edit corrective"), name, blob: hash }),
  z.object({ op: z.literal("set driver"), name, driver: driverSchema.partial().omit({ shape: true }) }),
  z.object({ op: z.literal("remove corrective"), name }),
  z.object({
    op: z.literal("add shapes"),
    source: z.string().min(1).max(200),
    items: z.array(shapeItemSchema).min(1).max(2000),
  }),
  z.object({ op: z.literal("derive shapes"), items: z.array(derivedItemSchema).min(1).max(2000) }),
  z.object({
    op: z.literal("edit shapes"),
    items: z
      .array(z.object({ name, blob: hash }))
      .min(1)
      .max(2000),
  }),
  z.object({ op: z.literal("set shape driver"), name, driver: newDriverSchema.partial() }),
  z.object({ op: z.literal("set mix"), mixes: z.array(mixSchema).min(1).max(500) }),
  z.object({ op: z.literal("remove mix"), name }),
  z.object({
    op: z.literal("bake"),
    weights: z.record(z.string(), z.number()).refine((w) => Object.values(w).some((x) => x !== 0), "an empty mix"),
    keep: z.boolean(),
  }),
  z.object({
    op: z.literal("new face"),
    source: z.string().min(1).max(200),
    base: hash,
    jointOffsets: z
      .array(z.object({ joint: z.string(), offset: z.tuple([z.number(), z.number(), z.number()]) }))
      .max(5000),
    shapes: z.array(z.object({ name, blob: hash })).max(2000),
  }),
  z.object({ op: z.literal("choose shapes"), choice: shapeChoiceSchema }),
  z.object({ op: z.literal("follow skin"), follow: followSchema }),
  z.object({ op: z.literal("stop following"), part: name }),
  z.object({ op: z.literal("remove shapes"), names: z.array(name).min(1).max(2000) }),
  z.object({
    op: z.literal("mend"),
    check: z.string(),
    ...place,
    limit: z.number().nullable(),
    made: madeSchema.optional(),
  }),
  z.object({
    op: z.literal("mend all"),
    check: z.string(),
    places: z
      .array(z.object({ ...place, limit: z.number().nullable() }))
      .min(1)
      .max(5000),
  }),
  z.object({
    op: z.literal("rename"),
    kind: z.enum(RENAMED_KINDS),
    names: z
      .array(z.object({ from: name, to: name }))
      .min(1)
      .max(20_000),
  }),
  z.object({
    op: z.literal("bind in pose"),
    pose: z
      .record(z.string(), z.tuple([z.number(), z.number(), z.number()]))
      .refine((p) => Object.keys(p).length > 0, "an empty pose"),
  }),
  z.object({
    op: z.literal("retarget pose"),
    turns: z.record(z.string(), z.tuple([z.number(), z.number(), z.number(), z.number()])).nullable(),
  }),
  z.object({
    op: z.literal("add parts"),
    source: z.string().min(1).max(200),
    items: z
      .array(z.object({ name, blob: hash }))
      .min(1)
      .max(500),
  }),
  z.object({
    op: z.literal("add joints"),
    source: z.string().min(1).max(200),
    joints: z
      .array(z.object({ name, parent: name, rest: z.array(z.number()).length(16) }))
      .min(1)
      .max(5000),
  }),
  z.object({
    op: z.literal("add clips"),
    source: z.string().min(1).max(200),
    items: z
      .array(z.object({ name, blob: hash }))
      .min(1)
      .max(500),
  }),
  z.object({ op: z.literal("remove clips"), names: z.array(name).min(1).max(2000) }),
  z.object({ op: z.literal("vrm terms"), terms: vrmTermsSchema }),
  z.object({
    op: z.literal("drive shapes"),
    items: z
      .array(
        z.object({ name, driver: driverSchema.omit({ shape: true }).nullable(), rule: newDriverSchema.nullable() }),
      )
      .min(1)
      .max(2000),
  }),
  z.object({ op: z.literal("repair"), repair: repairSchema, made: madeSchema.optional() }),
  z.object({ op: z.literal("part kind"), part: name, kind: z.enum(PART_KINDS) }),
  z.object({ op: z.literal("change weights"), part: name, change: weightChangeSchema }),
  z.object({ op: z.literal("paint weights"), part: name, joints: z.array(z.string()).max(500), blob: hash }),
  z.object({ op: z.literal("accept finding"), check: z.string(), ...place, reason: z.string().min(1).max(500) }),
  z.object({ op: z.literal("reopen finding"), check: z.string(), ...place }),
]);
export type Step = z.infer<typeof stepSchema>;
export type ShapeItem = z.infer<typeof shapeItemSchema>;
export type CorrectiveItem = z.infer<typeof correctiveItemSchema>;

/** Hashes of those blobs of a step that hold movement of vertices, made on a surface. */
export const movementOfStep = (step: Step): string[] =>
  ["add parts", "add clips", "paint weights", "mend", "repair"].includes(step.op) ? [] : blobsOfStep(step);

/** Hashes of the blobs a step refers to. */
export const blobsOfStep = (step: Step): string[] => {
  switch (step.op) {
    case "make correctives":
      return [...step.items, ...(step.edits ?? [])].map((i) => i.blob);
    case "add shapes":
    case "edit shapes":
    case "add parts":
    case "add clips":
      return step.items.map((i) => i.blob);
    case "edit corrective":
    case "paint weights":
      return [step.blob];
    case "mend":
    case "repair":
      return step.made?.map((m) => m.blob) ?? [];
    case "new face":
      return [step.base, ...step.shapes.map((s) => s.blob)];
    default:
      return [];
  }
};

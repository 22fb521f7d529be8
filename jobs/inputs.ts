import { DRIVER_GROUPS } from "../core/model/poseDriver";
import { z } from "zod";
import type { ShapePair } from "../core/checks/pairs/readPairs";
import { PROFILES, profileSchema, type Profile, type ProfileName } from "../core/checks/profile";
import type { Moment, MomentSource } from "../core/evaluate/moment";
import type { Vec3 } from "../core/math/vec3";
import type { ShapeDelta } from "../core/model/character";
import { stepSchema } from "../core/ledger/steps";
import type { CharacterRef } from "./job";

/** By tag: an array may come from another realm, whose constructors are others. */
const tagged = <T>(tag: string): z.ZodType<T> =>
  z.custom<T>((v) => Object.prototype.toString.call(v) === `[object ${tag}]`, `a ${tag} is needed here`);

export const floats = tagged<Float32Array>("Float32Array");
export const doubles = tagged<Float64Array>("Float64Array");
export const whole = tagged<Uint32Array>("Uint32Array");
export const bytes = tagged<Uint8Array>("Uint8Array");

const profileName = z.enum(Object.keys(PROFILES) as [ProfileName, ...ProfileName[]]);
/** A profile by its name, or one of somebody's own. */
export const profile = z.union([profileName.transform((name): Profile => PROFILES[name]), profileSchema]);
export const method = z.enum(["linear", "dual"]);
/** A place, a direction, three shares or three angles. */
export const place: z.ZodType<Vec3> = z.tuple([z.number(), z.number(), z.number()]);
export const shapePair: z.ZodType<ShapePair> = z.tuple([z.string(), z.string()]);

export const moment: z.ZodType<Moment> = z.object({
  pose: z.record(z.string(), place),
  weights: z.record(z.string(), z.number()),
  drivers: z.boolean(),
  off: z.array(z.enum(DRIVER_GROUPS)).optional(),
  method,
  sources: z.array(z.custom<MomentSource>((v) => typeof (v as MomentSource | null)?.kind === "string")).optional(),
});

export const deltas: z.ZodType<ShapeDelta[]> = z.array(
  z.object({ part: z.number().int().min(0), vertices: whole, deltas: floats }),
);

export const file = z.object({ name: z.string(), bytes });
export const plainMesh = z.object({ positions: floats, corners: whole, faceStarts: whole });
export const similarity = z.object({ scale: z.number(), rotation: doubles, offset: place });

export const characterRef: z.ZodType<CharacterRef> = z.object({
  baseBlob: z.string().regex(/^[0-9a-f]{64}$/),
  steps: z.array(stepSchema),
}) as unknown as z.ZodType<CharacterRef>;

import { z } from "zod";
import { PROFILE_NAMES, type LimitValues, type ShippedProfile } from "./check";
import { CHECK_ENTRIES, type AllLimits } from "./entries";

type Limits = LimitValues<AllLimits>;
const limits = Object.assign({}, ...CHECK_ENTRIES.map((c) => c.limits)) as AllLimits;

/** Limits as a profile holds them: a number or a span each, null where one is turned off. */
const limitsSchema = z.object(
  Object.fromEntries(
    Object.entries(limits).map(([name, { kind, canBeOff }]) => {
      const value = kind === "amount" ? z.number() : z.tuple([z.number(), z.number()]);
      return [name, canBeOff ? value.nullable() : value];
    }),
  ),
);

const shipped = (name: ShippedProfile): Profile => ({
  name,
  limits: Object.fromEntries(Object.entries(limits).map(([key, limit]) => [key, limit.values[name]])) as Limits,
  off: [],
});

export interface Profile {
  readonly name: string;
  readonly limits: Limits;
  /** Check ids that are not run. */
  readonly off: readonly string[];
}

/** Shipped profiles: offline film work, one character in real time, many at once. */
export const PROFILES = Object.fromEntries(PROFILE_NAMES.map((n) => [n, shipped(n)])) as Readonly<
  Record<ShippedProfile, Profile>
>;
export type ProfileName = ShippedProfile;

/** A profile as it is written: limits that it leaves out are those of `film`. */
export const profileSchema: z.ZodType<Profile, { name: string; limits: Partial<Limits>; off?: readonly string[] }> =
  z.object({
    name: z.string().min(1),
    limits: limitsSchema.partial().transform((given) => ({ ...PROFILES.film.limits, ...(given as Partial<Limits>) })),
    off: z.array(z.string()).readonly().default([]),
  }) as never;

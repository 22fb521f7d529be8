import type { CheckStation, ShippedProfile } from "./check";
import { CHECK_ENTRIES, CHECKS } from "./entries";
import { PROFILES as SHIPPED, type Profile } from "./profile";

/**
 * What pages say of the checks: plain values only. Pages hold them as they came out when the application was built
 * (`vite.config.ts`), without the code that measures; everywhere else they are made here.
 */
export interface CheckFacts {
  readonly id: string;
  readonly title: string;
  /** Where its findings are worked on. */
  readonly station: CheckStation;
  /** Where the limit comes from. */
  readonly source: string;
}

/** Every check, by its id. */
export const CHECK_FACTS: Readonly<Record<string, CheckFacts>> = Object.fromEntries(
  CHECK_ENTRIES.map(({ id, title, station, source }) => [id, { id, title, station, source }]),
);
/** Ids of the checks of a delivery at rest, in the order they run. */
export const REST_CHECKS: readonly string[] = CHECKS.map((c) => c.id);
/** Shipped profiles with their limits. */
export const PROFILES: Readonly<Record<ShippedProfile, Profile>> = SHIPPED;

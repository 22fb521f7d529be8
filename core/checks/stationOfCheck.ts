import type { CheckStation } from "./check";
import { CHECK_FACTS } from "./checkFacts";

/** Where findings of a check are worked on; those of checks that are gone are looked at on the way in. */
export const stationOfCheck = (check: string): CheckStation => CHECK_FACTS[check]?.station ?? "intake";

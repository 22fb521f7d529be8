import type { CheckStation } from "./check";
import { entryOf } from "./entries";

/** Where findings of a check are worked on; those of checks that are gone are looked at on the way in. */
export const stationOfCheck = (check: string): CheckStation => entryOf(check)?.station ?? "intake";

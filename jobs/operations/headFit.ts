import { z } from "zod";
import { headFit as fit } from "../../core/edits/repairs/headFit";
import type { Seat } from "../../core/edits/repairs/seatPart";
import { job } from "../job";

/** Where a part belongs on the head. */
export const headFit = job({
  input: z.object({ part: z.string() }),
  run: ({ character }, { part }): Seat => fit(character, part),
});

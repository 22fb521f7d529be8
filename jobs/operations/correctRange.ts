import { z } from "zod";
import { proposeForRange, type RangeProposal } from "../../core/correctives/proposeForRange";
import { inSteps } from "../inSteps";
import { profile } from "../inputs";
import { job } from "../job";
import { poseLimits } from "../poseLimits";

/** How far within the limits a corrective is asked to stay, for the angles between those measured. */
const ROOM = { volume: 0.005, depth: 1, stretch: 0.05 };

/**
 * Correctives with drivers for one end of a motion, when the way there is over the profile's limits; null when nothing
 * is.
 */
export const correctRange = job({
  input: z.object({ motion: z.string(), end: z.number(), profile }),
  async run({ gauge, motion }, { motion: id, end, profile }, tick): Promise<RangeProposal | null> {
    const along = motion(id);
    const own = gauge(along.joint);
    if (!own) return null;
    const { volume, depth, stretch } = poseLimits(profile);
    const less = (limit: number | null, by: number): number | null => (limit === null ? null : limit - by);
    const label = `${along.label} ${end < 0 ? "below" : "beyond"}`;
    return inSteps(
      proposeForRange(
        own,
        along,
        end,
        // a loss of volume is below nothing
        { volume: less(volume, -ROOM.volume), depth: less(depth, ROOM.depth), stretch: less(stretch, ROOM.stretch) },
        { name: label, label },
      ),
      tick,
    );
  },
});

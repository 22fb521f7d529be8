import type { Profile } from "../core/checks/profile";
import type { PoseLimits } from "../core/correctives/proposeForRange";

/** The limits of a bent joint in a profile, as proposals weigh them. */
export const poseLimits = ({ limits }: Profile): PoseLimits => ({
  volume: limits["pose.volume.warn"],
  depth: limits["pose.penetration"],
  stretch: limits["pose.stretch"],
  crease: limits["pose.crease"],
  bone: limits["pose.bone"],
});

/** How far within the limits a corrective is asked to stay, for the poses between those measured. */
const ROOM = { volume: 0.005, depth: 1, stretch: 0.05, crease: 5, bone: 1 };

/** The limits with some room. */
export function aimWithin(limits: PoseLimits): PoseLimits {
  const less = (limit: number | null | undefined, by: number): number | null => (limit ? limit - by : null);
  return {
    // a loss of volume is below nothing
    volume: less(limits.volume, -ROOM.volume),
    depth: less(limits.depth, ROOM.depth),
    stretch: less(limits.stretch, ROOM.stretch),
    crease: less(limits.crease, ROOM.crease),
    bone: less(limits.bone, ROOM.bone),
  };
}

import type { Profile } from "../core/checks/profile";
import type { PoseLimits } from "../core/correctives/proposeForRange";

/** The limits of a bent joint in a profile, as proposals weigh them. */
export const poseLimits = ({ limits }: Profile): PoseLimits => ({
  volume: limits["pose.volume.warn"],
  depth: limits["pose.penetration"],
  stretch: limits["pose.stretch"],
});

/** Lanes in the order in which they are laid over one another. */
export const LANES = ["body", "face", "tracking", "speech"] as const;
export type Lane = (typeof LANES)[number];

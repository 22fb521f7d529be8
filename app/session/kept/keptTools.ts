/** The tools whose work is kept as a draft while it is done. */
export const TOOLS = ["sculpt", "paint", "mask", "scan"] as const;
export type Tool = (typeof TOOLS)[number];

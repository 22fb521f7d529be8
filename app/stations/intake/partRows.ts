/** Names under which the rows above the parts open; no part can be called so. */
export const WHOLE = "\u0000whole";
export const MATERIALS = "\u0000materials";

/** Pixels of the small pictures that stand in rows; they are shown at half of that. */
export const TILE_PIXELS = { width: 248, height: 224 } as const;

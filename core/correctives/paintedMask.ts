import { mirrorMap, NO_MIRROR } from "../model/mirrorMap";
import { FALL_OFF, type FallOff } from "./brush";

/** A mask painted over one part: 0 to 1 for each vertex. The values change as strokes are made. */
export interface PaintedMask {
  readonly part: number;
  readonly values: Float32Array;
  readonly mirror: Int32Array;
}
/** Values before a stroke, by vertex. */
export type MaskRecord = Map<number, number>;

/** Share of the full that one dab at full strength lays on. */
const DAB = 0.5;

export const emptyMask = (part: number, positions: Float32Array): PaintedMask => ({
  part,
  values: new Float32Array(positions.length / 3),
  mirror: mirrorMap(positions),
});

/**
 * Vertices under a brush, with the share of its strength that each gets. @param P 3 x vertexCount. @param radius
 * metres.
 */
export function underBrush(
  P: Float32Array,
  centre: readonly [number, number, number],
  radius: number,
  fallOff: FallOff,
): Map<number, number> {
  const out = new Map<number, number>();
  for (let v = 0; 3 * v < P.length; v++) {
    const d = Math.hypot(P[3 * v]! - centre[0], P[3 * v + 1]! - centre[1], P[3 * v + 2]! - centre[2]);
    if (d < radius) out.set(v, FALL_OFF[fallOff](d / radius));
  }
  return out;
}

/**
 * Lays the mask on under the brush, or with a negative strength takes it away. @param record of the stroke; only grows.
 */
export function dabMask(
  { values, mirror }: PaintedMask,
  hits: ReadonlyMap<number, number>,
  strength: number,
  symmetric: boolean,
  record: MaskRecord,
): void {
  const shares = new Map(hits);
  if (symmetric)
    for (const [v, share] of hits)
      if (mirror[v]! !== NO_MIRROR) shares.set(mirror[v]!, Math.max(share, shares.get(mirror[v]!) ?? 0));
  for (const [v, share] of shares) {
    if (!record.has(v)) record.set(v, values[v]!);
    values[v] = Math.min(1, Math.max(0, values[v]! + DAB * strength * share));
  }
}

/** Puts the values of a record back. @returns the record that would redo it. */
export function revertMask({ values }: PaintedMask, record: MaskRecord): MaskRecord {
  const redo: MaskRecord = new Map();
  for (const [v, before] of record) {
    redo.set(v, values[v]!);
    values[v] = before;
  }
  return redo;
}

/** Changes the whole mask at once. @returns the record that takes it back. */
export function changeMask({ values }: PaintedMask, change: "clear" | "invert"): MaskRecord {
  const record: MaskRecord = new Map();
  values.forEach((x, v) => {
    const to = change === "clear" ? 0 : 1 - x;
    if (to === x) return;
    record.set(v, x);
    values[v] = to;
  });
  return record;
}

import type { SweepRow } from "../../measure/sweepMotion";

/** The first row at which a measure is greatest; undefined without rows. */
export const worstRow = (rows: readonly SweepRow[], value: (r: SweepRow) => number): SweepRow | undefined =>
  rows.reduce<SweepRow | undefined>((best, r) => (best && value(best) >= value(r) ? best : r), undefined);

export const signed = (degrees: number): string => `${degrees > 0 ? "+" : ""}${degrees.toFixed(0)}`;

import { Color } from "three";
import { heatCss } from "../ui/heatCss";

/** The scale in 64 linear-RGB steps. */
const RAMP: readonly (readonly [number, number, number])[] = Array.from({ length: 64 }, (_, i) => {
  const c = new Color(heatCss(i / 63));
  return [c.r, c.g, c.b] as const;
});

/** Colour for a share 0..1 of a scale. */
export const heatColor = (share: number): readonly [number, number, number] =>
  RAMP[Math.max(0, Math.min(63, Math.round(share * 63)))]!;

/** Ends of each measured scale: value at the dark end, at the bright end, and the unit shown. */
export const HEAT_SCALES = {
  weights: { from: 0, to: 1, unit: "weight" },
  stretch: { from: 1, to: 2.2, unit: "edge length ÷ rest" },
  overlap: { from: 0, to: 20, unit: "depth, mm" },
} as const;
export type HeatReading = keyof typeof HEAT_SCALES;
export const isHeat = (reading: string): reading is HeatReading => reading in HEAT_SCALES;

/** End of the scale for how far the laid skin lies off a scan, mm. */
export const OFF_SCALE_MM = 2;

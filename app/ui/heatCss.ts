import { interpolateCividis } from "d3-scale-chromatic";

/** Cividis as CSS colours: perceptually even and safe for colour-blind eyes (Nunez et al. 2018). */
export const heatCss = (share: number): string => interpolateCividis(Math.max(0, Math.min(1, share)));

/** The scale as a gradient, for legends. */
export const HEAT_CSS = `linear-gradient(90deg, ${Array.from({ length: 9 }, (_, i) => heatCss(i / 8)).join(", ")})`;

export { randomFrom } from "../../core/math/random";
export const between = (random: () => number, lo: number, hi: number): number => lo + (hi - lo) * random();

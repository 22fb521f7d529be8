/** 1 at 0 falling smoothly to 0 at 1 and beyond: one less the Hermite step of t. */
export function fadeOut(t: number): number {
  const x = Math.min(1, t);
  return 1 - x * x * (3 - 2 * x);
}

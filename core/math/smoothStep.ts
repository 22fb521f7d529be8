/** 0 up to 0, 1 from 1 on, the Hermite cubic 3t² - 2t³ between. */
export function smoothStep(t: number): number {
  const x = t < 0 ? 0 : t > 1 ? 1 : t;
  return x * x * (3 - 2 * x);
}

/** 1 up to 0, falling smoothly to 0 from 1 on. */
export const fadeOut = (t: number): number => 1 - smoothStep(t);

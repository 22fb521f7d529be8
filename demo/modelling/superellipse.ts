/** Radius of a superellipse in a direction. @param c cosine to the first half axis, s to the second. */
export function sectionRadius(c: number, s: number, a: number, b: number, exponent: number): number {
  return Math.pow(Math.pow(Math.abs(c) / a, exponent) + Math.pow(Math.abs(s) / b, exponent), -1 / exponent);
}

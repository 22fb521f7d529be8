/** Radius of a superellipse in a direction. @param c cosine to the first half axis, s to the second. */
export function sectionRadius(c: number, s: number, a: number, b: number, exponent: number): number {
  // powers by logarithms, which are shared: the body's form asks for this millions of times
  const sum = Math.exp(exponent * Math.log(Math.abs(c) / a)) + Math.exp(exponent * Math.log(Math.abs(s) / b));
  return Math.exp(-Math.log(sum) / exponent);
}

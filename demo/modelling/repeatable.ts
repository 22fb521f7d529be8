const MODULUS = 2147483647;

/** Numbers 0..1 that look random and are the same every time (Park & Miller 1988). @param seed 1 to 2147483646. */
export function repeatable(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 16807) % MODULUS) / MODULUS;
}

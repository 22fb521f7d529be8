/** What moves when one speaks: each is led by the sounds that need it, and free for its neighbours under the others. */
export const ARTICULATORS = ["jaw", "lips", "tongue"] as const;
export type Articulator = (typeof ARTICULATORS)[number];

/**
 * How much of a viseme's mouth each articulator makes, viseme by viseme from 0, the mouth at rest; rows add up to 1.
 * The split into articulators is that of Cohen & Massaro 1993; the numbers are our own.
 */
const SHARES: readonly (readonly [jaw: number, lips: number, tongue: number])[] = [
  [0.4, 0.4, 0.2],
  [0, 1, 0],
  [0.2, 0.8, 0],
  [0.3, 0, 0.7],
  [0.4, 0, 0.6],
  [0.3, 0, 0.7],
  [0.2, 0.6, 0.2],
  [0.4, 0.3, 0.3],
  [0.3, 0, 0.7],
  [0.1, 0.5, 0.4],
  [0.8, 0.2, 0],
  [0.6, 0.4, 0],
  [0.4, 0.6, 0],
  [0.4, 0.6, 0],
  [0.2, 0.8, 0],
];

export const shareOf = (viseme: number, articulator: number): number => SHARES[viseme]?.[articulator] ?? 0;

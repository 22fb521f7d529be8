/** Frames of a sound: features of one frame after another, each so many numbers long. */
export interface Features {
  readonly width: number;
  readonly values: Float32Array;
}
export interface Warp {
  /** By frame of the first sound, the frame of the second that it stands against, a fraction between two. */
  readonly at: Float32Array;
  /** Mean distance of frames that stand against each other. */
  readonly distance: number;
}

const countOf = ({ values, width }: Features): number => values.length / width;
/** One sound may be so much quicker in a place than the other is over all. */
const FREE = 0.25;
/** What it costs to stay in one sound while the other goes on, in frames' distances. */
const STAYS = 0.25;

/** How far a frame of one sound is from a frame of the other. */
function distanceOf(A: Float32Array, B: Float32Array, width: number): (i: number, j: number) => number {
  return (i, j) => {
    let sum = 0;
    for (let x = i * width, y = j * width, end = x + width; x < end; x++, y++) {
      const d = A[x]! - B[y]!;
      sum += d * d;
    }
    return Math.sqrt(sum);
  };
}

/**
 * Lays one sound on another by least distance of frames that stand against each other, both going on only (dynamic time
 * warping: Sakoe & Chiba 1978, symmetric steps, a band round the diagonal).
 */
export function warp(a: Features, b: Features): Warp {
  const [n, m] = [countOf(a), countOf(b)];
  const { width } = a;
  const band = Math.ceil(FREE * Math.max(n, m)) + 2;
  const from = new Uint8Array(n * m);
  let before = new Float64Array(m).fill(Infinity);
  let now = new Float64Array(m).fill(Infinity);
  const distance = distanceOf(a.values, b.values, width);
  for (let i = 0; i < n; i++) {
    now.fill(Infinity);
    const middle = (i * m) / n;
    const [low, high] = [Math.max(0, Math.floor(middle - band)), Math.min(m - 1, Math.ceil(middle + band))];
    for (let j = low; j <= high; j++) {
      const d = distance(i, j);
      if (i === 0 && j === 0) {
        now[0] = d;
        continue;
      }
      // both go on, the first alone, the second alone
      const both = i > 0 && j > 0 ? before[j - 1]! + d : Infinity;
      const first = i > 0 ? before[j]! + d + STAYS * d : Infinity;
      const second = j > 0 ? now[j - 1]! + STAYS * d + 0.5 * d : Infinity;
      const best = Math.min(both, first, second);
      now[j] = best;
      from[i * m + j] = best === both ? 0 : best === first ? 1 : 2;
    }
    [before, now] = [now, before];
  }
  const at = new Float32Array(n);
  const counts = new Uint16Array(n);
  let [i, j, sum, steps] = [n - 1, m - 1, 0, 0];
  for (;;) {
    at[i]! += j;
    counts[i]!++;
    sum += distance(i, j);
    steps++;
    if (i === 0 && j === 0) break;
    const step = i === 0 ? 2 : j === 0 ? 1 : from[i * m + j]!;
    if (step !== 2) i--;
    if (step !== 1) j--;
  }
  for (let k = 0; k < n; k++) at[k]! /= counts[k]!;
  return { at, distance: sum / steps };
}

/** A time of the first sound on the second. @param hop seconds between frames of both. */
export function warpedTime({ at }: Warp, seconds: number, hop: number): number {
  const x = Math.min(at.length - 1, Math.max(0, seconds / hop));
  const k = Math.floor(x);
  const next = at[Math.min(k + 1, at.length - 1)]!;
  return hop * (at[k]! + (x - k) * (next - at[k]!));
}

/** How the cutoff of the filter follows what is measured. */
export interface OneEuroSettings {
  /** Cutoff while nothing moves, Hz: lower is steadier. */
  readonly minCutoff: number;
  /** Hz by which the cutoff rises for each unit a second of movement: higher is quicker. */
  readonly beta: number;
}
/** Cutoff of the speed that the cutoff is read from, Hz (the authors' choice). */
const SPEED_CUTOFF = 1;
const smoothing = (cutoff: number, dt: number): number => {
  const tau = 1 / (2 * Math.PI * cutoff);
  return 1 / (1 + tau / dt);
};

/**
 * The One Euro filter (Casiez, Roussel & Vogel 2012) over a row of values at once: a low pass whose cutoff rises with
 * the speed of the value, so that what is held is steady and what moves is not late. The speed is read from what the
 * filter gave last, as in the authors' later versions.
 */
export class OneEuro {
  /** What it gives, one number a channel. */
  readonly out: Float64Array;
  private readonly speed: Float64Array;
  private begun = false;

  constructor(
    readonly width: number,
    public settings: OneEuroSettings,
  ) {
    this.out = new Float64Array(width);
    this.speed = new Float64Array(width);
  }

  /** @param dt seconds since the last values; more than 0. @returns `out`. */
  push(values: ArrayLike<number>, dt: number): Float64Array {
    const { out, speed } = this;
    if (!this.begun) {
      this.begun = true;
      for (let c = 0; c < this.width; c++) out[c] = values[c]!;
      return out;
    }
    const { minCutoff, beta } = this.settings;
    const a = smoothing(SPEED_CUTOFF, dt);
    for (let c = 0; c < this.width; c++) {
      const value = values[c]!;
      speed[c] = a * ((value - out[c]!) / dt) + (1 - a) * speed[c]!;
      const b = smoothing(minCutoff + beta * Math.abs(speed[c]!), dt);
      out[c] = b * value + (1 - b) * out[c]!;
    }
    return out;
  }

  /** Goes on from other values than it last gave, at rest. */
  restart(values: ArrayLike<number>): void {
    for (let c = 0; c < this.width; c++) this.out[c] = values[c]!;
    this.speed.fill(0);
    this.begun = true;
  }
}

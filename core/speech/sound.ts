export interface Sound {
  /** Samples a second. */
  readonly rate: number;
  /** One channel, -1 to 1. */
  readonly samples: Float32Array;
}

/**
 * The same sound at another rate: a low pass of a windowed sinc where the new rate is lower, straight lines between
 * samples otherwise enough for measuring.
 */
export function atRate({ rate, samples }: Sound, wanted: number): Float32Array {
  if (rate === wanted) return samples;
  const step = rate / wanted;
  const out = new Float32Array(Math.max(1, Math.floor(samples.length / step)));
  if (step <= 1) {
    for (let i = 0; i < out.length; i++) {
      const x = i * step;
      const a = Math.floor(x);
      out[i] = samples[a]! + (x - a) * ((samples[a + 1] ?? samples[a]!) - samples[a]!);
    }
    return out;
  }
  // Hann-windowed sinc over eight zero crossings, its cut at the new rate's half
  const half = Math.ceil(8 * step);
  const kernel = Float64Array.from({ length: 2 * half * 16 + 1 }, (_, k) => {
    const x = k / 16 - half;
    const s = x === 0 ? 1 : Math.sin((Math.PI * x) / step) / ((Math.PI * x) / step);
    return s * (0.5 + 0.5 * Math.cos((Math.PI * x) / half));
  });
  for (let i = 0; i < out.length; i++) {
    const x = i * step;
    let [sum, weight] = [0, 0];
    for (let j = Math.max(0, Math.ceil(x - half)); j <= Math.min(samples.length - 1, x + half); j++) {
      const w = kernel[Math.round(16 * (j - x + half))]!;
      sum += w * samples[j]!;
      weight += w;
    }
    out[i] = weight > 0 ? sum / weight : 0;
  }
  return out;
}

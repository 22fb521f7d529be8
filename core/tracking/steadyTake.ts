import { framesOf, GAP, isLost, type Take } from "./take";
import { SteadyFace, type Steady } from "./steadyFace";

/** Frames of a hole in a take that are filled at most, so that a time far off fills no memory. */
const MOST_FILLED = 600;

/** A take with every channel and angle steadied; a lost face holds, then eases to its neutral. Nothing in it is NaN. */
export function steadied(take: Take, steady: Steady, neutral?: ArrayLike<number>): Take {
  const width = take.channels.length;
  const face = new SteadyFace(width, steady, neutral);
  const times: number[] = [];
  const values: number[] = [];
  const head: number[] = [];
  const gaze: number[] = [];
  const keep = (time: number): void => {
    times.push(time);
    for (let c = 0; c < width; c++) values.push(face.values[c]!);
    head.push(...face.head);
    gaze.push(...face.gaze);
  };
  for (let f = 0; f < framesOf(take); f++) {
    const time = take.times[f]!;
    const before = f > 0 ? take.times[f - 1]! : time;
    if (time - before > GAP / take.rate) {
      const filled = Math.min(MOST_FILLED, Math.ceil((time - before) * take.rate) - 1);
      for (let k = 1; k <= filled; k++) {
        const at = before + (k * (time - before)) / (filled + 1);
        face.lose(at);
        keep(at);
      }
    }
    face.push({
      time,
      values: isLost(take, f) ? null : take.values.subarray(f * width, (f + 1) * width),
      head: take.head?.subarray(3 * f, 3 * f + 3) ?? null,
      gaze: take.gaze?.subarray(2 * f, 2 * f + 2) ?? null,
    });
    keep(time);
  }
  return {
    ...take,
    times: Float64Array.from(times),
    values: Float32Array.from(values),
    head: take.head && Float32Array.from(head),
    gaze: take.gaze && Float32Array.from(gaze),
  };
}

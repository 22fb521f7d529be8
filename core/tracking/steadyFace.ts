import { z } from "zod";
import { OneEuro, type OneEuroSettings } from "./oneEuro";
import { fadeOut } from "../math/smoothStep";

/** How a face is steadied; 0..1 as a person sets it. */
export const steadySchema = z.object({
  steady: z.number().min(0).max(1).default(0.5),
  quick: z.number().min(0).max(1).default(0.5),
});
export type Steady = z.infer<typeof steadySchema>;
export const PLAIN_STEADY: Steady = steadySchema.parse({});

/** Cutoff while the face is held, Hz, from not steadied to steadied most. Our own choice. */
const [LOOSE, FIRM] = [12, 0.4];
/** Hz by which the cutoff rises for a whole range a second. Our own choice. */
const QUICKEST = 24;
/** Degrees of a turn that count as a whole range. */
export const RANGE_DEGREES = 30;

/** The filter's two numbers of the two sliders. */
export const filterOf = ({ steady, quick }: Steady): OneEuroSettings => ({
  minCutoff: LOOSE * (FIRM / LOOSE) ** steady,
  beta: QUICKEST * quick * quick,
});

/** A lost face is held for so long, then eases to its neutral, seconds. Our own choice. */
export const HOLDS = 0.25;
export const EASES = 0.6;
/** A frame that says it comes later than this after the last one is taken to begin anew, seconds. */
const LONGEST_STEP = 1;

/** What is measured of a face in one frame. */
export interface FaceFrame {
  /** Seconds. */
  readonly time: number;
  /** One number a channel; null where the face was lost. */
  readonly values: ArrayLike<number> | null;
  readonly head: ArrayLike<number> | null;
  readonly gaze: ArrayLike<number> | null;
}

/**
 * A face as it is shown: every channel and angle through the filter; held where it is lost, then led to its neutral.
 * The same for a stream and for a take.
 */
export class SteadyFace {
  /** One number a channel. */
  readonly values: Float64Array;
  /** Degrees: pitch, yaw, roll. */
  readonly head = new Float64Array(3);
  /** Degrees: yaw, pitch. */
  readonly gaze = new Float64Array(2);
  /** Since when the face is lost, seconds; null while it is seen. */
  lostSince: number | null = null;
  private readonly face: OneEuro;
  private readonly turns: OneEuro;
  private time: number | null = null;
  private readonly held: Float64Array;
  private readonly heldTurns = new Float64Array(5);
  private readonly row = new Float64Array(5);

  /** @param neutral value of each channel in a face at rest. */
  constructor(
    width: number,
    steady: Steady,
    public neutral: ArrayLike<number> = new Float64Array(width),
  ) {
    this.values = Float64Array.from({ length: width }, (_, c) => neutral[c]!);
    this.held = new Float64Array(width);
    this.face = new OneEuro(width, filterOf(steady));
    this.turns = new OneEuro(5, filterOf(steady));
  }

  set steady(steady: Steady) {
    this.face.settings = this.turns.settings = filterOf(steady);
  }

  /** Takes a frame in; the results stand in `values`, `head`, `gaze`. */
  push({ time, values, head, gaze }: FaceFrame): void {
    const dt = this.time === null ? 0 : time - this.time;
    const first = this.time === null || dt <= 0 || dt > LONGEST_STEP;
    this.time = time;
    if (!values) return this.lose(time);
    if (this.lostSince !== null) {
      // it comes back from where it is shown, not from where it was lost
      this.lostSince = null;
      this.face.restart(this.values);
      this.turns.restart(this.row.map((_, i) => this.shownTurn(i)));
    } else if (first) {
      this.face.restart(values);
      this.turns.restart(this.turnRow(head, gaze));
    }
    const step = dt > 0 && dt <= LONGEST_STEP ? dt : 1e-3;
    this.values.set(this.face.push(values, step));
    this.showTurns(this.turns.push(this.turnRow(head, gaze), step));
  }

  /** No frame came: the face is lost from here on. */
  lose(time: number): void {
    if (this.lostSince === null) {
      this.lostSince = time;
      this.held.set(this.values);
      for (let i = 0; i < 5; i++) this.heldTurns[i] = this.shownTurn(i);
    }
    const left = fadeOut((time - this.lostSince - HOLDS) / EASES);
    for (let c = 0; c < this.values.length; c++)
      this.values[c] = this.neutral[c]! + left * (this.held[c]! - this.neutral[c]!);
    this.showTurns(this.heldTurns.map((a) => left * a));
  }

  private shownTurn(i: number): number {
    return (i < 3 ? this.head[i]! : this.gaze[i - 3]!) / RANGE_DEGREES;
  }
  private turnRow(head: ArrayLike<number> | null, gaze: ArrayLike<number> | null): Float64Array {
    for (let i = 0; i < 5; i++) this.row[i] = ((i < 3 ? head?.[i] : gaze?.[i - 3]) ?? 0) / RANGE_DEGREES;
    return this.row;
  }
  private showTurns(turns: ArrayLike<number>): void {
    for (let i = 0; i < 3; i++) this.head[i] = RANGE_DEGREES * turns[i]!;
    for (let i = 0; i < 2; i++) this.gaze[i] = RANGE_DEGREES * turns[3 + i]!;
  }
}

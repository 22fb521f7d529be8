/** What came of a tracker's stream. */
export interface StreamCounts {
  /** Frames that came, with those in which the face was lost. */
  readonly frames: number;
  readonly lost: number;
  /** Frames that never came, by their numbers; one that is late is taken off again. */
  readonly missing: number;
  readonly late: number;
  readonly refused: number;
}
export const NO_COUNTS: StreamCounts = { frames: 0, lost: 0, missing: 0, late: 0, refused: 0 };

import type { TonguePoseName } from "../parts/tongue";
import type { JawPose } from "./jaw";
import type { Mover } from "./movers";

/** One entry of the face: how the skin moves, and what the parts inside do. */
export interface FaceUnit {
  /** Number of the action unit (FACS), or a plain word for what has none. */
  readonly id: string;
  readonly move: Mover;
  /** Falls apart into a left and a right half. */
  readonly sided: boolean;
  /** Moves to one side by itself: x is the figure's own, not the half's. */
  readonly lopsided?: boolean;
  /** The jaw's part in it, which teeth and tongue follow. */
  readonly jaw?: JawPose;
  /** The jaw pose that it is made to be used with. */
  readonly usedWith?: JawPose;
  readonly tongue?: TonguePoseName;
  /** Angle of the pupil's edge on the eyeball, degrees. */
  readonly pupil?: number;
}
export const sided = (id: string, move: Mover): FaceUnit => ({ id, move, sided: true });
export const whole = (id: string, move: Mover, more: Partial<FaceUnit> = {}): FaceUnit => ({
  id,
  move,
  sided: false,
  ...more,
});

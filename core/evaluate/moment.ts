import type { Clip } from "../model/character";
import { REST_POSE, type Pose } from "./poseSkeleton";

export type SkinMethod = "linear" | "dual";

/** Something that moves a character beside the hand. Plain data, so that workers can be asked by it. */
export type MomentSource = {
  readonly kind: "clip";
  readonly clip: Clip;
  /** Moment of the clip. */
  readonly seconds: number;
  /**
   * Joints that may change their place in what they hang on, by name: the pelvis and what it hangs on. Others keep
   * their length.
   */
  readonly travellers: readonly string[];
  /** How much of it counts, 0..1; 1 where it is left out. */
  readonly share?: number;
};

/** Everything that is asked of a character for one moment: what people set, and what plays under it. */
export interface Moment {
  /** Angles set by hand; a joint that has some stands so whatever plays. */
  readonly pose: Pose;
  /** Weights set by hand, by shape. They add to what plays. */
  readonly weights: Readonly<Record<string, number>>;
  /** Whether drivers act. */
  readonly drivers: boolean;
  readonly method: SkinMethod;
  /** What plays, each over the ones before it. */
  readonly sources?: readonly MomentSource[];
}

export const REST_MOMENT: Moment = { pose: REST_POSE, weights: {}, drivers: true, method: "linear" };

import type { Vec3 } from "../math/vec3";
import type { Clip } from "../model/character";
import { REST_POSE, type Pose } from "./poseSkeleton";
import type { DriverGroup } from "../model/poseDriver";

export type SkinMethod = "linear" | "dual";

/** Something that moves a character beside the hand. Plain data, so that workers can be asked by it. */
export type MomentSource =
  | ClipMoment
  | FaceMoment
  | SpeechMoment
  | {
      readonly kind: "set";
      /** Angles, degrees, joints that stand so; those that are not named are left as they are. */
      readonly pose: Pose;
      /** Weights that are added, by shape. */
      readonly weights: Readonly<Record<string, number>>;
      /** How far a joint is carried from its rest place, metres, in what it hangs on. */
      readonly travel?: { readonly joint: string; readonly by: Vec3 };
      readonly share?: number;
    };

/** A tracked face at one of its moments, live or recorded. */
export interface FaceMoment {
  readonly kind: "face";
  /** Weights that are added, by shape. */
  readonly weights: Readonly<Record<string, number>>;
  /** Angles, degrees, by which joints are turned on top of what plays. */
  readonly turns: Pose;
  readonly share?: number;
}

/** A spoken line at one of its moments. */
export interface SpeechMoment {
  readonly kind: "speech";
  /** Weights that are added, by shape. */
  readonly weights: Readonly<Record<string, number>>;
  /** How much of what stands under it stays, 0..1, of the shapes that give way to it. */
  readonly keep: number;
  readonly givesWay: readonly string[];
  /** Angles, degrees, by which joints are turned on top of what plays. */
  readonly turns: Pose;
  readonly share?: number;
}

/** A clip at one of its moments. */
export interface ClipMoment {
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
}

/** Everything that is asked of a character for one moment: what people set, and what plays under it. */
export interface Moment {
  /** Angles set by hand; a joint that has some stands so whatever plays. */
  readonly pose: Pose;
  /** Weights set by hand, by shape. They add to what plays. */
  readonly weights: Readonly<Record<string, number>>;
  /** Whether drivers act. */
  readonly drivers: boolean;
  /** Groups of drivers that are switched off while the others act. */
  readonly off?: readonly DriverGroup[];
  readonly method: SkinMethod;
  /** What plays, each over the ones before it. */
  readonly sources?: readonly MomentSource[];
}

export const REST_MOMENT: Moment = { pose: REST_POSE, weights: {}, drivers: true, method: "linear" };

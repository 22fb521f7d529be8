import { clipFootSlide, clipUnderGround, pairOpposed, poseRange } from "./clips/motionChecks";
import { meshBudget } from "./delivery/meshBudget";
import { meshDegenerate } from "./delivery/meshDegenerate";
import { meshLoose } from "./delivery/meshLoose";
import { meshNonManifold } from "./delivery/meshNonManifold";
import { partsMaterialOpacity } from "./delivery/partsMaterialOpacity";
import { scaleStance } from "./delivery/scaleStance";
import { scaleStature } from "./delivery/scaleStature";
import { clipLoop, clipScaleKeys, clipTranslationKeys } from "./clips/clipChecks";
import { eyesDiameter, eyesSpacing } from "./delivery/eyesSize";
import { meshDoubled } from "./delivery/meshDoubled";
import { meshInsideOut } from "./delivery/meshInsideOut";
import { partsTextureSize } from "./delivery/partsTextureSize";
import { partsUnplaced } from "./delivery/partsUnplaced";
import { scaleProportion } from "./delivery/scaleProportion";
import { faceEyeThroughLid } from "./face/faceEyeThroughLid";
import { faceJawRange, faceLidGap, faceLipCross, faceLipSeal, faceLipTeeth } from "./face/faceOpenings";
import { faceTeethThrough, faceTongueThrough } from "./face/faceThroughSkin";
import { shapesJoints } from "./shapes/shapesJoints";
import { shapesNoise } from "./shapes/shapesNoise";
import { shapesSideLeak, shapesSymmetry } from "./shapes/shapesSides";
import { skeletonEyeCentre } from "./skeleton/skeletonEyeCentre";
import { skeletonHingeAxis } from "./skeleton/skeletonHingeAxis";
import { skeletonNames } from "./skeleton/skeletonNames";
import { skeletonParenting } from "./skeleton/skeletonParenting";
import { skeletonSymmetry } from "./skeleton/skeletonSymmetry";
import { weightsUnbound } from "./weights/weightsUnbound";
import { weightsRigidParts } from "./weights/weightsRigidParts";
import { weightsSymmetry } from "./weights/weightsSymmetry";
import { shapesPoseBaked } from "./shapes/shapesPoseBaked";
import { shapesAlike } from "./shapes/shapesAlike";
import { shapesDouble } from "./shapes/shapesDouble";
import { shapesCoverage } from "./shapes/shapesCoverage";
import { shapesCount } from "./shapes/shapesCount";
import { shapesEmpty } from "./shapes/shapesEmpty";
import { shapesFlip } from "./shapes/shapesFlip";
import { shapesFollowers } from "./shapes/shapesFollowers";
import { skeletonEndJoints } from "./skeleton/skeletonEndJoints";
import { skeletonRequired } from "./skeleton/skeletonRequired";
import { skeletonRestBind } from "./skeleton/skeletonRestBind";
import { skeletonStraightHinge } from "./skeleton/skeletonStraightHinge";
import { weightsCount } from "./weights/weightsCount";
import { weightsStray } from "./weights/weightsStray";
import { weightsSum } from "./weights/weightsSum";
import type { Check, CheckEntry, SweepCheck } from "./check";
import { pairExcess } from "./pairs/pairExcess";
import { poseBone } from "./pose/poseBone";
import { poseCrease } from "./pose/poseCrease";
import { poseFlip } from "./pose/poseFlip";
import { posePenetration } from "./pose/posePenetration";
import { poseRoughness } from "./pose/poseRoughness";
import { poseStretch } from "./pose/poseStretch";
import { poseVolume } from "./pose/poseVolume";

const AT_REST = [
  meshNonManifold,
  meshDegenerate,
  meshDoubled,
  meshInsideOut,
  meshLoose,
  meshBudget,
  partsMaterialOpacity,
  partsTextureSize,
  partsUnplaced,
  scaleStance,
  scaleStature,
  scaleProportion,
  eyesSpacing,
  eyesDiameter,
  skeletonRequired,
  skeletonNames,
  skeletonRestBind,
  skeletonStraightHinge,
  skeletonHingeAxis,
  skeletonSymmetry,
  skeletonParenting,
  skeletonEyeCentre,
  skeletonEndJoints,
  weightsUnbound,
  weightsSum,
  weightsCount,
  weightsStray,
  weightsSymmetry,
  weightsRigidParts,
  shapesCount,
  shapesAlike,
  shapesPoseBaked,
  shapesDouble,
  shapesEmpty,
  shapesNoise,
  shapesSideLeak,
  shapesSymmetry,
  shapesFollowers,
  shapesFlip,
  shapesJoints,
  shapesCoverage,
  faceLidGap,
  faceEyeThroughLid,
  faceLipSeal,
  faceLipCross,
  faceLipTeeth,
  faceJawRange,
  faceTeethThrough,
  faceTongueThrough,
  clipScaleKeys,
  clipTranslationKeys,
  clipLoop,
] as const;
const SWEPT = [poseVolume, posePenetration, poseStretch, poseFlip, poseCrease, poseBone, poseRoughness] as const;
const WATCHED = [poseRange, clipFootSlide, clipUnderGround, pairOpposed] as const;
const ALL = [...AT_REST, pairExcess, ...SWEPT, ...WATCHED] as const;

/** All checks of a delivery at rest, in the order they run. */
export const CHECKS: readonly Check[] = AT_REST;
/** Those that run on sweeps. */
export const SWEEP_CHECKS: readonly SweepCheck[] = SWEPT;
/** Every check there is. */
export const CHECK_ENTRIES: readonly CheckEntry[] = ALL;

type Together<U> = (U extends unknown ? (u: U) => void : never) extends (all: infer A) => void ? A : never;
/** The limits of all checks, by their names in a profile. */
export type AllLimits = Together<(typeof ALL)[number]["limits"]>;

const byId = new Map(CHECK_ENTRIES.map((c) => [c.id, c]));
export const entryOf = (check: string): CheckEntry | undefined => byId.get(check);

import type { Character } from "../model/character";
import { makeRig, type Rig } from "../deform/rig";
import { humanoidMap } from "../skeleton/humanoidMap";
import type { Tick } from "../measure/sweepMotion";
import { meshBudget } from "./delivery/meshBudget";
import { meshDegenerate } from "./delivery/meshDegenerate";
import { meshLoose } from "./delivery/meshLoose";
import { meshNonManifold } from "./delivery/meshNonManifold";
import { partsMaterialOpacity } from "./delivery/partsMaterialOpacity";
import { scaleStance, WAIT_FOR_STANCE } from "./delivery/scaleStance";
import { likelyUnit, scaleStature, statureOf } from "./delivery/scaleStature";
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
import { withoutRepeats } from "./withoutRepeats";
import { compareFindings, type Check, type Finding } from "./finding";
import type { Profile } from "./profile";
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

/** All checks of a delivery at rest, in the order they run. The pose checks run on sweeps (poseFindings). */
export const CHECKS: readonly Check[] = [
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
];

export interface CheckRun {
  readonly findings: Finding[];
  readonly summary: { error: number; warn: number; note: number };
}

/** Runs the checks one by one; the same character and profile always give the same findings in the same order. */
export async function runChecks(
  character: Character,
  profile: Profile,
  options: { only?: readonly string[]; rig?: Rig; tick?: Tick } = {},
): Promise<CheckRun> {
  const chosen = CHECKS.filter((c) => !profile.off.includes(c.id) && (!options.only || options.only.includes(c.id)));
  const context = {
    rig: options.rig ?? makeRig(character),
    humanoid: character.skeleton ? humanoidMap(character.skeleton, character.jointMap) : null,
    profile,
    cache: new Map<string, unknown>(),
  };
  const findings: Finding[] = [];
  // nor a size in a unit that it is not in; a small piece without a skeleton may be a piece
  const slips =
    !profile.off.includes(scaleStature.id) &&
    likelyUnit(statureOf(character)) !== null &&
    (character.skeleton !== null || statureOf(character) > 1) &&
    scaleStature.run(character, context).length > 0;
  // a figure that lies down has no left and no front that a check could go by: one finding says so
  const wrong = (check: Check): boolean => !profile.off.includes(check.id) && check.run(character, context).length > 0;
  const lies = wrong(scaleStance);
  const waits = (id: string): boolean =>
    lies ? WAIT_FOR_STANCE.test(id) : slips && WAIT_FOR_STANCE.test(id) && id !== scaleStature.id;
  for (const [i, check] of chosen.entries()) {
    await options.tick?.(i, chosen.length);
    if (!waits(check.id)) findings.push(...check.run(character, context));
  }
  const kept = withoutRepeats(character, findings).sort(compareFindings);
  return { findings: kept, summary: summarize(kept) };
}

export const summarize = (findings: readonly Finding[]): CheckRun["summary"] => ({
  error: findings.filter((f) => f.severity === "error").length,
  warn: findings.filter((f) => f.severity === "warn").length,
  note: findings.filter((f) => f.severity === "note").length,
});

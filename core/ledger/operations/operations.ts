import { acceptFinding } from "./acceptFinding";
import { addClips } from "./addClips";
import { addJoints } from "./addJoints";
import { addParts } from "./addParts";
import { addTwistJoints } from "./addTwistJoints";
import { addShapes } from "./addShapes";
import { bake } from "./bake";
import { bindInPose } from "./bindInPose";
import { changeWeights } from "./changeWeights";
import { chooseShapes } from "./chooseShapes";
import { fitClipStep } from "./fitClip";
import { deriveShapes } from "./deriveShapes";
import { driveShapes } from "./driveShapes";
import { editCorrective } from "./editCorrective";
import { editShapes } from "./editShapes";
import { followSkin } from "./followSkin";
import { makeCorrectives } from "./makeCorrectives";
import { mapJoint } from "./mapJoint";
import { mapJoints } from "./mapJoints";
import { mendAll } from "./mendAll";
import { mendFinding } from "./mendFinding";
import { newFace } from "./newFace";
import { paintWeights } from "./paintWeights";
import { partKind } from "./partKind";
import { removeClips } from "./removeClips";
import { removeCorrective } from "./removeCorrective";
import { removeMix } from "./removeMix";
import { removeShapes } from "./removeShapes";
import { rename } from "./rename";
import { reopenFinding } from "./reopenFinding";
import { repair } from "./repair";
import { retargetPose } from "./retargetPose";
import { setDriver } from "./setDriver";
import { setMix } from "./setMix";
import { setShapeDriver } from "./setShapeDriver";
import { stopFollowing } from "./stopFollowing";
import { dropMapStep } from "./dropMap";
import { setMaterialsStep } from "./setMaterials";
import { takeTextures } from "./takeTextures";
import { vrmTerms } from "./vrmTerms";
import { driveByPose } from "./driveByPose";
import { removeSamples } from "./removeSamples";
import { samplePoses } from "./samplePoses";

/** Every operation that a ledger may hold. */
export const OPERATIONS = [
  mapJoint,
  dropMapStep,
  setMaterialsStep,
  takeTextures,
  mapJoints,
  makeCorrectives,
  editCorrective,
  setDriver,
  removeCorrective,
  addShapes,
  addTwistJoints,
  deriveShapes,
  editShapes,
  setShapeDriver,
  setMix,
  removeMix,
  bake,
  newFace,
  chooseShapes,
  followSkin,
  stopFollowing,
  removeShapes,
  mendFinding,
  mendAll,
  rename,
  bindInPose,
  retargetPose,
  addParts,
  addJoints,
  addClips,
  fitClipStep,
  removeClips,
  vrmTerms,
  driveShapes,
  driveByPose,
  samplePoses,
  removeSamples,
  repair,
  partKind,
  changeWeights,
  paintWeights,
  acceptFinding,
  reopenFinding,
] as const;

import type { z } from "zod";
import { additions } from "./operations/additions";
import { answerPairs } from "./operations/answerPairs";
import { askAgain } from "./operations/askAgain";
import { borrowClips } from "./operations/borrowClips";
import { bringTargets } from "./operations/bringTargets";
import { builds } from "./operations/builds";
import { check } from "./operations/check";
import { cloth } from "./operations/cloth";
import { combined } from "./operations/combined";
import { carryCorrectives } from "./operations/carryCorrectives";
import { compareTwists } from "./operations/compareTwists";
import { spreadTwists } from "./operations/spreadTwists";
import { correctJoints } from "./operations/correctJoints";
import { faces } from "./operations/faces";
import { clipFile } from "./operations/clipFile";
import { findDrivers } from "./operations/findDrivers";
import { fitClip } from "./operations/fitClip";
import { headFit } from "./operations/headFit";
import { layOnScan } from "./operations/layOnScan";
import { layTake } from "./operations/layTake";
import { makeMaps, matchTextures } from "./operations/textures";
import { measureJointNow } from "./operations/measureJointNow";
import { newFace } from "./operations/newFace";
import { openScan } from "./operations/openScan";
import { pairs } from "./operations/pairs";
import { plainFigure } from "./operations/plainFigure";
import { posedObj } from "./operations/posedObj";
import { proposePlaces } from "./operations/proposePlaces";
import { proposeMuscles } from "./operations/proposeMuscles";
import { proposeSamples } from "./operations/proposeSamples";
import { proposeSculpt } from "./operations/proposeSculpt";
import { pushCloth } from "./operations/pushCloth";
import { rebinding } from "./operations/rebinding";
import { repairPreview } from "./operations/repairPreview";
import { returnSculpt } from "./operations/returnSculpt";
import { searchMixes } from "./operations/searchMixes";
import { shapeReadings } from "./operations/shapeReadings";
import { speakLines, watchSpeech } from "./operations/speakLines";
import { sweep } from "./operations/sweep";
import { transfer } from "./operations/transfer";
import { walk } from "./operations/walk";
import { clipOfTrial, feetOfTrial, glbOfTrial, laneOfBody, watch } from "./operations/watch";
import { weightsEffect } from "./operations/weightsEffect";

/** All long work on a character by name, for whichever thread or host runs it. */
export const JOBS = {
  additions,
  "answer pairs": answerPairs,
  "ask again": askAgain,
  "borrow clips": borrowClips,
  "bring targets": bringTargets,
  builds,
  check,
  "carry correctives": carryCorrectives,
  "make maps": makeMaps,
  "match textures": matchTextures,
  cloth,
  "compare twists": compareTwists,
  "spread twists": spreadTwists,
  combined,
  "correct joints": correctJoints,
  faces,
  "clip file": clipFile,
  "find drivers": findDrivers,
  "fit clip": fitClip,
  "head fit": headFit,
  "lay on scan": layOnScan,
  "lay take": layTake,
  "measure joint": measureJointNow,
  "new face": newFace,
  "open scan": openScan,
  pairs,
  "plain figure": plainFigure,
  "posed obj": posedObj,
  "propose places": proposePlaces,
  "propose sculpt": proposeSculpt,
  "propose muscles": proposeMuscles,
  "propose samples": proposeSamples,
  "push cloth": pushCloth,
  rebinding,
  "repair preview": repairPreview,
  "return sculpt": returnSculpt,
  "search mixes": searchMixes,
  "shape readings": shapeReadings,
  sweep,
  transfer,
  walk,
  watch,
  "clip of trial": clipOfTrial,
  "glb of trial": glbOfTrial,
  "watch feet": feetOfTrial,
  "speak lines": speakLines,
  "watch speech": watchSpeech,
  "body lane": laneOfBody,
  "weights effect": weightsEffect,
} as const;

export type JobName = keyof typeof JOBS;
type Of<N extends JobName> = (typeof JOBS)[N];
export type JobInput<N extends JobName> = z.input<Of<N>["input"]>;
export type JobOutput<N extends JobName> = Awaited<ReturnType<Of<N>["run"]>>;

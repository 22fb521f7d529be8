import type { Character } from "../../model/character";
import { weightsAt } from "../evaluate";
import type { Moment } from "../moment";
import { mapPoseDrivers, withoutSampled } from "../../model/changeDrivers";
import { readyShapes } from "./readyDrivers";

/** Weights that drivers give at a moment, by shape index, whatever is set by hand on top: what was set is left out. */
export function drivenWeights(character: Character, moment: Moment): Float32Array {
  const all = weightsAt(character, { ...moment, drivers: true });
  const set = weightsAt(character, { ...moment, drivers: false });
  return all.map((w, i) => w - set[i]!);
}

/** Weight that drivers give one shape at a moment. */
export function drivenWeight(character: Character, shape: string, moment: Moment): number {
  const at = readyShapes(character).shapeIndex.get(shape);
  return at === undefined ? 0 : drivenWeights(character, moment)[at]!;
}

/** The character in which one shape is driven by nothing, while all others are as they were. */
export const undriven = (character: Character, shape: string): Character => ({
  ...character,
  drivers: character.drivers.filter((d) => d.shape !== shape),
  ...(character.poseDrivers ? { poseDrivers: character.poseDrivers.filter((d) => d.shape !== shape) } : {}),
  ...(character.sampleSets ? { sampleSets: character.sampleSets.map((s) => withoutSampled(s, shape)) } : {}),
});

/** The character in which what drives a shape acts, whether it is switched off or not. */
export const switchedOn = (character: Character, shape: string): Character => ({
  ...character,
  drivers: character.drivers.map((d) => (d.shape === shape ? { ...d, enabled: true } : d)),
  ...mapPoseDrivers(
    character,
    (d) => (d.shape === shape ? { ...d, enabled: true } : d),
    (s) => (s.samples.some((x) => x.shape === shape) ? { ...s, enabled: true } : s),
  ),
});

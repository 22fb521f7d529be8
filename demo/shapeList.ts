import type { UnitSide } from "./figure/shapes/faceShape";

/**
 * The face shapes the cast carries, named by FACS action unit number (Ekman & Friesen 1978; codes above 46 are eye
 * positions, tongue, pupil and helper shapes are our own additions with plain names).
 */
export interface ShapeEntry {
  /** Unit of the figure's face, and which half of it. */
  readonly unit: string;
  readonly side: UnitSide;
  readonly name: string;
  readonly label: string;
}

const SIDED: readonly (readonly [unit: string, label: string])[] = [
  ["1", "inner brow raiser"],
  ["2", "outer brow raiser"],
  ["4", "brow lowerer"],
  ["5", "upper lid raiser"],
  ["6", "cheek raiser"],
  ["7", "lid tightener"],
  ["43", "eyes closed"],
  ["9", "nose wrinkler"],
  ["10", "upper lip raiser"],
  ["12", "lip corner puller"],
  ["11", "nasolabial deepener"],
  ["13", "sharp lip puller"],
  ["14", "dimpler"],
  ["15", "lip corner depressor"],
  ["16", "lower lip depressor"],
  ["20", "lip stretcher"],
  ["61", "lids follow the gaze up"],
  ["62", "lids follow the gaze down"],
  ["63", "lids follow the gaze in"],
  ["64", "lids follow the gaze out"],
];
const UNITS: readonly (readonly [unit: string, label: string])[] = [
  ["17", "chin raiser"],
  ["18", "lip pucker"],
  ["22", "lip funneler"],
  ["23", "lip tightener"],
  ["24", "lip pressor"],
  ["25", "lips part"],
  ["26", "jaw drop"],
  ["27", "mouth stretch"],
  ["28", "lip suck"],
  ["29", "jaw thrust"],
  ["30 left", "jaw sideways, left"],
  ["30 right", "jaw sideways, right"],
  ["21", "neck tightener"],
  ["33", "cheeks blown"],
  ["35", "cheeks sucked in"],
  ["19", "tongue show"],
];
const HELPERS: readonly (readonly [unit: string, label: string])[] = [
  ["tongue tip up", "tongue tip up"],
  ["tongue back up", "back of the tongue up"],
  ["tongue wide", "tongue wide"],
  ["tongue narrow", "tongue narrow"],
  ["tongue between teeth", "tongue between the teeth"],
  ["lip seal", "lip seal"],
  ["lip to teeth", "lower lip to teeth"],
  ["pupils wide", "pupils wide"],
  ["pupils narrow", "pupils narrow"],
];
const underscored = (unit: string): string => unit.replaceAll(" ", "_");

export const SHAPE_LIST: readonly ShapeEntry[] = [
  ...SIDED.flatMap(([unit, label]) =>
    (["left", "right"] as const).map((side) => ({ unit, side, name: `AU${unit}_${side}`, label: `${label}, ${side}` })),
  ),
  ...UNITS.map(([unit, label]) => ({ unit, side: "both" as const, name: `AU${underscored(unit)}`, label })),
  ...HELPERS.map(([unit, label]) => ({ unit, side: "both" as const, name: underscored(unit), label })),
];

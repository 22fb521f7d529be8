/**
 * The face shapes the cast carries, named by FACS action unit number (Ekman & Friesen 1978; codes above 46 are eye positions,
 * tongue and helper shapes are our own additions with plain names).
 */
export interface ShapeEntry {
  /** Entry of the generator's unit table; L and R give halves. */
  readonly unit: string;
  readonly name: string;
  readonly label: string;
}

const SIDED: readonly (readonly [unit: string, label: string])[] = [
  ["1", "inner brow raiser"], ["2", "outer brow raiser"], ["4", "brow lowerer"], ["5", "upper lid raiser"], ["6", "cheek raiser"], ["7", "lid tightener"],
  ["43", "eyes closed"], ["9", "nose wrinkler"], ["10", "upper lip raiser"], ["12", "lip corner puller"], ["11", "nasolabial deepener"], ["13", "sharp lip puller"], ["14", "dimpler"], ["15", "lip corner depressor"], ["16", "lower lip depressor"], ["20", "lip stretcher"],
  ["61", "lids follow the gaze up"], ["62", "lids follow the gaze down"], ["63", "lids follow the gaze in"], ["64", "lids follow the gaze out"],
];
const WHOLE: readonly (readonly [unit: string, name: string, label: string])[] = [
  ["17", "AU17", "chin raiser"], ["18", "AU18", "lip pucker"], ["22", "AU22", "lip funneler"], ["23", "AU23", "lip tightener"], ["24", "AU24", "lip pressor"], ["25", "AU25", "lips part"],
  ["26", "AU26", "jaw drop"], ["27", "AU27", "mouth stretch"], ["28", "AU28", "lip suck"], ["29", "AU29", "jaw thrust"], ["30L", "AU30_left", "jaw sideways, left"], ["30R", "AU30_right", "jaw sideways, right"],
  ["21", "AU21", "neck tightener"], ["33", "AU33", "cheeks blown"], ["35", "AU35", "cheeks sucked in"], ["19", "AU19", "tongue show"], ["71", "tongue_tip_up", "tongue tip up"], ["72", "tongue_back_up", "back of the tongue up"], ["73", "tongue_wide", "tongue wide"], ["74", "tongue_narrow", "tongue narrow"], ["75", "tongue_between_teeth", "tongue between the teeth"], ["81", "lip_seal", "lip seal"], ["82", "lip_to_teeth", "lower lip to teeth"],
];

export const SHAPE_LIST: readonly ShapeEntry[] = [
  ...SIDED.flatMap(([unit, label]) => (["left", "right"] as const).map((side) => ({ unit: `${unit}${side === "left" ? "L" : "R"}`, name: `AU${unit}_${side}`, label: `${label}, ${side}` }))),
  ...WHOLE.map(([unit, name, label]) => ({ unit, name, label })),
];

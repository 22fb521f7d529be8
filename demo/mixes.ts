import { mixShapes } from "../core/shapes/mixShapes";
import type { Shape } from "../core/model/character";

/** A shape that is a weighted sum of others; a plain unit number stands for both of its sides. */
export interface Mix {
  readonly name: string;
  readonly label: string;
  readonly of: Readonly<Record<string, number>>;
}

/**
 * The 14 visemes of MPEG-4 (ISO/IEC 14496-2, Table "Values for viseme_select"), mixed of action units and tongue
 * shapes; the shares are our own.
 */
export const VISEMES: readonly Mix[] = [
  { name: "viseme_1", label: "viseme 1: p b m", of: { AU26: 0.18, lip_seal: 1, AU24: 0.25 } },
  { name: "viseme_2", label: "viseme 2: f v", of: { AU26: 0.2, lip_to_teeth: 1.14, AU10: 0.1 } },
  { name: "viseme_3", label: "viseme 3: th dh", of: { AU26: 0.34, AU25: 0.6, AU16: 0.15, tongue_between_teeth: 1 } },
  { name: "viseme_4", label: "viseme 4: t d", of: { AU26: 0.2, AU25: 0.65, AU20: 0.1, tongue_tip_up: 0.95 } },
  { name: "viseme_5", label: "viseme 5: k g", of: { AU26: 0.35, AU25: 0.6, tongue_back_up: 1 } },
  { name: "viseme_6", label: "viseme 6: ch j sh", of: { AU26: 0.15, AU22: 0.75, AU18: 0.2, tongue_tip_up: 0.45 } },
  {
    name: "viseme_7",
    label: "viseme 7: s z",
    of: { AU26: 0.06, AU25: 0.75, AU20: 0.35, AU12: 0.1, tongue_wide: 0.5, tongue_tip_up: 0.3 },
  },
  { name: "viseme_8", label: "viseme 8: n l", of: { AU26: 0.3, AU25: 0.6, tongue_tip_up: 1 } },
  {
    name: "viseme_9",
    label: "viseme 9: r",
    of: { AU26: 0.22, AU22: 0.4, AU18: 0.3, tongue_narrow: 0.6, tongue_tip_up: 0.4 },
  },
  { name: "viseme_10", label: "viseme 10: aa", of: { AU26: 1, AU25: 0.4, AU10: 0.1 } },
  { name: "viseme_11", label: "viseme 11: e", of: { AU26: 0.5, AU25: 0.6, AU20: 0.4, AU12: 0.15, tongue_wide: 0.4 } },
  { name: "viseme_12", label: "viseme 12: ih", of: { AU26: 0.28, AU25: 0.7, AU12: 0.3, AU20: 0.3, tongue_wide: 0.6 } },
  { name: "viseme_13", label: "viseme 13: oh", of: { AU26: 0.6, AU22: 0.5, AU18: 0.4 } },
  { name: "viseme_14", label: "viseme 14: ou", of: { AU26: 0.1, AU18: 0.95, AU22: 0.2, tongue_back_up: 0.3 } },
];

/** The six expressions of MPEG-4 (ISO/IEC 14496-2, "expression_select"); the shares are our own. */
export const EXPRESSIONS: readonly Mix[] = [
  { name: "joy", label: "expression 1: joy", of: { AU6: 0.9, AU12: 1, AU25: 0.75, AU10: 0.2, AU26: 0.12, AU2: 0.12 } },
  {
    name: "sadness",
    label: "expression 2: sadness",
    of: { AU1: 1, AU4: 0.4, AU15: 0.85, AU17: 0.45, AU7: 0.2, AU43: 0.12, AU11: 0.3 },
  },
  {
    name: "anger",
    label: "expression 3: anger",
    of: { AU4: 1, AU5: 0.55, AU7: 0.45, AU10: 0.35, AU23: 0.5, AU25: 0.5, AU17: 0.3, AU9: 0.3 },
  },
  {
    name: "fear",
    label: "expression 4: fear",
    of: { AU1: 1, AU2: 0.6, AU4: 0.35, AU5: 1, AU20: 0.85, AU25: 0.8, AU26: 0.3, AU21: 0.5 },
  },
  {
    name: "disgust",
    label: "expression 5: disgust",
    of: { AU9: 1, AU10: 0.7, AU4: 0.4, AU6: 0.6, AU7: 0.4, AU15: 0.4, AU16: 0.35, AU17: 0.3 },
  },
  { name: "surprise", label: "expression 6: surprise", of: { AU1: 1, AU2: 1, AU5: 0.9, AU26: 1, AU25: 0.4 } },
];

/**
 * The presets of VRM 1.0 (VRMC_vrm, "Expressions"); the shares are our own. `neutral` is the face at rest and needs no
 * shape.
 */
export const PRESETS: readonly Mix[] = [
  { name: "happy", label: "preset happy", of: { AU6: 0.8, AU12: 0.9, AU25: 0.4 } },
  { name: "angry", label: "preset angry", of: { AU4: 1, AU7: 0.5, AU23: 0.6, AU5: 0.3 } },
  { name: "sad", label: "preset sad", of: { AU1: 0.9, AU4: 0.3, AU15: 0.8, AU17: 0.3 } },
  { name: "relaxed", label: "preset relaxed", of: { AU12: 0.35, AU6: 0.2, AU43: 0.1 } },
  { name: "surprised", label: "preset surprised", of: { AU1: 0.8, AU2: 0.9, AU5: 0.8, AU26: 0.6, AU25: 0.3 } },
  { name: "aa", label: "preset aa", of: { AU26: 1, AU25: 0.4, AU10: 0.1 } },
  { name: "ih", label: "preset ih", of: { AU26: 0.28, AU25: 0.7, AU12: 0.3, AU20: 0.3, tongue_wide: 0.6 } },
  { name: "ou", label: "preset ou", of: { AU26: 0.1, AU18: 0.95, AU22: 0.2, tongue_back_up: 0.3 } },
  { name: "ee", label: "preset ee", of: { AU26: 0.15, AU25: 0.6, AU20: 0.6, AU12: 0.25, tongue_wide: 0.6 } },
  { name: "oh", label: "preset oh", of: { AU26: 0.6, AU22: 0.5, AU18: 0.4 } },
  { name: "blink", label: "preset blink", of: { AU43: 1 } },
  { name: "blinkLeft", label: "preset blink, left", of: { AU43_left: 1 } },
  { name: "blinkRight", label: "preset blink, right", of: { AU43_right: 1 } },
  { name: "lookUp", label: "preset look up", of: { AU61: 1 } },
  { name: "lookDown", label: "preset look down", of: { AU62: 1 } },
  { name: "lookLeft", label: "preset look left", of: { AU64_left: 1, AU63_right: 1 } },
  { name: "lookRight", label: "preset look right", of: { AU63_left: 1, AU64_right: 1 } },
];

/** Adds up weighted shapes. Throws when the mix names a shape that is not there. */
export function mixOf(mix: Mix, shapes: readonly Shape[]): Shape {
  const shares = Object.entries(mix.of).flatMap(([unit, weight]) => {
    const named = shapes.filter((s) => s.name === unit || s.name === `${unit}_left` || s.name === `${unit}_right`);
    if (named.length === 0) throw new Error(`mixOf: ${mix.name} needs ${unit}, which is not there`);
    return named.map((shape) => [shape, weight] as const);
  });
  return { name: mix.name, label: mix.label, deltas: mixShapes(shares) };
}

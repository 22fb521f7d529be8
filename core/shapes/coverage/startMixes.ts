/** A unit's share of a mix: unit, weight, and the one side it is of. */
type Share = readonly [unit: number, weight: number, side?: "left" | "right"];

/**
 * Where a mix of action units may begin. Expressions after the emotion prototypes of EMFACS (Ekman, Irwin & Rosenberg
 * 1994; units from memory, weights our own); visemes and presets are our own choice, to be tuned on each face.
 */
export const START_MIXES: Readonly<Record<string, readonly Share[]>> = {
  joy: [
    [6, 0.9],
    [12, 1],
  ],
  sadness: [
    [1, 1],
    [4, 0.5],
    [15, 0.8],
  ],
  surprise: [
    [1, 1],
    [2, 1],
    [5, 0.6],
    [26, 0.8],
  ],
  fear: [
    [1, 1],
    [2, 0.7],
    [4, 0.5],
    [5, 1],
    [7, 0.3],
    [20, 0.8],
    [26, 0.4],
  ],
  anger: [
    [4, 1],
    [5, 0.6],
    [7, 0.5],
    [23, 0.7],
  ],
  disgust: [
    [9, 1],
    [15, 0.5],
    [16, 0.4],
  ],
  happy: [
    [6, 0.8],
    [12, 0.9],
  ],
  angry: [
    [4, 1],
    [7, 0.5],
    [23, 0.6],
  ],
  sad: [
    [1, 0.9],
    [4, 0.3],
    [15, 0.8],
  ],
  relaxed: [
    [12, 0.5],
    [6, 0.2],
    [43, 0.1],
  ],
  surprised: [
    [1, 0.8],
    [2, 0.9],
    [5, 0.6],
    [26, 0.6],
  ],
  blink: [[43, 1]],
  blinkLeft: [[43, 1, "left"]],
  blinkRight: [[43, 1, "right"]],
  aa: [
    [26, 1],
    [25, 0.4],
  ],
  ih: [
    [26, 0.3],
    [25, 0.7],
    [20, 0.3],
  ],
  ou: [
    [18, 0.9],
    [22, 0.2],
  ],
  ee: [
    [25, 0.6],
    [20, 0.6],
    [12, 0.2],
  ],
  oh: [
    [26, 0.6],
    [22, 0.5],
    [18, 0.4],
  ],
  viseme_1: [[24, 0.5]],
  viseme_2: [
    [26, 0.2],
    [16, 0.1],
    [10, 0.2],
    [17, 0.5],
  ],
  viseme_3: [
    [26, 0.3],
    [25, 0.6],
  ],
  viseme_4: [
    [26, 0.2],
    [25, 0.6],
  ],
  viseme_5: [
    [26, 0.3],
    [25, 0.6],
  ],
  viseme_6: [
    [22, 0.7],
    [18, 0.2],
    [26, 0.1],
  ],
  viseme_7: [
    [25, 0.7],
    [20, 0.3],
  ],
  viseme_8: [
    [26, 0.3],
    [25, 0.6],
  ],
  viseme_9: [
    [22, 0.5],
    [18, 0.3],
    [26, 0.2],
  ],
  viseme_10: [
    [26, 1],
    [25, 0.4],
  ],
  viseme_11: [
    [26, 0.5],
    [25, 0.6],
    [20, 0.4],
  ],
  viseme_12: [
    [26, 0.3],
    [25, 0.7],
    [20, 0.3],
  ],
  viseme_13: [
    [26, 0.6],
    [22, 0.5],
    [18, 0.4],
  ],
  viseme_14: [
    [18, 0.9],
    [22, 0.2],
  ],
};

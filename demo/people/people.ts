/** A soft push of some flesh: at `centre`, falling off as a Gaussian of the given widths, mirrored to both sides. */
export interface Push {
  readonly what: string;
  readonly centre: readonly [number, number, number];
  readonly width: readonly [number, number, number];
  readonly by: readonly [number, number, number];
}

/**
 * One person as numbers against the base figure, the woman. Tables are [base, person] or [base, factors ...].
 * Body in metres, y from the ground; head in the base head's units (0.99 mm) about the point between ear canals at the
 * height of the pupils.
 */
export interface Person {
  readonly id: string;
  readonly name: string;
  readonly role: string;
  readonly body: {
    /** Base height -> person's height. */
    readonly height: readonly (readonly [number, number])[];
    /** [base height, width, depth behind, depth in front]. */
    readonly torso: readonly (readonly [number, number, number, number])[];
    /** Length along the limb, then its girth. */
    readonly upperArm: readonly [number, number];
    readonly lowerArm: readonly [number, number];
    readonly upperLeg: readonly [number, number];
    readonly lowerLeg: readonly [number, number];
    /** Sideways places of the hips' joints. */
    readonly hipsApart: number;
    readonly hand: readonly [size: number, wide: number];
    readonly foot: readonly [size: number, wide: number];
    readonly pushes: readonly Push[];
  };
  readonly head: {
    /** Where the head's origin sits, metres. */
    readonly at: readonly [number, number, number];
    readonly height: readonly (readonly [number, number])[];
    /** [base height, factor in front, factor behind]. */
    readonly width: readonly (readonly [number, number, number])[];
    readonly depth: readonly (readonly [number, number, number])[];
    readonly pushes: readonly Push[];
    /** Eye centre sideways and forward, and the eyeball's radius, mm. */
    readonly eye: { readonly x: number; readonly z: number; readonly radius: number };
    readonly nose: readonly [number, number, number];
  };
  /** sRGB 0..255; lips: share of the base's lip colour that is kept. */
  readonly colour: {
    readonly lips: number;
    readonly skin: readonly number[];
    readonly hair: readonly number[];
    readonly iris: readonly number[];
    readonly top: readonly number[];
    readonly trousers: readonly number[];
    readonly shoes: readonly number[];
  };
}

/** The base figure's own numbers that the others are measured against; one unit of its head is `unit` metres. */
export const BASE = {
  headAt: [0, 1.571, 0.022],
  unit: 0.00099,
  eye: { x: 31, z: 67.5, radius: 12.6 },
  nose: [0, -38, 88],
  skin: [222, 172, 146],
  hair: [60, 40, 30],
  iris: [92, 110, 84],
} as const;

const flatten: Push = { what: "breast", centre: [0.081, 1.2, 0.1], width: [0.055, 0.06, 0.06], by: [0, 0, -0.03] };

export const TARN: Person = {
  id: "tarn",
  name: "Tarn",
  role: "Deckhand, Slackwater harbour museum",
  body: {
    height: [
      [0, 0],
      [0.1, 0.117],
      [0.28, 0.325],
      [0.48, 0.55],
      [0.62, 0.712],
      [0.775, 0.884],
      [0.93, 1.06],
      [1.06, 1.214],
      [1.205, 1.38],
      [1.341, 1.528],
      [1.375, 1.568],
      [1.42, 1.628],
      [1.49, 1.704],
      [1.53, 1.744],
    ],
    torso: [
      [0.76, 1.13, 1.14, 1.22],
      [0.84, 1.13, 1.14, 1.3],
      [0.92, 1.2, 1.15, 1.5],
      [1, 1.34, 1.18, 1.68],
      [1.07, 1.43, 1.22, 1.76],
      [1.14, 1.38, 1.22, 1.66],
      [1.22, 1.32, 1.2, 1.5],
      [1.3, 1.27, 1.18, 1.42],
      [1.345, 1.25, 1.17, 1.36],
      [1.39, 1.32, 1.15, 1.3],
      [1.44, 1.24, 1.13, 1.25],
      [1.53, 1.16, 1.12, 1.25],
    ],
    upperArm: [1.14, 1.3],
    lowerArm: [1.15, 1.31],
    upperLeg: [1.133, 1.18],
    lowerLeg: [1.139, 1.18],
    hipsApart: 1.2,
    hand: [1.2, 1.06],
    foot: [1.18, 1.02],
    pushes: [flatten, { what: "belly", centre: [0, 1.05, 0.09], width: [0.11, 0.11, 0.09], by: [0, 0, 0.012] }],
  },
  head: {
    at: [0, 1.792, 0.0255],
    height: [
      [-172, -194],
      [-112, -130.5],
      [-108, -126],
      [-85, -99],
      [-67, -78],
      [-40, -47.5],
      [-20, -24],
      [0, 0],
      [20, 20],
      [60, 64],
      [110, 119],
    ],
    width: [
      [-172, 1.33, 1.33],
      [-112, 1.33, 1.25],
      [-98, 1.33, 1.27],
      [-85, 1.33, 1.27],
      [-67, 1.28, 1.23],
      [-45, 1.19, 1.16],
      [-24, 1.12, 1.11],
      [0, 1.1, 1.09],
      [20, 1.09, 1.08],
      [60, 1.07, 1.07],
      [110, 1.08, 1.08],
    ],
    depth: [
      [-172, 1.05, 1.1],
      [-112, 1.06, 1.06],
      [-85, 1.05, 1.05],
      [-67, 1.05, 1.06],
      [-40, 1.05, 1.06],
      [0, 1.05, 1.07],
      [20, 1.05, 1.07],
      [60, 1.025, 1.06],
      [110, 1.02, 1.05],
    ],
    pushes: [
      { what: "brow ridge", centre: [24, 19, 88], width: [24, 9, 22], by: [0, -1, 3.2] },
      { what: "glabella", centre: [0, 16, 92], width: [9, 9, 20], by: [0, 0, 1.5] },
      { what: "jaw angle", centre: [50, -78, 8], width: [16, 22, 26], by: [4, -3, 0] },
      { what: "jowl", centre: [37, -84, 50], width: [14, 15, 22], by: [3.5, -3.5, 2] },
      { what: "full cheek", centre: [44, -48, 64], width: [16, 18, 24], by: [3, 0, 2.5] },
      { what: "chin", centre: [0, -100, 88], width: [20, 12, 18], by: [0, 0, 1.5] },
    ],
    eye: { x: 34, z: 69.4, radius: 12.8 },
    nose: [1.44, 1.18, 1.2],
  },
  colour: {
    lips: 0.3,
    skin: [204, 150, 122],
    hair: [84, 76, 70],
    iris: [96, 74, 48],
    top: [109, 90, 72],
    trousers: [60, 70, 84],
    shoes: [52, 50, 48],
  },
};

export const WICK: Person = {
  id: "wick",
  name: "Wick",
  role: "Ticket child, Slackwater harbour museum",
  body: {
    height: [
      [0, 0],
      [0.1, 0.077],
      [0.28, 0.205],
      [0.48, 0.348],
      [0.62, 0.449],
      [0.775, 0.56],
      [0.93, 0.672],
      [1.06, 0.768],
      [1.205, 0.868],
      [1.341, 0.965],
      [1.375, 0.988],
      [1.42, 1.013],
      [1.49, 1.062],
      [1.53, 1.095],
    ],
    torso: [
      [0.76, 0.66, 0.66, 0.74],
      [0.84, 0.665, 0.66, 0.78],
      [0.92, 0.68, 0.68, 0.83],
      [1, 0.715, 0.72, 0.87],
      [1.07, 0.755, 0.75, 0.88],
      [1.14, 0.735, 0.74, 0.85],
      [1.22, 0.71, 0.71, 0.8],
      [1.3, 0.71, 0.69, 0.84],
      [1.345, 0.74, 0.68, 0.86],
      [1.39, 0.72, 0.66, 0.82],
      [1.44, 0.63, 0.65, 0.76],
      [1.53, 0.62, 0.66, 0.74],
    ],
    upperArm: [0.715, 0.67],
    lowerArm: [0.725, 0.67],
    upperLeg: [0.72, 0.67],
    lowerLeg: [0.713, 0.69],
    hipsApart: 0.7,
    hand: [0.765, 0.97],
    foot: [0.775, 0.97],
    pushes: [
      { ...flatten, by: [0, 0, -0.034] },
      { what: "hips", centre: [0.13, 0.84, 0], width: [0.05, 0.11, 0.09], by: [-0.012, 0, 0] },
    ],
  },
  head: {
    at: [0, 1.128, 0.0155],
    height: [
      [-172, -138],
      [-112, -90],
      [-108, -87],
      [-85, -69],
      [-67, -55],
      [-40, -33.5],
      [-20, -17],
      [0, 0],
      [20, 18.5],
      [60, 62],
      [110, 112.5],
    ],
    width: [
      [-172, 0.8, 0.8],
      [-112, 0.9, 0.86],
      [-98, 0.92, 0.87],
      [-85, 0.965, 0.9],
      [-67, 1.02, 0.93],
      [-45, 1.04, 0.955],
      [-24, 1.005, 0.965],
      [0, 0.955, 0.965],
      [20, 0.955, 0.965],
      [60, 0.965, 0.97],
      [110, 0.97, 0.97],
    ],
    depth: [
      [-172, 0.8, 0.8],
      [-112, 0.88, 0.9],
      [-85, 0.885, 0.93],
      [-67, 0.895, 0.95],
      [-40, 0.91, 0.96],
      [0, 0.935, 0.97],
      [20, 0.945, 0.97],
      [60, 0.97, 0.97],
      [110, 0.96, 0.97],
    ],
    pushes: [
      { what: "cheek", centre: [37, -48, 74], width: [15, 17, 20], by: [2.4, -1, 3.8] },
      { what: "side of the cheek", centre: [50, -58, 45], width: [14, 20, 22], by: [3.2, 0, 0] },
      { what: "nose root", centre: [0, 4, 88], width: [10, 10, 14], by: [0, 0, -1.5] },
      { what: "brow ridge", centre: [24, 19, 88], width: [26, 9, 22], by: [0, 0, -1.4] },
      { what: "forehead", centre: [0, 52, 90], width: [34, 20, 24], by: [0, 0, 2.2] },
      { what: "chin", centre: [0, -100, 88], width: [16, 12, 18], by: [0, 0, -1.5] },
    ],
    eye: { x: 28.2, z: 63.2, radius: 11.5 },
    nose: [0.84, 0.76, 0.66],
  },
  colour: {
    lips: 0.6,
    skin: [232, 184, 158],
    hair: [118, 80, 48],
    iris: [74, 104, 132],
    top: [199, 128, 58],
    trousers: [84, 112, 140],
    shoes: [168, 62, 48],
  },
};

import { add, cross, dot, lerp, normalize, radians, scale, sub, type Vec3 } from "../../../core/math/vec3";
import { smoothMin } from "../../modelling/blend";
import {
  addScaled,
  alongSurface,
  ellipsoid,
  rotateAbout,
  roundCone,
  type Axes,
  type Field,
  type Mass,
} from "../../modelling/fields";
import { joining } from "../../modelling/joining";
import { ARM, armForm, armForward, ARM_UP, FOREARM_BEND, FOREARM_LENGTH, onArm, UPPER_ARM_LENGTH } from "./armForm";

/** Left hand, palm down: HAND along the middle finger, HAND_UP out of its back, RADIAL toward the thumb. Metres. */
export const WRIST: Vec3 = onArm(UPPER_ARM_LENGTH + FOREARM_LENGTH, 0, armForward(UPPER_ARM_LENGTH + FOREARM_LENGTH));
export const HAND: Vec3 = normalize(add(scale(ARM, Math.cos(FOREARM_BEND)), [0, 0, Math.sin(FOREARM_BEND)]));
export const HAND_UP: Vec3 = ARM_UP;
const square = normalize(cross(HAND_UP, HAND));
export const RADIAL: Vec3 = square[2] > 0 ? square : scale(square, -1);
/** A place of the hand: along it from the wrist, toward the thumb, up. */
export const onHand = (along: number, radial: number, up: number): Vec3 =>
  add(add(add(WRIST, scale(HAND, along)), scale(RADIAL, radial)), scale(HAND_UP, up));
/** The same three numbers of a point. */
export const inHand = (p: Vec3): Vec3 => {
  const q = sub(p, WRIST);
  return [dot(q, HAND), dot(q, RADIAL), dot(q, HAND_UP)];
};

export interface Digit {
  /** Three joints and the tip. */
  readonly points: readonly [Vec3, Vec3, Vec3, Vec3];
  /** Direction and length of each of the three bones. */
  readonly directions: readonly [Vec3, Vec3, Vec3];
  readonly lengths: readonly [number, number, number];
  /** Radius at the three joints and the tip. */
  readonly radii: readonly [number, number, number, number];
  /** Unit vector out of the nail's side, at each bone. */
  readonly ups: readonly [Vec3, Vec3, Vec3];
  /** Direction toward the thumb's side (fingers) or the index (thumb). */
  readonly side: Vec3;
  readonly form: Field;
}

/**
 * Knuckle (along, radial, up), splay in degrees, bone lengths, radii, curl of each joint in degrees; index to little
 * finger.
 */
const FINGER_TABLE = [
  {
    knuckle: [0.088, 0.0265, 0.001],
    splay: 5,
    lengths: [0.042, 0.025, 0.02],
    radii: [0.0102, 0.0086, 0.0077, 0.0068],
    curl: [12, 14, 10],
  },
  {
    knuckle: [0.09, 0.0065, 0.003],
    splay: 0.5,
    lengths: [0.045, 0.029, 0.021],
    radii: [0.0104, 0.0088, 0.0079, 0.007],
    curl: [14, 16, 11],
  },
  {
    knuckle: [0.085, -0.0125, 0.001],
    splay: -4,
    lengths: [0.041, 0.027, 0.021],
    radii: [0.0099, 0.0084, 0.0075, 0.0067],
    curl: [17, 18, 12],
  },
  {
    knuckle: [0.077, -0.0295, -0.003],
    splay: -10,
    lengths: [0.032, 0.02, 0.018],
    radii: [0.009, 0.0075, 0.0067, 0.006],
    curl: [20, 19, 13],
  },
] as const;

const bones = (points: readonly Vec3[], directions: readonly Vec3[], radii: readonly number[]): Field[] => [
  roundCone(points[0]!, points[1]!, radii[0]!, radii[1]!),
  roundCone(points[1]!, points[2]!, radii[1]!, radii[2]!),
  roundCone(points[2]!, addScaled(points[3]!, directions[2]!, -radii[3]!), radii[2]!, radii[3]!),
];

/** Masses that are a form by themselves. */
function formOf(masses: readonly Mass[]): Field {
  const joined = joining(masses);
  return (x, y, z) => joined(1, x, y, z);
}

function makeFinger({ knuckle, splay, lengths, radii, curl }: (typeof FINGER_TABLE)[number]): Digit {
  const straight = normalize(add(scale(HAND, Math.cos(radians(splay))), scale(RADIAL, Math.sin(radians(splay)))));
  // a positive turn about the hinge bends the finger toward the palm
  const across = normalize(cross(HAND_UP, straight));
  const hinge = dot(rotateAbout(straight, across, 0.3), HAND_UP) < 0 ? across : scale(across, -1);
  const [along, radial, up] = knuckle;
  const points: Vec3[] = [onHand(along, radial, up)];
  const directions: Vec3[] = [];
  let bent = 0;
  for (let i = 0; i < 3; i++) {
    bent += radians(curl[i]!);
    directions.push(rotateAbout(straight, hinge, bent));
    points.push(addScaled(points[i]!, directions[i]!, lengths[i]!));
  }
  const ups = directions.map((d) => {
    const up = normalize(cross(d, hinge));
    return dot(up, HAND_UP) > 0 ? up : scale(up, -1);
  });
  const [p, d, r, u] = [points, directions, radii, ups];
  const masses: Mass[] = [
    ...bones(p, d, r).map((bone): Mass => [bone, 0.0015]),
    /* knuckles */ [
      ellipsoid(addScaled(p[1]!, u[1]!, r[1] * 0.25), [r[1] * 1.2, r[1] * 0.9, r[1] * 0.84], [d[0]!, hinge, u[0]!]),
      0.003,
    ],
    [
      ellipsoid(addScaled(p[2]!, u[2]!, r[2] * 0.2), [r[2] * 1.1, r[2] * 0.9, r[2] * 0.84], [d[1]!, hinge, u[1]!]),
      0.003,
    ],
    /* pad of the first bone */ [
      roundCone(
        addScaled(addScaled(p[0]!, d[0]!, lengths[0] * 0.45), u[0]!, -r[0] * 0.25),
        addScaled(addScaled(p[0]!, d[0]!, lengths[0] * 0.7), u[0]!, -r[0] * 0.2),
        r[0] * 0.86,
        r[1] * 0.9,
      ),
      0.005,
    ],
  ];
  const side = normalize(scale(hinge, dot(hinge, RADIAL) > 0 ? 1 : -1));
  return {
    points: points as never,
    directions: directions as never,
    lengths,
    radii,
    ups: ups as never,
    side,
    form: formOf(masses),
  };
}

export const FINGERS: readonly Digit[] = FINGER_TABLE.map(makeFinger);

function makeThumb(): Digit {
  const points = [
    onHand(0.014, 0.014, -0.01),
    onHand(0.0475, 0.0415, -0.02),
    onHand(0.0735, 0.0605, -0.0235),
    onHand(0.0955, 0.0745, -0.024),
  ] as const;
  const radii = [0.0128, 0.0095, 0.0087, 0.0073] as const;
  const steps = [0, 1, 2].map((i) => sub(points[i + 1]!, points[i]!));
  const directions = steps.map((s) => normalize(s));
  const nail = normalize(add(scale(RADIAL, 0.55), scale(HAND_UP, 0.75)));
  const ups = directions.map((d) => normalize(alongSurface(nail, d)));
  const tipPad = ellipsoid(
    addScaled(addScaled(points[2], directions[2]!, 0.01), ups[2]!, -0.001),
    [0.0145, 0.0096, 0.0078],
    [directions[2]!, normalize(cross(directions[2]!, ups[2]!)), ups[2]!],
  );
  const masses: Mass[] = [...bones(points, directions, radii).map((bone): Mass => [bone, 0.005]), [tipPad, 0.006]];
  const lengths = steps.map((s) => Math.hypot(...s)) as unknown as Digit["lengths"];
  return {
    points,
    directions: directions as never,
    lengths,
    radii,
    ups: ups as never,
    side: HAND,
    form: formOf(masses),
  };
}
export const THUMB: Digit = makeThumb();

// ---- palm
const HAND_AXES: Axes = [HAND, RADIAL, HAND_UP];
const PALM_ROOTS = [0.0135, 0.0045, -0.0045, -0.0125];
const PALM_RADII = [0.0118, 0.0125, 0.0125, 0.0118];
const PALM_MASSES: readonly Mass[] = [
  ...FINGERS.map((f, i): Mass => [
    roundCone(onHand(-0.008, PALM_ROOTS[i]!, 0), f.points[0], PALM_RADII[i]!, f.radii[0] * 0.97),
    0.012,
  ]),
  /* ball of the thumb */ [
    ellipsoid(
      onHand(0.038, 0.0185, -0.0125),
      [0.034, 0.0165, 0.0145],
      [normalize(add(HAND, scale(RADIAL, 0.55))), normalize(add(RADIAL, scale(HAND, -0.55))), HAND_UP],
    ),
    0.014,
  ],
  /* ball of the little finger */ [
    ellipsoid(onHand(0.042, -0.0215, -0.0095), [0.036, 0.0135, 0.0135], HAND_AXES),
    0.014,
  ],
  /* pad below the fingers */ [ellipsoid(onHand(0.083, -0.001, -0.0075), [0.014, 0.033, 0.0105], HAND_AXES), 0.012],
  ...FINGERS.map((f): Mass => [
    ellipsoid(addScaled(f.points[0], HAND_UP, f.radii[0] * 0.45), [0.0095, 0.0075, 0.0075], HAND_AXES),
    0.006,
  ]),
  /* web of the thumb */ [roundCone(onHand(0.036, 0.026, -0.011), onHand(0.05, 0.035, -0.013), 0.011, 0.009), 0.012],
];

const palmAlone = formOf(PALM_MASSES);
export const palmForm: Field = (x, y, z) => smoothMin(palmAlone(x, y, z), armForm(x, y, z), 0.022);
const FINGER_MASSES: readonly Mass[] = FINGERS.map((f): Mass => [f.form, 0.006]);
const withFingers = joining(FINGER_MASSES);
const thumbMetacarpal = roundCone(
  THUMB.points[0],
  lerp(THUMB.points[0], THUMB.points[1], 0.9),
  THUMB.radii[0],
  THUMB.radii[1] * 1.02,
);

/** Palm with the root of the thumb. */
const palmAndThumbRoot: Field = (x, y, z) => smoothMin(palmForm(x, y, z), thumbMetacarpal(x, y, z), 0.016);
/** Hand without the free part of the thumb. */
export const thumblessForm: Field = (x, y, z) => withFingers(palmAndThumbRoot(x, y, z), x, y, z);
export const handForm: Field = (x, y, z) =>
  smoothMin(withFingers(palmForm(x, y, z), x, y, z), THUMB.form(x, y, z), 0.012);
/** Hand with a wide web at the thumb. */
export const webbedHandForm: Field = (x, y, z) => smoothMin(thumblessForm(x, y, z), THUMB.form(x, y, z), 0.015);
/** One finger with the palm, without its neighbours, or they would web. */
export const fingerForms: readonly Field[] = FINGERS.map(
  (f): Field =>
    (x, y, z) =>
      smoothMin(palmForm(x, y, z), f.form(x, y, z), 0.006),
);
export const thumbForm: Field = (x, y, z) => smoothMin(palmAndThumbRoot(x, y, z), THUMB.form(x, y, z), 0.015);

import type { Vec3 } from "../../core/math/vec3";
import { mix, smoothstep } from "../modelling/blend";

/**
 * Angles in degrees of named motions (`bone/motion`, as in core/skeleton/jointMotions) at one moment, and where the
 * hips have gone, in leg lengths.
 */
export interface ScoreMoment {
  readonly angles: Readonly<Record<string, number>>;
  readonly hips?: Vec3;
}
/** A clip as a function of time, so that it fits every member of the cast. */
export interface ClipScore {
  readonly name: string;
  readonly seconds: number;
  readonly fps: number;
  readonly at: (seconds: number) => ScoreMoment;
}

const { sin, cos, PI } = Math;
const wave = (t: number, period: number, phase = 0): number => sin((2 * PI * t) / period + phase);
/** From 0 to 1 and back: in over `rise`, held, out before the end. */
const held = (t: number, start: number, end: number, rise = 0.5): number =>
  smoothstep(start, start + rise, t) * (1 - smoothstep(end - rise, end, t));
const both = (bone: string, angle: (side: 1 | -1) => number): Record<string, number> => ({
  [`left${bone}`]: angle(1),
  [`right${bone}`]: angle(-1),
});
const breathing = (t: number): Record<string, number> => ({
  "chest/forward": -0.5 * wave(t, 4),
  "breath/lift": 1.6 + 1.6 * wave(t, 4),
  ...both("Shoulder/raise", () => 0.7 * wave(t, 4, -0.4)),
});
const HANGING = both("UpperArm/raise", () => -38);

const idle: ClipScore = {
  name: "idle sway",
  seconds: 8,
  fps: 30,
  at: (t) => ({
    angles: {
      ...breathing(t),
      ...HANGING,
      "spine/tilt": 1.2 * wave(t, 8),
      "head/turn": 4 * wave(t, 8, 1),
      "head/nod": 1.5 * wave(t, 4, 2),
      ...both("LowerArm/bend", (s) => 6 + 2 * wave(t, 4, s)),
    },
    hips: [0.012 * wave(t, 8), -0.003 - 0.003 * cos((4 * PI * t) / 8), 0],
  }),
};

/** One cycle is two steps of 0.55 s; the hips fall and rise twice and shift over the standing foot. */
const WALK_CYCLE = 1.1;
const walk: ClipScore = {
  name: "walk",
  seconds: WALK_CYCLE,
  fps: 30,
  at: (t) => {
    const swing = (s: 1 | -1): number => wave(t, WALK_CYCLE, s > 0 ? 0 : PI);
    const lift = (s: 1 | -1): number => Math.max(0, wave(t, WALK_CYCLE, (s > 0 ? 0 : PI) + 1.2));
    return {
      angles: {
        ...both("UpperLeg/forward", (s) => 4 + 24 * swing(s)),
        ...both("LowerLeg/bend", (s) => 6 + 50 * lift(s) ** 1.5),
        ...both("Foot/point", (s) => 6 - 12 * swing(s)),
        ...HANGING,
        ...both("UpperArm/forward", (s) => -18 * swing(s)),
        ...both("LowerArm/bend", (s) => 14 - 8 * swing(s)),
        "spine/turn": -4 * swing(1),
        "chest/turn": -3 * swing(1),
        "head/turn": 6 * swing(1),
        "spine/forward": 2,
      },
      hips: [0.025 * wave(t, WALK_CYCLE, -0.6), -0.025 + 0.018 * cos((4 * PI * t) / WALK_CYCLE), 0],
    };
  },
};

const reach: ClipScore = {
  name: "reach overhead",
  seconds: 4,
  fps: 30,
  at: (t) => {
    const up = held(t, 0.3, 3.7, 1.1);
    return {
      angles: {
        ...HANGING,
        "rightUpperArm/raise": mix(-38, 118, up),
        "rightShoulder/raise": 24 * up,
        "rightLowerArm/bend": mix(6, 12, up),
        "spine/tilt": 6 * up,
        "head/nod": -20 * up,
        "leftLowerArm/bend": 8,
      },
    };
  },
};

const greet: ClipScore = {
  name: "wave",
  seconds: 3.5,
  fps: 30,
  at: (t) => {
    const up = held(t, 0.2, 3.3, 0.7);
    return {
      angles: {
        ...HANGING,
        "rightUpperArm/raise": mix(-38, 30, up),
        "rightUpperArm/twist": -40 * up,
        "rightLowerArm/bend": mix(6, 95, up) + 14 * up * wave(t, 0.6),
        "rightHand/swing": -10 * up * wave(t, 0.6, 1),
        "head/tilt": -5 * up,
        "leftLowerArm/bend": 8,
      },
    };
  },
};

const point: ClipScore = {
  name: "point at the tide board",
  seconds: 4,
  fps: 30,
  at: (t) => {
    const out = held(t, 0.3, 3.6, 0.8);
    const curl = (bone: string): Record<string, number> =>
      Object.fromEntries(["Proximal", "Intermediate", "Distal"].map((b) => [`left${bone}${b}/bend`, 62 * out]));
    return {
      angles: {
        ...HANGING,
        "leftUpperArm/raise": mix(-38, -6, out),
        "leftUpperArm/forward": 48 * out,
        "leftLowerArm/bend": mix(8, 4, out),
        ...curl("Middle"),
        ...curl("Ring"),
        ...curl("Little"),
        "head/turn": 28 * out,
        "neck/turn": 14 * out,
        "spine/turn": 8 * out,
        "rightLowerArm/bend": 8,
      },
    };
  },
};

const lookRound: ClipScore = {
  name: "look round",
  seconds: 6,
  fps: 30,
  at: (t) => {
    const side = held(t, 0.4, 3, 0.8) - held(t, 3, 5.6, 0.8);
    return {
      angles: {
        ...breathing(t),
        ...HANGING,
        "head/turn": 34 * side,
        "neck/turn": 18 * side,
        "spine/turn": 6 * side,
        "leftEye/out": 18 * side,
        "rightEye/out": -18 * side,
        "head/nod": 4 * wave(t, 6),
      },
    };
  },
};

export const CLIP_SCORES: readonly ClipScore[] = [idle, walk, reach, greet, point, lookRound];

import type { Severity } from "../../core/checks/finding";

/** One fault of a delivery: the check that must find it, and where. */
export interface PlantedFault {
  readonly check: string;
  readonly severity: Severity;
  readonly part?: string;
  readonly joint?: string;
  readonly shape?: string;
  readonly clip?: string;
  /** How many places the check counts, where it counts. */
  readonly count?: number;
  readonly what: string;
}

/** What every joint of the first delivery is called before its own name. */
export const FOREIGN_PREFIX = "ferry07:";
/** The same in the second delivery. */
export const SECOND_PREFIX = "dock:";

/** Everything that is wrong with Oda's first delivery, with its exact place; the test holds the checks to this list. */
export const ODA_DELIVERY_1: readonly PlantedFault[] = [
  {
    check: "mesh.non-manifold",
    severity: "error",
    part: "top",
    count: 1,
    what: "a fin of cloth stands on an edge that two faces share already",
  },
  { check: "mesh.degenerate", severity: "error", part: "trousers", count: 1, what: "a face uses one corner twice" },
  { check: "mesh.loose", severity: "warn", part: "body", count: 8, what: "vertices left over from modelling" },
  { check: "parts.material-opacity", severity: "warn", part: "lashes left", what: "the lash material came out opaque" },
  {
    check: "parts.material-opacity",
    severity: "warn",
    part: "lashes right",
    what: "the lash material came out opaque",
  },
  {
    check: "skeleton.straight-hinge",
    severity: "error",
    joint: `${FOREIGN_PREFIX}rightLowerArm`,
    what: "the right elbow is dead straight",
  },
  {
    check: "skeleton.end-joints",
    severity: "note",
    joint: `${FOREIGN_PREFIX}hairTip`,
    what: "a joint that nothing hangs on",
  },
  {
    check: "weights.stray",
    severity: "error",
    part: "hair",
    joint: `${FOREIGN_PREFIX}leftUpperArm`,
    what: "a tuft of hair hangs on the upper arm",
  },
  { check: "parts.unplaced", severity: "warn", part: "ground plane", what: "a helper plane that was left in" },
  {
    check: "skeleton.names",
    severity: "error",
    joint: `${FOREIGN_PREFIX}leftToes`,
    what: "the words for the sides are swapped at the toes",
  },
  {
    check: "skeleton.names",
    severity: "error",
    joint: `${FOREIGN_PREFIX}rightToes`,
    what: "the words for the sides are swapped at the toes",
  },
  {
    check: "skeleton.parenting",
    severity: "error",
    joint: `${FOREIGN_PREFIX}hairTip`,
    what: "the hair's joint hangs on the hips",
  },
  {
    check: "skeleton.hinge-axis",
    severity: "warn",
    joint: `${FOREIGN_PREFIX}leftLowerLeg`,
    what: "the knee's hinge is turned by 12 degrees",
  },
  {
    check: "skeleton.symmetry",
    severity: "warn",
    joint: `${FOREIGN_PREFIX}leftHand`,
    what: "follows from the straight right elbow: the right hand lies elsewhere",
  },
  {
    check: "shapes.noise",
    severity: "warn",
    part: "body",
    shape: "AU4_right",
    what: "noise in the right brow lowerer",
  },
  {
    check: "shapes.symmetry",
    severity: "warn",
    part: "body",
    shape: "AU10_left",
    what: "the right upper lip raiser was made weaker",
  },
  {
    check: "shapes.side-leak",
    severity: "warn",
    part: "body",
    shape: "AU12_left",
    what: "a fifth of the right smile leaks into the left one",
  },
  {
    check: "face.eye-through-lid",
    severity: "error",
    part: "body",
    shape: "AU43_left",
    what: "the shut left lid lies inside the eyeball",
  },
  {
    check: "shapes.symmetry",
    severity: "warn",
    part: "body",
    shape: "AU43_left",
    what: "follows from the lid in the eyeball: the right one lies outside",
  },
  {
    check: "face.tongue-through",
    severity: "error",
    part: "tongue",
    shape: "viseme_13",
    what: "the tongue comes out of the chin at oh",
  },
  {
    check: "clip.scale-keys",
    severity: "warn",
    clip: "look round",
    joint: `${FOREIGN_PREFIX}head`,
    what: "keys scale the head",
  },
  { check: "clip.loop", severity: "warn", clip: "walk", what: "the last frame of the walk stands twice" },
  {
    check: "shapes.flip",
    severity: "warn",
    part: "top",
    shape: "proportion_broad",
    count: 1,
    what: "follows from the fin: it stays where it is when the cloth grows broad",
  },
  { check: "shapes.empty", severity: "warn", shape: "AU13_draft", what: "a shape that was never sculpted" },
  {
    check: "shapes.followers",
    severity: "error",
    part: "lashes left",
    shape: "AU43_left",
    what: "the lashes lack the blink",
  },
];

/**
 * What shows only when two of the first delivery's shapes meet: the lower lip goes into the upper by more than a
 * millimetre.
 */
export const ODA_DELIVERY_1_PAIR = {
  check: "face.lip-cross",
  shapes: ["AU12_left", "AU18"],
  limitMm: 1,
  what: "the smile and the pucker cross the lips",
} as const;

/** The second delivery has the same faults, and its new trousers lack the proportion shapes. */
export const ODA_DELIVERY_2: readonly PlantedFault[] = [
  ...ODA_DELIVERY_1.map((f): PlantedFault => ({
    ...f,
    ...(f.joint ? { joint: f.joint.replace(FOREIGN_PREFIX, SECOND_PREFIX) } : {}),
  })),
  ...["broad", "slight", "child"].map((build): PlantedFault => ({
    check: "shapes.followers",
    severity: "error",
    part: "trousers",
    shape: `proportion_${build}`,
    what: "the new trousers do not follow the build",
  })),
];

/** Tarn's arms as they arrive: every joint from the upper arm on rests elsewhere than it was bound. */
const ARM = [
  "UpperArm",
  "UpperArmTwist",
  "LowerArm",
  "LowerArmTwist",
  "Hand",
  ...["Index", "Middle", "Ring", "Little"].flatMap((f) =>
    ["Proximal", "Intermediate", "Distal"].map((b) => `${f}${b}`),
  ),
  ...["Metacarpal", "Proximal", "Distal"].map((b) => `Thumb${b}`),
];
export const TARN_DELIVERY: readonly PlantedFault[] = [
  ...(["left", "right"] as const).flatMap((side) =>
    ARM.map((bone): PlantedFault => ({
      check: "skeleton.rest-bind",
      severity: "error",
      joint: `${side}${bone}`,
      what: "the skeleton stands at T, the mesh at A",
    })),
  ),
  { check: "weights.count", severity: "error", part: "body", what: "up to eight joints hold a vertex" },
];

import type { Severity } from "../../core/checks/finding";

/** One fault of a delivery: the check that must find it, and where. */
export interface PlantedFault {
  readonly check: string;
  readonly severity: Severity;
  readonly part?: string;
  readonly joint?: string;
  readonly shape?: string;
  /** How many places the check counts, where it counts. */
  readonly count?: number;
  readonly what: string;
}

/** What every joint of the first delivery is called before its own name. */
export const FOREIGN_PREFIX = "ferry07:";

/** Everything that is wrong with Oda's first delivery, with its exact place; the test holds the checks to this list. */
export const ODA_DELIVERY_1: readonly PlantedFault[] = [
  { check: "mesh.non-manifold", severity: "error", part: "top", count: 1, what: "a fin of cloth stands on an edge that two faces share already" },
  { check: "mesh.degenerate", severity: "error", part: "trousers", count: 1, what: "a face uses one corner twice" },
  { check: "mesh.loose", severity: "warn", part: "body", count: 8, what: "vertices left over from modelling" },
  { check: "parts.material-opacity", severity: "warn", part: "lashes left", what: "the lash material came out opaque" },
  { check: "parts.material-opacity", severity: "warn", part: "lashes right", what: "the lash material came out opaque" },
  { check: "skeleton.straight-hinge", severity: "error", joint: `${FOREIGN_PREFIX}rightLowerArm`, what: "the right elbow is dead straight" },
  { check: "skeleton.end-joints", severity: "note", joint: `${FOREIGN_PREFIX}hairTip`, what: "a joint that nothing hangs on" },
  { check: "weights.sum", severity: "error", part: "tongue", what: "five vertices lost a part of their weight" },
  { check: "weights.stray", severity: "error", part: "hair", joint: `${FOREIGN_PREFIX}leftUpperArm`, what: "a tuft of hair hangs on the upper arm" },
  { check: "shapes.empty", severity: "warn", shape: "AU13_draft", what: "a shape that was never sculpted" },
  { check: "shapes.followers", severity: "error", part: "lashes left", shape: "AU43_left", what: "the lashes lack the blink" },
];

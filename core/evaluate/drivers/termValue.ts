import { IDENTITY_QUAT, rotate, twistDegrees } from "../../math/quat";
import { clamp, degrees, dot, type Quat } from "../../math/vec3";
import type { DirectionTerm, DriverTerm, PoseDriver } from "../../model/poseDriver";
import { turnOf, type Turns } from "../turns";
import { monotoneSlopes, weightOnPoints } from "./anglePoints";

/** What a term reads: turns of joints away from rest, and weights as far as they are known. */
export interface TermView {
  readonly turn: (joint: string) => Quat;
  readonly weight: (shape: string) => number;
}

/** Angle between where a bone points in a pose and where a direction term wants it, degrees 0..180. */
export function degreesOff({ along, towards }: Pick<DirectionTerm, "along" | "towards">, turn: Quat): number {
  const now = rotate(turn, along);
  const c = dot(now, towards);
  const s = Math.hypot(
    now[1] * towards[2] - now[2] * towards[1],
    now[2] * towards[0] - now[0] * towards[2],
    now[0] * towards[1] - now[1] * towards[0],
  );
  return degrees(Math.atan2(s, c));
}

const smooth = (t: number): number => t * t * (3 - 2 * t);

/** 1 within a cone about the direction, falling smoothly to 0 at a wider one; and the same for the twist's limits. */
function directionValue(term: DirectionTerm, turn: Quat): number {
  const off = degreesOff(term, turn);
  const span = term.noneDegrees - term.fullDegrees;
  const near = span > 1e-9 ? smooth(clamp((term.noneDegrees - off) / span, 0, 1)) : Number(off <= term.fullDegrees);
  if (!term.twist || near === 0) return near;
  const { fromDegrees, toDegrees, fadeDegrees } = term.twist;
  const twist = twistDegrees(turn, term.along);
  const beyond = Math.max(fromDegrees - twist, twist - toDegrees, 0);
  if (beyond === 0) return near;
  return fadeDegrees > 1e-9 ? near * smooth(clamp(1 - beyond / fadeDegrees, 0, 1)) : 0;
}

/** A term made ready: what it counts in a view, 0 and up. */
export function readyTerm(term: DriverTerm): (view: TermView) => number {
  switch (term.kind) {
    case "angle": {
      const slopes = term.between === "smooth" ? monotoneSlopes(term.points) : null;
      return ({ turn }) => weightOnPoints(term.points, slopes, twistDegrees(turn(term.joint), term.axis));
    }
    case "direction":
      return ({ turn }) => directionValue(term, turn(term.joint));
    case "weight":
      return ({ weight }) => term.atNone + (1 - term.atNone) * clamp(weight(term.shape), 0, 1);
  }
}

/** A view of joints and shapes by their names; what is gone stands at rest, or is at none. */
export const termViewOf = (
  joints: ReadonlyMap<string, number>,
  shapes: ReadonlyMap<string, number>,
  turns: Turns,
  weights: Float32Array,
): TermView => ({
  turn: (joint) => {
    const j = joints.get(joint);
    return j === undefined ? IDENTITY_QUAT : turnOf(turns, j);
  },
  weight: (shape) => weights[shapes.get(shape) ?? -1] ?? 0,
});

/** Values of several terms as one. */
export const together = ({ rule }: Pick<PoseDriver, "rule">, values: readonly number[]): number =>
  rule === "least" ? Math.min(...values) : values.reduce((all, x) => all * x, 1);

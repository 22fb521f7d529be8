import { IDENTITY_QUAT } from "../../math/quat";
import type { PoseDriver } from "../../model/poseDriver";
import type { TermView } from "../../model/terms/termKind";
import { turnOf, type Turns } from "../turns";

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

import { z } from "zod";
import { withShapes } from "../../core/deform/rig";
import { withTrialShape } from "../../core/correctives/correctiveFromSculpt";
import { measureJoint, withRig, type JointFields, type JointReading } from "../../core/measure/measureJoint";
import { floats, moment } from "../inputs";
import { job } from "../job";

const SKETCH = "\u0000sketch";

export interface JointMeasure {
  readonly reading: JointReading;
  readonly fields: JointFields;
  /** Share of each vertex held by the joint and all under it, for masks and the weights reading. */
  readonly share: Float32Array;
}

/** A joint in one moment, with what is being sculpted on it; null for one that bends no skin. */
export const measureJointNow = job({
  input: z.object({
    joint: z.string(),
    moment,
    sketch: z.object({ part: z.number().int().min(0), deltas: floats, weight: z.number() }).nullable(),
  }),
  run({ character, rig, gauge }, { joint, moment: at, sketch }): JointMeasure | null {
    const own = gauge(joint);
    if (!own) return null;
    if (!sketch) return { ...measureJoint(own, at), share: own.region.share };
    const vertices = Uint32Array.from({ length: sketch.deltas.length / 3 }, (_, v) => v);
    const shown = withTrialShape(character, [{ part: sketch.part, vertices, deltas: sketch.deltas }], SKETCH);
    const measured = measureJoint(withRig(own, withShapes(rig, shown)), {
      ...at,
      weights: { ...at.weights, [SKETCH]: sketch.weight },
    });
    return { ...measured, share: own.region.share };
  },
});

import type { Quat } from "../../math/vec3";
import { jointIndexOf } from "../../model/jointIndex";
import { turnOf } from "../turns";
import type { DriverKind } from "./driverKind";
import { readySamples } from "./sampleWeights";

/** By how near a pose of one to three joints is to sampled ones. A joint that is gone stands at rest. */
export const samplesDriver: DriverKind = {
  name: "sampled poses",
  ready: ({ sampleSets = [], skeleton }, shapeIndex) =>
    sampleSets.flatMap((set) => {
      const ready = set.enabled ? readySamples(set) : null;
      if (!ready) return [];
      const index = skeleton ? jointIndexOf(skeleton) : new Map<string, number>();
      const joints = set.joints.map(({ joint }) => index.get(joint) ?? -1);
      const shapes = set.samples.map(({ shape }) => (shape === null ? -1 : (shapeIndex.get(shape) ?? -1)));
      const room = new Float64Array(shapes.length + 1);
      return {
        group: set.group,
        act: ({ turns, weights }) => {
          const w = ready.weightsAt(
            joints.map((j): Quat => (j < 0 ? [0, 0, 0, 1] : turnOf(turns, j))),
            room,
          );
          shapes.forEach((shape, i) => {
            if (shape >= 0) weights[shape]! += w[i + 1]!;
          });
        },
      };
    }),
};

import { jointIndexOf } from "../../model/jointIndex";
import { kindOf } from "../../model/terms/driverTerms";
import type { DriverKind } from "./driverKind";
import { termViewOf, together } from "./termValue";

/** By one to four readings of a pose together. A joint that is gone stands at rest, a shape that is gone is at none. */
export const poseDriver: DriverKind = {
  name: "readings of a pose",
  ready: ({ poseDrivers = [], skeleton }, shapeIndex) =>
    poseDrivers.flatMap((driver) => {
      const shape = shapeIndex.get(driver.shape);
      if (shape === undefined || !driver.enabled) return [];
      const index = skeleton ? jointIndexOf(skeleton) : new Map<string, number>();
      const terms = driver.terms.map((t) => kindOf(t).ready(t));
      return {
        group: driver.group,
        act: ({ turns, weights }) => {
          const view = termViewOf(index, shapeIndex, turns, weights);
          weights[shape]! +=
            driver.intensity *
            together(
              driver,
              terms.map((value) => value(view)),
            );
        },
      };
    }),
};

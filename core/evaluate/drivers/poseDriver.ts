import { jointIndexOf } from "../../model/jointIndex";
import { turnOf } from "../turns";
import type { DriverKind } from "./driverKind";
import { readyTerm, together, type TermView } from "./termValue";

/** By one to four readings of a pose together. A joint that is gone stands at rest, a shape that is gone is at none. */
export const poseDriver: DriverKind = {
  name: "readings of a pose",
  ready: ({ poseDrivers = [], skeleton }, shapeIndex) =>
    poseDrivers.flatMap((driver) => {
      const shape = shapeIndex.get(driver.shape);
      if (shape === undefined || !driver.enabled) return [];
      const index = skeleton ? jointIndexOf(skeleton) : new Map<string, number>();
      const terms = driver.terms.map(readyTerm);
      return {
        group: driver.group,
        act: ({ turns, weights }) => {
          const view: TermView = {
            turn: (joint) => {
              const j = index.get(joint);
              return j === undefined ? [0, 0, 0, 1] : turnOf(turns, j);
            },
            weight: (name) => weights[shapeIndex.get(name) ?? -1] ?? 0,
          };
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

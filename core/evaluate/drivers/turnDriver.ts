import { twistDegrees } from "../../math/quat";
import { jointIndexOf } from "../../model/jointIndex";
import { turnOf } from "../turns";
import { driverWeightAt } from "./driverWeight";
import type { DriverKind } from "./driverKind";

/** By the turn of one joint about one axis, between two angles. A joint that is gone stands at rest. */
export const turnDriver: DriverKind = {
  name: "turn of a joint",
  ready: ({ drivers, skeleton }, shapeIndex) =>
    drivers.flatMap((driver) => {
      const shape = shapeIndex.get(driver.shape);
      if (shape === undefined) return [];
      const joint = skeleton ? jointIndexOf(skeleton).get(driver.joint) : undefined;
      return {
        group: driver.group ?? "corrective",
        act: ({ turns, weights }) => {
          const angle = joint === undefined ? 0 : twistDegrees(turnOf(turns, joint), driver.axis);
          weights[shape]! += driverWeightAt(driver, angle);
        },
      };
    }),
};

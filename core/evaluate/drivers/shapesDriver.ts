import { shapeDriverWeight } from "./driverWeight";
import type { DriverKind } from "./driverKind";

/** By the weights of other shapes: combinations and in-betweens. A shape that is gone counts as not moved. */
export const shapesDriver: DriverKind = {
  name: "weights of other shapes",
  ready: ({ shapeDrivers }, shapeIndex) =>
    shapeDrivers.flatMap((driver) => {
      const shape = shapeIndex.get(driver.shape);
      if (shape === undefined) return [];
      const of = driver.of.map((name) => shapeIndex.get(name) ?? -1);
      return {
        group: "expression",
        act: ({ weights }) => {
          const sources = of.map((i) => weights[i] ?? 0);
          weights[shape]! += shapeDriverWeight(driver, sources);
        },
      };
    }),
};

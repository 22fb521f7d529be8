import { driverWeightAt } from "../evaluate/drivers/driverWeight";
import type { Driver } from "./character";
import { countedFrom, drivenByTurn, rangeAlong, rangeWords, wholeDegrees } from "./drivenByTurn";

describe("a driver by the turn of a joint", () => {
  const elbow: Driver = { shape: "bulge", ...drivenByTurn({ joint: "elbow", axis: [1, 0, 0] }, 30, 110) };

  test("rises from one angle to full at the other", () => {
    expect([30, 70, 110].map((angle) => driverWeightAt(elbow, angle))).toEqual([0, 0.5, 1]);
    expect(rangeWords(elbow)).toBe("elbow from 30° to 110°");
  });

  test("gives the same at the same pose when its joint counts from another rest", () => {
    const later = countedFrom(elbow, 12.5);
    for (const angle of [20, 42, 71.5, 100])
      expect(driverWeightAt(later, angle - 12.5)).toBeCloseTo(driverWeightAt(elbow, angle), 9);
    expect(wholeDegrees(later)).toMatchObject({ shape: "bulge", fromDegrees: 18, toDegrees: 98 });
  });

  test("has its range counted along an axis either way round, and none about another", () => {
    expect(rangeAlong(elbow, "elbow", [1, 0, 0], 0.9)).toEqual({ from: 30, to: 110 });
    expect(rangeAlong(elbow, "elbow", [-1, 0, 0], 0.9)).toEqual({ from: -30, to: -110 });
    expect(rangeAlong(elbow, "elbow", [0.8, 0.6, 0], 0.9)).toBeNull();
    expect(rangeAlong(elbow, "knee", [1, 0, 0], 0.9)).toBeNull();
  });
});

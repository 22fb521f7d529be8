import { finding } from "~core/checks/finding";
import { findingKey, findingKeys } from "./FindingRow";

it("every finding of a list has a key of its own, the first at a place the one that links name", () => {
  const stray = (value: number) =>
    finding({
      check: "weights.stray",
      severity: "warn",
      part: "body",
      vertices: [1],
      value,
      unit: "weight",
      limit: 0,
      message: "a stray",
    });
  const list = [stray(1), stray(2), { ...stray(3), part: "hat" }, stray(4)];
  const keys = findingKeys(list);
  expect(new Set(keys).size).toBe(4);
  expect(keys[0]).toBe(findingKey(list[0]!));
  expect(findingKeys(list)).toEqual(keys);
});

import { shapeOf, tube } from "../../tests/helpers/characters";
import type { Character } from "../model/character";
import { finding, type Finding } from "./finding";
import { withoutRepeats } from "./withoutRepeats";

const character: Character = {
  ...tube(),
  shapes: ["a", "b", "a with b"].map((n) => shapeOf(n, { 1: [0.01, 0, 0] })),
  shapeDrivers: [{ shape: "a with b", of: ["a", "b"], rule: "product", enabled: true }],
};
const found = (shape: string, value: number, check = "face.eye-through-lid"): Finding =>
  finding({ check, severity: "error", shape, part: "limb", value, unit: "mm", limit: 0.1, message: "" });
const left = (...findings: Finding[]): string[] => withoutRepeats(character, findings).map((f) => f.shape!);

describe("findings of combinations", () => {
  it("that repeat what a shape does alone are left to that shape", () =>
    expect(left(found("a", 0.5), found("a with b", 0.5))).toEqual(["a"]));
  it("that are worse than either alone stay", () =>
    expect(left(found("a", 0.5), found("a with b", 0.9))).toEqual(["a", "a with b"]));
  it("of another check stay", () =>
    expect(left(found("a", 0.5, "shapes.flip"), found("a with b", 0.5))).toEqual(["a", "a with b"]));
  it("stay where the shapes alone are clean", () => expect(left(found("a with b", 0.2))).toEqual(["a with b"]));
});

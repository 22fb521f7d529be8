import { boxPart, characterWith, rigidSkin, skeletonOf } from "../../../tests/helpers/characters";
import { heldBy } from "./heldBy";

const skeleton = skeletonOf([
  { name: "root", parent: -1 },
  { name: "arm", parent: 0 },
  { name: "tip", parent: 1 },
]);

describe("what joints hold", () => {
  it("is counted over all parts, most first and those without any last", () => {
    const half = {
      influenceCount: 2,
      joints: Uint16Array.from({ length: 16 }, (_, i) => (i % 2 ? 0 : 1)),
      weights: new Float32Array(16).fill(0.5),
      inverseBinds: null,
    };
    const parts = [
      { ...boxPart("skin"), skin: half },
      { ...boxPart("sleeve"), skin: rigidSkin(8, 1) },
      { ...boxPart("stand"), skin: null },
    ];
    expect(heldBy(characterWith({ skeleton, parts }))).toEqual([
      { joint: "arm", vertices: 16, whole: 8, parts: ["skin", "sleeve"] },
      { joint: "root", vertices: 8, whole: 0, parts: ["skin"] },
      { joint: "tip", vertices: 0, whole: 0, parts: [] },
    ]);
  });
});

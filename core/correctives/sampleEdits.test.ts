import { shapeOf, tube } from "../../tests/helpers/characters";
import { readySamples } from "../evaluate/drivers/sampleWeights";
import { fromAxisAngle } from "../math/quat";
import type { Character } from "../model/character";
import { newSamples, withoutSample, withSample } from "./sampleEdits";

const limb: Character = {
  ...tube({ rings: 9, sides: 6 }),
  shapes: [shapeOf("up", { 3: [0.01, 0, 0] }), shapeOf("aside", { 4: [0, 0.02, 0] })],
};
const empty = newSamples("swing", [{ joint: "lower", along: [0, 1, 0] }]);
const at = (x: number, z = 0): Record<string, [number, number, number]> => ({ lower: [x, 0, z] });

describe("sampling the present pose", () => {
  const one = withSample(limb, empty, at(80), { sample: "80° up", shape: "up" });
  const two = withSample(limb, one.set, at(0, 80), { sample: "80° aside", shape: "aside" });
  it("begins with a shape that moves nothing, and later with what acts there already", () => {
    expect(one.deltas).toEqual([]);
    const turns = [fromAxisAngle([1, 0, 0], 40)];
    const share = readySamples(two.set)!.weightsAt(turns)[1]!;
    expect(share).toBeGreaterThan(0.1);
    const [delta] = withSample(limb, two.set, at(40), { sample: "40° up", shape: "half" }).deltas;
    const k = delta!.vertices.indexOf(3);
    expect(delta!.deltas[3 * k]).toBeCloseTo(0.01 * share, 6);
  });
  it("sets the radius by how far the poses are apart", () => {
    expect(one.set.radiusDegrees).toBe(80);
    const close = withSample(limb, two.set, at(40), { sample: "40° up", shape: null }).set;
    expect(close.radiusDegrees).toBe(40);
    expect(withoutSample(close, "40° up").radiusDegrees).toBe(80);
  });
  it("is refused at rest and where a sample is", () => {
    expect(() => withSample(limb, empty, {}, { sample: "x", shape: null })).toThrow(/stands at rest/);
    expect(() => withSample(limb, two.set, at(81), { sample: "x", shape: null })).toThrow(/sampled already, as 80° up/);
  });
});

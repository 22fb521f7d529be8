import { facesTurnedBy } from "../measure/facesTurnedBy";
import { shapeOf, tube } from "../../tests/helpers/characters";
import { unturnFaces } from "./unturnFaces";

const part = tube().parts[0]!;

describe("faces that a movement turned over", () => {
  // one vertex pulled far across its neighbour on the ring
  const v = 400;
  const next = 401;
  const over = [0, 1, 2].map((c) => 3.2 * (part.positions[3 * next + c]! - part.positions[3 * v + c]!)) as [
    number,
    number,
    number,
  ];
  const delta = shapeOf("over", { [v]: over }).deltas[0]!;
  it("are set right, and what is far from them stays", () => {
    expect(facesTurnedBy(part, delta).length).toBeGreaterThan(0);
    const { delta: right, left } = unturnFaces(part, delta);
    expect(left).toBe(0);
    expect(facesTurnedBy(part, right)).toEqual([]);
    for (const w of right.vertices)
      expect(Math.hypot(...[0, 1, 2].map((c) => part.positions[3 * w + c]! - part.positions[3 * v + c]!))).toBeLessThan(
        0.09,
      );
  });
  it("are none in a gentle movement, which comes back as it is", () => {
    const gentle = shapeOf("gentle", { [v]: [0.001, 0, 0] }).deltas[0]!;
    expect(unturnFaces(part, gentle)).toEqual({ delta: gentle, left: 0 });
  });
});

import { carriedNormals } from "../measure/turnedFaces";
import { openFaces, shortenEdges } from "./fleshLimits";

const free = Float32Array.from([1, 1, 1]);
const none = new Uint32Array(0);

describe("limits of flesh", () => {
  const rest = Float32Array.from([0, 0, 0, 0.01, 0, 0, 0, 0.01, 0]);
  const triangle = Uint32Array.from([0, 1, 2]);
  const chosen = Uint32Array.from([0]);
  const facing = carriedNormals(triangle, chosen, rest, null, null);
  it("carry a face's normal as it lies when nothing is posed: twice the area", () =>
    expect([...facing].map((x) => Number(x.toFixed(8)))).toEqual([0, 0, 1e-4]));
  it("carry it as the skin turns, its length kept", () => {
    // a quarter turn about x for one joint, the skin wholly on it: z goes to -y
    const turn = Float32Array.from([1, 0, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1]);
    const skin = {
      influenceCount: 1,
      joints: Uint16Array.from([0, 0, 0]),
      weights: Float32Array.from([1, 1, 1]),
      inverseBinds: null,
    };
    const [x, y, z] = carriedNormals(triangle, chosen, rest, skin, turn);
    expect([x, y, z].map((c) => Number(c!.toFixed(8)) + 0)).toEqual([0, -1e-4, 0]);
  });
  it("open a face that is inside out until it shows a tenth of its area or more", () => {
    const P = Float32Array.from([0, 0, 0, 0.01, 0, 0, 0, -0.004, 0]);
    let turned = 1;
    for (let pass = 0; pass < 50 && turned; pass++) turned = openFaces(P, triangle, chosen, facing, free);
    const shown = (P[3]! - P[0]!) * (P[7]! - P[1]!) - (P[4]! - P[1]!) * (P[6]! - P[0]!);
    expect(shown / 1e-4).toBeGreaterThan(0.1);
  });
  it("leave a face that shows enough, and corners that may not move", () => {
    const good = rest.slice();
    expect(openFaces(good, triangle, chosen, facing, free)).toBe(0);
    expect(good).toEqual(rest);
    const P = Float32Array.from([0, 0, 0, 0.01, 0, 0, 0, -0.004, 0]);
    expect(openFaces(P, triangle, chosen, facing, new Float32Array(3))).toBe(1);
    expect(P[7]).toBeCloseTo(-0.004, 9);
    expect(openFaces(P, triangle, none, facing, free)).toBe(0);
  });
  it("shorten an edge to the limit from its free ends, and leave shorter ones", () => {
    const edges = Uint32Array.from([0, 1, 0, 2]);
    const both = Float32Array.from([0, 0, 0, 0.04, 0, 0, 0, 0.01, 0]);
    expect(shortenEdges(both, rest, edges, 2, free)).toBe(1);
    expect(both[3]! - both[0]!).toBeCloseTo(0.02, 7);
    expect(both[0]).toBeCloseTo(0.01, 7);
    const held = Float32Array.from([0, 0, 0, 0.04, 0, 0, 0, 0.01, 0]);
    shortenEdges(held, rest, edges, 2, Float32Array.from([0, 1, 1]));
    expect([held[0], held[3]].map((x) => Number(x!.toFixed(6)))).toEqual([0, 0.02]);
    expect(shortenEdges(held, rest, edges, 2, new Float32Array(3))).toBe(0);
  });
});

import { tube } from "../../tests/helpers/characters";
import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT } from "../evaluate/moment";
import { jointRegion } from "./jointRegion";
import { makeOverlapFinder, onlyMoving, skinOverlap } from "./skinOverlap";

const limb = tube();
const rig = makeRig(limb);
const region = jointRegion(rig, 1, 0)!;
const rest = limb.parts[0]!.positions;
const finder = makeOverlapFinder(region, rig.triangles[0]!, rest);
const at = (degrees: number): ReturnType<typeof skinOverlap> & { posed: Float32Array } => {
  const { positions, normals } = deform(rig, { ...REST_MOMENT, pose: { lower: [degrees, 0, 0] } });
  return { ...skinOverlap(finder, rest, positions[0]!, normals[0]!), posed: positions[0]! };
};

describe("skin in skin at a bent limb", () => {
  it("is none at rest and in a gentle bend", () => {
    for (const degrees of [0, 20, -20]) expect(at(degrees).depth).toBe(0);
  });
  it("grows with the bend, to either side alike", () => {
    const depths = [100, 120, 140].map((d) => at(d).depth);
    expect(depths[0]).toBeGreaterThan(0.001);
    expect(depths[1]).toBeGreaterThan(depths[0]!);
    expect(depths[2]).toBeGreaterThan(depths[1]!);
    expect(at(-120).depth).toBeCloseTo(depths[1]!, 3);
  });
  it("lies on the inside of the bend, on both halves, and the depth is the largest of all", () => {
    const { depths, depth, posed } = at(130);
    const deep = [...depths.keys()].filter((v) => depths[v]! > 0);
    expect(Math.max(...deep.map((v) => depths[v]!))).toBeCloseTo(depth, 7);
    expect(deep.some((v) => region.share[v]! > 0.5) && deep.some((v) => region.share[v]! <= 0.5)).toBe(true);
    // bent about +x the lower half comes over to +z: what is pressed lies there
    const z = deep.reduce((s, v) => s + posed[3 * v + 2]!, 0) / deep.length;
    expect(z).toBeGreaterThan(0);
  });
  it("of a few vertices that still move is that of the whole, at those vertices", () => {
    const { positions, normals } = deform(rig, { ...REST_MOMENT, pose: { lower: [125, 0, 0] } });
    const whole = skinOverlap(finder, rest, positions[0]!, normals[0]!).depths;
    const chosen = Uint32Array.from([...whole.keys()].filter((v) => v % 3 === 0));
    const few = onlyMoving(finder, positions[0]!, chosen);
    const eased = positions[0]!.slice();
    for (const v of chosen) eased[3 * v + 2]! += 1e-5;
    const some = skinOverlap(few, rest, eased, normals[0]!).depths;
    const again = skinOverlap(finder, rest, eased, normals[0]!).depths;
    for (const v of chosen) expect(some[v]).toBeCloseTo(again[v]!, 7);
    expect([...some.keys()].filter((v) => some[v]! > 0 && v % 3 !== 0)).toEqual([]);
  });
});

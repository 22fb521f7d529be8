import { loadOda } from "../../demo/cast";
import { REST_MOMENT, type Moment } from "../evaluate/moment";
import { LiveDeform } from "./liveDeform";
import { deform, makeRig } from "./rig";

const oda = await loadOda();
const rig = makeRig(oda);
const named = (parts: readonly number[]): string[] => parts.map((p) => oda.parts[p]!.name);
const moments: Moment[] = [
  { ...REST_MOMENT, pose: { leftLowerArm: [90, 0, 0] } },
  { ...REST_MOMENT, pose: { leftLowerArm: [90, 0, 0], head: [10, 20, 0] }, weights: { AU12_left: 1 } },
  { ...REST_MOMENT, pose: { head: [10, 20, 0] }, method: "dual" },
  { ...REST_MOMENT, weights: { proportion_broad: 0.5 }, pose: { rightUpperArm: [0, 0, 40] } },
  REST_MOMENT,
];

/**
 * Single precision at two metres, and the few sums made in it; a normal of faces of a tenth of a millimetre turns by
 * what a place is off over that.
 */
const NEAR = { metres: 2e-6, normals: 2e-3, normalsInTheMean: 1e-5 };
const apart = (a: readonly Float32Array[], b: readonly Float32Array[]): number =>
  Math.max(...a.map((list, p) => list.reduce((most, x, i) => Math.max(most, Math.abs(x - b[p]![i]!)), 0)));
const apartInTheMean = (a: readonly Float32Array[], b: readonly Float32Array[]): number => {
  const count = a.reduce((n, l) => n + l.length, 0);
  return a.reduce((sum, l, p) => sum + l.reduce((s, x, i) => s + Math.abs(x - b[p]![i]!), 0), 0) / count;
};
const sizes = (lists: readonly Float32Array[]): number[] => lists.map((l) => l.length);

describe("a character that is deformed again and again", () => {
  it("stands and is lit at every moment as one that is deformed anew, to single precision", () => {
    const live = new LiveDeform(rig);
    for (const moment of moments) {
      live.update(rig, moment);
      const anew = deform(rig, moment);
      expect(sizes(live.deformed.drawn)).toEqual(sizes(anew.drawn));
      expect(apart(live.deformed.drawn, anew.drawn)).toBeLessThan(NEAR.metres);
      expect(apart(live.deformed.positions, anew.positions)).toBeLessThan(NEAR.metres);
      expect(apart(live.deformed.normals, anew.normals)).toBeLessThan(NEAR.normals);
      expect(apartInTheMean(live.deformed.normals, anew.normals)).toBeLessThan(NEAR.normalsInTheMean);
      expect(live.deformed.shapeWeights).toEqual(anew.shapeWeights);
    }
  });
  it("is the same without WebAssembly, to the last bit of the plain way", () => {
    const platform = globalThis as { WebAssembly?: unknown };
    const kept = platform.WebAssembly;
    delete platform.WebAssembly;
    try {
      const live = new LiveDeform(rig);
      for (const moment of moments) {
        live.update(rig, moment);
        const anew = deform(rig, moment);
        expect(live.deformed.positions).toEqual(anew.positions);
        expect(live.deformed.normals).toEqual(anew.normals);
      }
    } finally {
      platform.WebAssembly = kept;
    }
  });
  it("keeps hard edges and a part without a skin", () => {
    const hard = {
      ...oda,
      parts: oda.parts.map(({ smooth: _, ...p }) => ({
        ...p,
        skin: p.kind === "eye" ? null : p.skin,
        cornerLook: { uvs: null, groups: new Uint32Array(p.corners.length) },
      })),
    };
    const hardRig = makeRig(hard);
    const live = new LiveDeform(hardRig);
    expect(live.deformed.drawn[0]!.length).toBeGreaterThan(live.deformed.positions[0]!.length);
    live.update(hardRig, moments[1]!);
    const anew = deform(hardRig, moments[1]!);
    expect(apart(live.deformed.drawn, anew.drawn)).toBeLessThan(NEAR.metres);
    expect(apart(live.deformed.normals, anew.normals)).toBeLessThan(NEAR.normals);
  });
  it("makes anew only the parts whose joints or shapes moved", () => {
    const live = new LiveDeform(rig);
    expect(live.update(rig, REST_MOMENT).length).toBe(oda.parts.length);
    expect(live.update(rig, REST_MOMENT)).toEqual([]);
    const bent = named(live.update(rig, { ...REST_MOMENT, pose: { leftLowerArm: [90, 0, 0] } }));
    expect(bent).toContain("body");
    expect(bent).not.toContain("eye left");
    expect(bent).not.toContain("teeth lower");
    const gaze = named(live.update(rig, { ...REST_MOMENT, pose: { leftLowerArm: [90, 0, 0], leftEye: [0, 20, 0] } }));
    expect(gaze).toEqual(["eye left"]);
  });
  it("leaves what is not shown until it is, and what somebody else wrote is not believed", () => {
    const live = new LiveDeform(rig);
    const trousers = oda.parts.findIndex((p) => p.name === "trousers");
    const bent = { ...REST_MOMENT, pose: { leftLowerLeg: [60, 0, 0] as const } };
    live.update(rig, REST_MOMENT);
    expect(live.update(rig, bent, (p) => p !== trousers)).not.toContain(trousers);
    expect(live.update(rig, bent)).toEqual([trousers]);
    live.deformed.positions[0]!.fill(0);
    live.forget();
    live.update(rig, bent);
    expect(apart(live.deformed.positions, deform(rig, bent).positions)).toBeLessThan(NEAR.metres);
  });
});

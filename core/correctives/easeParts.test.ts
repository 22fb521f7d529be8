import { tube } from "../../tests/helpers/characters";
import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT } from "../evaluate/moment";
import { dot, type Vec3 } from "../math/vec3";
import { refitBvh, type Bvh } from "../math/bvh";
import { refitMoved } from "../math/refitMoved";
import { jointFold } from "../measure/jointFold";
import { limbVolume } from "../measure/limbVolume";
import { makeJointGauge } from "../measure/measureJoint";
import { neighboursOf } from "../model/neighbours";
import { ownTree, restTree } from "../surface/restTree";
import { crossesPlane, fadingRings, holdOverTip, layInFold } from "./foldContact";
import { Refill } from "./refill";
import { relaxOnce, turnedOffsets } from "./restOffsets";

const limb = tube();
const part = limb.parts[0]!;
const neighbours = neighboursOf(part);
const count = part.positions.length / 3;
const all = Uint32Array.from({ length: count }, (_, v) => v);
const gauge = makeJointGauge(makeRig(limb), 1)!;
const bent = (degrees: number): { P: Float32Array; matrices: Float64Array } => {
  const d = deform(gauge.rig, { ...REST_MOMENT, pose: { lower: [degrees, 0, 0] } });
  return { P: d.positions[0]!.slice(), matrices: d.matrices[0]!.slice() };
};

describe("skin laid in the fold", () => {
  const { P, matrices } = bent(120);
  const fold = jointFold(gauge, matrices)!;
  const off = (X: Float32Array, v: number): number =>
    (gauge.region.share[v]! > 0.5 ? 1 : -1) *
    dot([0, 1, 2].map((k) => X[3 * v + k]! - fold.centre[k]!) as unknown as Vec3, fold.across);
  const inside = (v: number): boolean =>
    dot([0, 1, 2].map((k) => P[3 * v + k]! - fold.centre[k]!) as unknown as Vec3, fold.into) >
    0.25 * gauge.region.radius;
  it("lies on its own side afterwards, but for what may touch, and other skin stays", () => {
    const laid = P.slice();
    layInFold(laid, gauge, fold, new Float32Array(count).fill(1), 0.001);
    const crossed = [...all].filter((v) => inside(v) && off(P, v) < -0.002);
    expect(crossed.length).toBeGreaterThan(10);
    for (const v of crossed) expect(off(laid, v)).toBeGreaterThan(-0.00101);
    const clear = [...all].filter((v) => off(P, v) > 0.03);
    expect(clear.length).toBeGreaterThan(50);
    for (const v of clear) expect(Math.abs(off(laid, v) - off(P, v))).toBeLessThan(1e-4);
  });
  it("moves along the plane's normal alone, and nothing with no weight", () => {
    const laid = P.slice();
    layInFold(laid, gauge, fold, new Float32Array(count).fill(1), 0.001);
    for (const v of all) {
      const d = [0, 1, 2].map((k) => laid[3 * v + k]! - P[3 * v + k]!) as unknown as Vec3;
      expect(Math.abs(dot(d, fold.into))).toBeLessThan(1e-7);
    }
    const still = P.slice();
    layInFold(still, gauge, fold, new Float32Array(count), 0.001);
    expect(still).toEqual(P);
  });
  it("is what is pressed near the joint, not what lies far beyond the plane or far away", () => {
    const at = (into: number, across: number): Float32Array =>
      Float32Array.from([0, 1, 2].map((k) => fold.centre[k]! + into * fold.into[k]! + across * fold.across[k]!));
    expect(crossesPlane(at(0.05, -0.01), 0, gauge, fold, 0.01, false)).toBe(true);
    expect(crossesPlane(at(0.05, -0.08), 0, gauge, fold, 0.01, false)).toBe(false);
    expect(crossesPlane(at(0.5, -0.01), 0, gauge, fold, 0.01, true)).toBe(false);
  });
  it("fades over the rings round it", () => {
    const marked = new Float32Array(count);
    marked[400] = 1;
    const weights = fadingRings(marked, neighbours, 3);
    expect(weights[400]).toBe(1);
    const [near, far] = [neighbours.list[neighbours.start[400]!]!, 400 + 5 * 24];
    expect(weights[near]!).toBeGreaterThan(0.3);
    expect(weights[near]!).toBeLessThan(1);
    expect(weights[far]).toBe(0);
  });
  it("over the tip keeps its distance from the joint", () => {
    const held = P.slice();
    const tip = (X: Float32Array): number =>
      Math.min(
        ...[...gauge.region.vertices]
          .filter(
            (v) => dot([0, 1, 2].map((k) => P[3 * v + k]! - fold.centre[k]!) as unknown as Vec3, fold.into) < -0.02,
          )
          .map((v) => Math.hypot(...[0, 1, 2].map((k) => X[3 * v + k]! - fold.centre[k]!))),
      );
    for (let i = 0; i < 20; i++) holdOverTip(held, gauge, fold, 0.85);
    expect(tip(P)).toBeLessThan(0.03);
    expect(tip(held)).toBeGreaterThan(0.84 * 0.05);
  });
});

describe("smoothing toward the detail at rest", () => {
  it("leaves a limb that is moved as one piece as it is", () => {
    const d = deform(gauge.rig, { ...REST_MOMENT, pose: { upper: [30, 50, -20] } });
    const P = d.positions[0]!.slice();
    const offsets = turnedOffsets(part.positions, part.skin!, d.matrices[0]!, all, neighbours);
    for (let i = 0; i < 10; i++)
      relaxOnce(P, offsets, all, new Float32Array(count).fill(0.5), neighbours, new Float32Array(P.length));
    P.forEach((x, i) => expect(Math.abs(x - d.positions[0]![i]!)).toBeLessThan(1e-5));
  });
  it("takes noise out of a bent limb", () => {
    const { P, matrices } = bent(60);
    const noisy = P.map((x, i) => x + 0.002 * Math.sin(1e4 * i));
    const offsets = turnedOffsets(part.positions, part.skin!, matrices, all, neighbours);
    const uneven = (X: Float32Array): number => {
      let sum = 0;
      for (const v of all.slice(24, -26))
        for (let c = 0; c < 3; c++) {
          const around = neighbours.list.slice(neighbours.start[v]!, neighbours.start[v + 1]!);
          const mean = around.reduce((s, n) => s + X[3 * n + c]!, 0) / around.length;
          sum += (X[3 * v + c]! - mean - offsets[3 * v + c]!) ** 2;
        }
      return Math.sqrt(sum);
    };
    const before = uneven(noisy);
    for (let i = 0; i < 5; i++)
      relaxOnce(noisy, offsets, all, new Float32Array(count).fill(0.5), neighbours, new Float32Array(P.length));
    expect(uneven(noisy)).toBeLessThan(0.4 * before);
  });
});

describe("missing volume", () => {
  it("comes back, then nothing swells any more, and contact never does", () => {
    const shrunk = part.positions.map((x, i) => (i % 3 === 1 ? x : 0.9 * x));
    const refill = new Refill(gauge, 0.05);
    const held = new Float32Array(count);
    for (let v = 0; v < count; v++) if (part.positions[3 * v]! > 0) held[v] = 1;
    const outward = part.positions.map((x, i) =>
      i % 3 === 1 ? 0 : x / Math.hypot(part.positions[i - (i % 3)]!, part.positions[i - (i % 3) + 2]!) || 0,
    );
    const triangles = gauge.rig.triangles[0]!;
    const still = shrunk.slice();
    for (let round = 0; round < 60; round++)
      refill.swell(shrunk, Float32Array.from(outward), all, new Float32Array(count).fill(1), held);
    expect(limbVolume(gauge.region, triangles, still) / gauge.restVolume).toBeLessThan(0.85);
    expect(limbVolume(gauge.region, triangles, shrunk) / gauge.restVolume).toBeGreaterThan(0.95);
    expect(refill.swell(shrunk, Float32Array.from(outward), all, new Float32Array(count).fill(1), held)).toBe(0);
    for (const v of all) if (held[v]) expect(shrunk[3 * v]).toBe(still[3 * v]);
    expect(new Refill(gauge, 0.05).swell(part.positions.slice(), Float32Array.from(outward), all, held, held)).toBe(0);
  });
});

it("a tree fitted to what moved alone is the tree fitted anew", () => {
  const triangles = gauge.rig.triangles[0]!;
  const own = (): Bvh => ownTree(restTree(triangles, part.positions));
  const [moved, whole] = [own(), own()];
  for (const degrees of [0, 50, 50, 130, 20]) {
    const { P } = bent(degrees);
    refitMoved(moved, P);
    refitBvh(whole, P);
    expect(moved.bounds).toEqual(whole.bounds);
  }
});

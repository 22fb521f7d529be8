import { tube } from "../../tests/helpers/characters";
import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT } from "../evaluate/moment";
import { degrees, dot } from "../math/vec3";
import type { Character } from "../model/character";
import { jointFold, overTip } from "./jointFold";
import { makeJointGauge, measureJoint, type JointGauge } from "./measureJoint";
import { poseLooks, roughness } from "./poseLooks";

const LOWER = 1;
const posed = (
  character: Character,
  bend: number,
): { gauge: JointGauge; P: Float32Array; matrices: Float64Array; fold: ReturnType<typeof jointFold> } => {
  const gauge = makeJointGauge(makeRig(character), LOWER)!;
  const d = deform(gauge.rig, { ...REST_MOMENT, pose: { lower: [bend, 0, 0] } });
  return { gauge, P: d.positions[0]!, matrices: d.matrices[0]!, fold: jointFold(gauge, d.matrices[0]!) };
};

describe("the fold of a joint", () => {
  it.each([40, 90, 130])("of a tube bent by %d degrees stands half-way between its two limbs", (bend) => {
    const { fold } = posed(tube(), bend);
    expect(fold!.degrees).toBeCloseTo(bend, 3);
    expect(degrees(Math.acos(dot(fold!.across, fold!.still)))).toBeCloseTo(bend / 2, 3);
    expect(degrees(Math.acos(dot(fold!.across, fold!.moving)))).toBeCloseTo(bend / 2, 3);
    expect(dot(fold!.across, fold!.into)).toBeCloseTo(0, 6);
    // the tube stands upright and bends about x, forward: the fold opens to the front
    expect(fold!.into[2]).toBeGreaterThan(0.3);
    [0, 0.3, 0].forEach((x, k) => expect(fold!.centre[k]!).toBeCloseTo(x, 5));
  });
  it("is none where the joint is only twisted or hardly bent", () => {
    expect(posed(tube(), 10).fold).toBeNull();
    const gauge = makeJointGauge(makeRig(tube()), LOWER)!;
    const twisted = deform(gauge.rig, { ...REST_MOMENT, pose: { lower: [0, 80, 0] } });
    expect(jointFold(gauge, twisted.matrices[0]!)).toBeNull();
  });
  it("is counted from rest, also where the mesh is bound in another pose", () => {
    const limb = tube();
    // the rest pose of the skeleton is bent by 30 degrees against the one that the mesh is bound in
    const [half, whole] = [Math.sin(Math.PI / 12), Math.cos(Math.PI / 12)];
    const joints = limb.skeleton!.joints.map((j) => (j.name === "lower" ? { ...j, rotation: [half, 0, 0, whole] } : j));
    const bent = { ...limb, skeleton: { ...limb.skeleton!, joints } } as Character;
    expect(posed(bent, 0).fold).toBeNull();
    expect(posed(bent, 60).fold!.degrees).toBeCloseTo(60, 3);
    // and no face counts as turned for it
    const gauge = makeJointGauge(makeRig(bent), LOWER)!;
    expect(measureJoint(gauge, REST_MOMENT).reading.flips).toBe(0);
  });
  it("tells skin over the tip, and how far it sank", () => {
    const { gauge, fold, P } = posed(tube(), 90);
    const tips = [...gauge.region.vertices].flatMap((v) => overTip(gauge, fold!, P, v) ?? []);
    expect(tips.length).toBeGreaterThan(5);
    for (const tip of tips) expect(tip.rest).toBeCloseTo(0.05, 5);
    // linear skinning at half weights: cos 45 degrees of the radius
    expect(Math.min(...tips.map((t) => t.posed))).toBeCloseTo(0.05 * Math.cos(Math.PI / 4), 3);
  });
});

describe("how a bent limb looks", () => {
  it("has no crease at rest and one where a row of vertices is pulled out", () => {
    const { gauge, P, matrices } = posed(tube(), 0);
    expect(poseLooks(gauge, P, matrices).crease).toBeCloseTo(0, 3);
    const ring = P.slice();
    for (let v = 16 * 24; v < 17 * 24; v++) for (const c of [0, 2]) ring[3 * v + c]! *= 1.4;
    // rings stand 18.75 mm apart; one pulled out by 20 mm slopes by atan(20 / 18.75) to either side
    const slope = degrees(Math.atan2(0.02, 0.6 / 32));
    const { crease } = poseLooks(gauge, ring, matrices);
    expect(crease).toBeGreaterThan(1.8 * slope);
    expect(crease).toBeLessThan(2.2 * slope);
  });
  it("leaves the fold itself out", () => {
    const { gauge, P, matrices, fold } = posed(tube(), 100);
    const pinched = P.slice();
    let moved = 0;
    for (const v of gauge.region.vertices) {
      const x = [0, 1, 2].map((k) => P[3 * v + k]! - fold!.centre[k]!) as [number, number, number];
      if (dot(x, fold!.into) < 0.02) continue;
      pinched[3 * v + 2]! += v % 2 ? 0.01 : -0.01;
      moved++;
    }
    expect(moved).toBeGreaterThan(5);
    expect(poseLooks(gauge, pinched, matrices).crease).toBeCloseTo(poseLooks(gauge, P, matrices).crease, 6);
  });
  it("is rough where movement alternates, and not where it is smooth", () => {
    const { gauge, P } = posed(tube({ rings: 80, sides: 48 }), 0);
    const smooth = P.map((x, i) => x + (i % 3 === 0 ? 0.01 * Math.sin(10 * P[3 * Math.floor(i / 3) + 1]!) : 0));
    const rough = P.map((x, i) => x + (i % 3 === 0 ? (Math.floor(i / 3) % 2 ? 0.004 : -0.004) : 0));
    expect(roughness(gauge, P, P)).toBe(0);
    expect(roughness(gauge, P, smooth)).toBeLessThan(0.1);
    expect(roughness(gauge, P, rough)).toBeGreaterThan(0.3);
  });
});

import { tube } from "../../tests/helpers/characters";
import { makeRig } from "../deform/rig";
import { REST_MOMENT } from "../evaluate/moment";
import { makeJointGauge, measureJoint } from "../measure/measureJoint";
import { sweepMotion } from "../measure/sweepMotion";
import type { JointMotion } from "../skeleton/jointMotions";
import { excess, proposeForRange, type PoseLimits, type RangeProposal } from "./proposeForRange";

const LIMITS: PoseLimits = { volume: -0.095, depth: 4, stretch: 1.95 };
const limb = tube({ blend: 0.12 });
const rig = makeRig(limb);
const gauge = makeJointGauge(rig, 1)!;
const motion = (max: number): JointMotion => ({
  id: "lower/bend",
  joint: "lower",
  bone: "leftLowerArm",
  name: "bend",
  label: "bend",
  axis: [1, 0, 0],
  min: 0,
  max,
});
function proposed(max: number): { result: RangeProposal | null; shares: number[] } {
  const steps = proposeForRange(gauge, motion(max), max, LIMITS, { name: "bent", label: "bent" });
  const shares: number[] = [];
  for (;;) {
    const { done, value } = steps.next();
    if (done) return { result: value, shares };
    shares.push(value);
  }
}

describe("a corrective for a whole way", () => {
  it("is not made where nothing is over the limits", () => expect(proposed(15).result).toBeNull());
  const { result, shares } = proposed(130);
  it("brings a bent limb within them all the way, where it was far over", async () => {
    const bare = await sweepMotion(gauge, motion(130), 13, REST_MOMENT);
    expect(Math.max(...bare.map((r) => excess(r.with, LIMITS)))).toBeGreaterThan(0.5);
    const made = result!.made;
    const corrected = makeRig({ ...limb, shapes: made.map((m) => m.shape), drivers: made.map((m) => m.driver) });
    const after = await sweepMotion(makeJointGauge(corrected, 1)!, motion(130), 13, REST_MOMENT);
    for (const r of after) {
      expect(r.with.volume).toBeGreaterThan(-0.1);
      expect(r.with.depth).toBeLessThan(5);
      expect(r.with.stretch).toBeLessThan(2);
      expect(r.with.flips).toBe(0);
    }
  });
  it("is driven by the joint, at full at the end, and tells how far it is on the way there", () => {
    expect(result!.made.length).toBeLessThanOrEqual(2);
    expect(result!.made.at(-1)!.driver).toMatchObject({ joint: "lower", toDegrees: 130, enabled: true });
    expect(result!.after).toBe(0);
    expect(shares.every((s) => s >= 0 && s <= 1)).toBe(true);
    expect(shares.length).toBeGreaterThan(5);
  });
  it("leaves the character as it was", () => {
    expect(limb.shapes).toEqual([]);
    expect(measureJoint(gauge, REST_MOMENT).reading.flips).toBe(0);
  });
});

describe("what is over the limits", () => {
  const fine = { volume: 0, depth: 0, stretch: 1, flips: 0 };
  it.each([
    [fine, 0],
    [{ ...fine, volume: -0.19 }, 1],
    [{ ...fine, depth: 8 }, 1],
    [{ ...fine, stretch: 3.9 }, 1],
    [{ ...fine, flips: 3 }, 3],
    [{ ...fine, volume: 0.4 }, 0],
  ] as const)("%j counts %f", (reading, n) => expect(excess(reading, LIMITS)).toBeCloseTo(n, 6));
  it("counts nothing for limits that are off", () =>
    expect(excess({ volume: -1, depth: 99, stretch: 9, flips: 0 }, { volume: null, depth: null, stretch: null })).toBe(
      0,
    ));
});

import { loadOda } from "../../demo/cast";
import { makeRig, withShapes } from "../deform/rig";
import { makeJointGauge, withRig, type JointReading } from "../measure/measureJoint";
import { sweepMotion } from "../measure/sweepMotion";
import { REST_MOMENT } from "../evaluate/moment";
import { boneDirection } from "../skeleton/boneDirection";
import { humanoidMap } from "../skeleton/humanoidMap";
import { jointMotions } from "../skeleton/jointMotions";
import { proposeForJoint, type JointProposal } from "./proposeForJoint";
import { newSamples } from "./sampleEdits";
import { swingMapAt } from "./swingMap";

const LIMITS = { volume: -0.1, depth: 5, stretch: 2, crease: 90, bone: 20 };
const AIM = { volume: -0.095, depth: 4, stretch: 1.95, crease: 85, bone: 19 };
const oda = await loadOda();
const humanoid = humanoidMap(oda.skeleton!, oda.jointMap);
const motions = jointMotions(oda.skeleton!, humanoid);
const rig = makeRig(oda);

function propose(bone: string): { proposal: JointProposal; shares: number[] } & { joint: number } {
  const joint = humanoid.jointOfBone.get(bone)!;
  const { name } = oda.skeleton!.joints[joint]!;
  const swings = motions.filter((m) => m.joint === name);
  const along = boneDirection(oda.skeleton!, humanoid, joint);
  const gauge = makeJointGauge(rig, joint)!;
  const map = swingMapAt(oda.skeleton!, joint, along);
  const steps = proposeForJoint(gauge, map, swings, swings, newSamples("swing", [{ joint: name, along }]), LIMITS, AIM);
  const shares: number[] = [];
  for (;;) {
    const { done, value } = steps.next();
    if (done) return { proposal: value, shares, joint };
    shares.push(value);
  }
}

describe("joints of Oda corrected whole", () => {
  it.each(["leftLowerArm", "leftLowerLeg", "leftRingProximal"])(
    "%s is within every limit at 37 angles with one shape or two, none turned, and moves smoothly",
    async (bone) => {
      const { proposal, shares, joint } = propose(bone);
      expect(proposal.samples).toBeNull();
      const { made } = proposal;
      expect([1, 2]).toContain(made.length);
      expect(shares.every((s, i) => s >= (shares[i - 1] ?? 0) - 1e-9 && s <= 1)).toBe(true);
      const corrected = {
        ...oda,
        shapes: [...oda.shapes, ...made.map((m) => m.shape)],
        drivers: made.map((m) => m.driver),
      };
      const gauge = withRig(makeJointGauge(rig, joint)!, withShapes(rig, corrected));
      const own = motions.find((m) => m.joint === oda.skeleton!.joints[joint]!.name && m.name === "bend")!;
      const rows = await sweepMotion(gauge, own, 37, REST_MOMENT);
      expect(rows.length).toBeGreaterThanOrEqual(37);
      const worst = (of: (r: JointReading) => number): number => Math.max(...rows.map((r) => of(r.with)));
      expect(worst((r) => -r.volume)).toBeLessThan(0.1);
      expect(worst((r) => r.depth)).toBeLessThan(5);
      expect(worst((r) => r.stretch)).toBeLessThan(2);
      expect(worst((r) => r.flips)).toBe(0);
      expect(worst((r) => r.crease!)).toBeLessThan(90);
      expect(worst((r) => r.bone!)).toBeLessThan(20);
      expect(worst((r) => r.roughness!)).toBeLessThan(1);
      // and something was wrong before
      expect(Math.max(...rows.map((r) => r.without.flips))).toBeGreaterThan(0);
    },
  );
  it("a joint that is within the limits gets nothing", () => {
    const { proposal } = propose("neck");
    expect(proposal).toEqual({ made: [], samples: null });
  });
});

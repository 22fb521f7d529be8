import { loadOda } from "../../demo/cast";
import { deform, makeRig, withShapes } from "../deform/rig";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { decomposeTRS } from "../math/mat4";
import { IDENTITY_QUAT, toEulerXYZ } from "../math/quat";
import { makeJointGauge, measureJoint, withRig } from "../measure/measureJoint";
import type { Character } from "../model/character";
import { boneDirection } from "../skeleton/boneDirection";
import { humanoidMap } from "../skeleton/humanoidMap";
import { jointMotions } from "../skeleton/jointMotions";
import { randomFrom } from "../../tests/helpers/random";
import { excess } from "./proposeForRange";
import { proposeSamples, swingPose, type SamplesProposal } from "./proposeSamples";
import { sculptMoment } from "./proposeSculpt";
import { newSamples } from "./sampleEdits";
import { coastOf, swingMap, turnTo } from "./swingMap";

const LIMITS = { volume: -0.1, depth: 5, stretch: 2 };
const oda = await loadOda();
const humanoid = humanoidMap(oda.skeleton!, oda.jointMap);
const joint = humanoid.jointOfBone.get("leftUpperArm")!;
const { name } = oda.skeleton!.joints[joint]!;
const motions = jointMotions(oda.skeleton!, humanoid).filter((m) => m.joint === name);
const along = boneDirection(oda.skeleton!, humanoid, joint);
const map = swingMap(along, decomposeTRS(worldMatrices(oda.skeleton!, {}), 16 * joint).q);
const gauge = makeJointGauge(makeRig(oda), joint)!;
const steps = proposeSamples(gauge, map, motions, newSamples("shoulder", [{ joint: name, along }]), {
  volume: -0.09,
  depth: 4.5,
  stretch: 1.9,
});
let made: SamplesProposal | null = null;
const shares: number[] = [];
for (;;) {
  const { done, value } = steps.next();
  if (done) {
    made = value;
    break;
  }
  shares.push(value);
}
const { set, shapes, looked, before, after } = made!;
const corrected: Character = { ...oda, shapes: [...oda.shapes, ...shapes], sampleSets: [set] };

describe("sampled poses proposed over Oda's whole shoulder", () => {
  it("leave little of what was over the limits, with few samples, and tell how far they are", () => {
    expect(looked).toBeGreaterThan(40);
    expect(before).toBeGreaterThan(80);
    expect(after).toBeLessThan(0.1 * before);
    expect(set.samples.length).toBeLessThanOrEqual(16);
    expect(shares.every((s, i) => s >= (shares[i - 1] ?? 0) - 1e-9 && s <= 1)).toBe(true);
  });
  it("meet each sculpt at its own pose to 0.01 mm", () => {
    const skin = oda.parts.findIndex((p) => p.kind === "body");
    for (const sample of set.samples) {
      const moment = sculptMoment(swingPose(name, sample.turns[0]!, motions));
      const driven = deform(makeRig(corrected), { ...moment, drivers: true }, { normals: false, parts: [skin] });
      const alone = deform(
        makeRig({ ...corrected, sampleSets: [] }),
        { ...moment, weights: { [sample.shape!]: 1 } },
        { normals: false, parts: [skin] },
      );
      const worst = driven.positions[skin]!.reduce(
        (m, x, i) => Math.max(m, Math.abs(x - alone.positions[skin]![i]!)),
        0,
      );
      expect(1000 * worst).toBeLessThan(0.01);
    }
  });
  it("put no pose between them over a limit that it was not over before", () => {
    const bare = withRig(gauge, makeRig({ ...oda, drivers: [] }));
    const now = withRig(gauge, withShapes(gauge.rig, corrected));
    const coast = coastOf(map, motions);
    const random = randomFrom(11);
    let [were, are] = [0, 0];
    for (let i = 0; i < 60; i++) {
      const [x, y] = coast[Math.floor(random() * coast.length)]!;
      const share = Math.sqrt(random());
      const moment = sculptMoment(swingPose(name, turnTo(map, [share * x, share * y], IDENTITY_QUAT), motions));
      const [without, driven] = [bare, now].map((g) =>
        excess(measureJoint(g, { ...moment, drivers: true }).reading, LIMITS),
      ) as [number, number];
      if (without > 0) were++;
      else expect(driven).toBe(0);
      if (driven > 0) are++;
    }
    expect(were).toBeGreaterThan(15);
    expect(are).toBeLessThan(0.15 * were);
  });
});

describe("the chart of a swing", () => {
  it("says what lies where: an arm out to the left has front and back beside it, a leg down has left and right", () => {
    expect(map.sides).toEqual(["up", "back", "down", "front"]);
    const leg = humanoid.jointOfBone.get("leftUpperLeg")!;
    const frame = decomposeTRS(worldMatrices(oda.skeleton!, {}), 16 * leg).q;
    expect(swingMap(boneDirection(oda.skeleton!, humanoid, leg), frame).sides).toEqual([
      "front",
      "left",
      "back",
      "right",
    ]);
  });
  it("reaches as far as the motions do along each of them", () => {
    const raise = motions.find((m) => m.name === "raise")!;
    const forward = motions.find((m) => m.name === "forward")!;
    const coast = coastOf(map, motions);
    const far = (angle: number): number =>
      Math.max(
        ...coast.flatMap(([x, y]) =>
          Math.abs((((Math.atan2(y, x) * 180) / Math.PI - angle + 540) % 360) - 180) < 1 ? [Math.hypot(x, y)] : [],
        ),
      );
    expect(far(90)).toBeCloseTo(raise.max, 1);
    expect(far(-90)).toBeCloseTo(-raise.min, 1);
    expect(far(180)).toBeCloseTo(forward.max, 1);
    expect(far(0)).toBeCloseTo(-forward.min, 1);
  });
  it("turns the bone to the place that is asked for, the twist kept", () => {
    const turn = turnTo(map, [0, 80], IDENTITY_QUAT);
    const raise = motions.find((m) => m.name === "raise")!;
    const [x, y, z] = toEulerXYZ(turn);
    expect([x * raise.axis[0], y * raise.axis[1], z * raise.axis[2]].reduce((a, b) => a + b)).toBeCloseTo(80, 1);
  });
});

import { loadMember } from "../../demo/cast";
import { makeRig } from "../deform/rig";
import { REST_MOMENT } from "../evaluate/moment";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { decomposeTRS } from "../math/mat4";
import { angleBetweenQuats, multiplyQuat } from "../math/quat";
import { humanoidMap } from "../skeleton/humanoidMap";
import { jointMotions, motionPose } from "../skeleton/jointMotions";
import { combinedPose, combinedPoses, readCombined } from "./combinedPoses";
import { makeJointGauge, measureJoint } from "./measureJoint";

const oda = await loadMember("oda");
const motions = jointMotions(oda.skeleton!, humanoidMap(oda.skeleton!, oda.jointMap));
const poses = combinedPoses(motions, 1);

describe("poses of two motions", () => {
  it("are the same for the same seed, and others inside for another", () => {
    expect(combinedPoses(motions, 1)).toEqual(poses);
    expect(combinedPoses(motions, 2)).not.toEqual(poses);
    expect(combinedPoses(motions, 2).length).toBe(poses.length);
  });
  it("pair neighbours of one side: arm with collar bone, thigh forward with out, never left with right", () => {
    const pairs = new Set(poses.map((p) => [p.a.label, p.b.label].sort().join(" + ")));
    expect([...pairs].some((p) => /left shoulder .* \+ left upper arm/.test(p))).toBe(true);
    expect([...pairs].some((p) => /left upper leg .* \+ left upper leg/.test(p))).toBe(true);
    expect([...pairs].some((p) => /left/.test(p) && /right/.test(p))).toBe(false);
    for (const p of poses)
      for (const [m, d] of [
        [p.a, p.degreesA],
        [p.b, p.degreesB],
      ] as const) {
        expect(d).toBeGreaterThanOrEqual(m.min);
        expect(d).toBeLessThanOrEqual(m.max);
      }
  });
  it("turn a joint by one after the other where both act on it", () => {
    const both = poses.find((p) => p.a.joint === p.b.joint)!;
    const turn = (pose: ReturnType<typeof combinedPose>) => {
      const j = oda.skeleton!.joints.findIndex((x) => x.name === both.a.joint);
      const { parent, rotation } = oda.skeleton!.joints[j]!;
      expect(parent).toBeGreaterThanOrEqual(0);
      const world = worldMatrices(oda.skeleton!, pose);
      const q = decomposeTRS(world, 16 * j).q;
      const up = decomposeTRS(world, 16 * parent).q;
      const conj = ([x, y, z, w]: readonly number[]): [number, number, number, number] => [-x!, -y!, -z!, w!];
      return multiplyQuat(conj(rotation), multiplyQuat(conj(up), q));
    };
    expect(
      angleBetweenQuats(
        turn(combinedPose(both)),
        multiplyQuat(turn(motionPose(both.a, both.degreesA)), turn(motionPose(both.b, both.degreesB))),
      ),
    ).toBeLessThan(0.01);
  });
  it("read what neither motion reads alone: the worse of both joints", async () => {
    const some = poses.filter((p) => p.a.bone.startsWith("left") && /Arm|Shoulder/.test(p.a.bone)).slice(0, 16);
    const rows = await readCombined(makeRig(oda), some, REST_MOMENT, (a, b) => a.depth > b.depth);
    expect(rows.length).toBe(some.length);
    const deepest = rows.reduce((a, b) => (b.reading.depth > a.reading.depth ? b : a));
    const rig = makeRig(oda);
    const gauge = makeJointGauge(
      rig,
      oda.skeleton!.joints.findIndex((j) => j.name === deepest.joint),
    )!;
    expect(measureJoint(gauge, { ...REST_MOMENT, pose: combinedPose(deepest) }).reading).toEqual(deepest.reading);
    const alone = [motionPose(deepest.a, deepest.degreesA), motionPose(deepest.b, deepest.degreesB)].map(
      (pose) => measureJoint(gauge, { ...REST_MOMENT, pose }).reading.depth,
    );
    expect(deepest.reading.depth).toBeGreaterThan(Math.max(...alone));
  });
});

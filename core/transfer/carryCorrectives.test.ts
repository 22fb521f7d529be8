import { loadMember } from "../../demo/cast";
import { sculptMoment } from "../correctives/proposeSculpt";
import { makeRig, withShapes } from "../deform/rig";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { makeJointGauge, measureJoint, withRig, type JointReading } from "../measure/measureJoint";
import { decomposeTRS } from "../math/mat4";
import { fromAxisAngle, rotate, toEulerXYZ } from "../math/quat";
import { degrees, dot } from "../math/vec3";
import type { Character } from "../model/character";
import { jointIndexOf } from "../model/jointIndex";
import { renameJoints } from "../skeleton/renameJoints";
import { boneDirection } from "../skeleton/boneDirection";
import { humanoidMap } from "../skeleton/humanoidMap";
import { jointMotions, motionPose, type JointMotion } from "../skeleton/jointMotions";
import { carryCorrectives } from "./carryCorrectives";
import { standLike } from "./standLike";

/** Wick comes with 62 correctives and rests with his arms low; Tarn rests in a T and is bound otherwise. */
const wick = await loadMember("wick");
const bare = (c: Character): Character => ({
  ...c,
  shapes: [],
  drivers: [],
  shapeDrivers: [],
  poseDrivers: [],
  sampleSets: [],
  mixes: [],
  clips: [],
});
const tarn = bare(await loadMember("tarn"));
const motionsOf = (c: Character): JointMotion[] => jointMotions(c.skeleton!, humanoidMap(c.skeleton!, c.jointMap));
const motionOf = (c: Character, id: RegExp): JointMotion => motionsOf(c).find((m) => id.test(m.id))!;
const kept = wick.drivers.filter((d) => /^left(LowerLeg|LowerArm|UpperArm)$/.test(d.joint));
const names = new Set([...kept.map((d) => d.shape), "swung"]);
const shoulder = wick.skeleton!.joints[humanoidMap(wick.skeleton!, wick.jointMap).jointOfBone.get("leftUpperArm")!]!;
const raise = motionOf(wick, /leftUpperArm\/raise/);
const raised = fromAxisAngle(raise.axis, 90);
const source: Character = {
  ...wick,
  clips: [],
  shapes: [
    ...wick.shapes,
    { name: "swung", label: "swung", deltas: wick.shapes.find((s) => s.name === kept[0]!.shape)!.deltas },
  ],
  sampleSets: [
    {
      name: "shoulder",
      joints: [
        {
          joint: shoulder.name,
          along: boneDirection(
            wick.skeleton!,
            humanoidMap(wick.skeleton!, wick.jointMap),
            jointIndexOf(wick.skeleton!).get(shoulder.name)!,
          ),
        },
      ],
      samples: [{ name: "raised", shape: "swung", turns: [raised] }],
      kernel: "gaussian",
      radiusDegrees: 60,
      twistShare: 0.5,
      group: "corrective",
      enabled: true,
    },
  ],
};
const carried = await carryCorrectives(source, tarn, names);

describe("a figure that stands like another", () => {
  it.each(["rest", "bound"] as const)("holds its limbs as that one does where it %s", (where) => {
    const pose = standLike(wick, tarn, where);
    const map = humanoidMap(wick.skeleton!, wick.jointMap);
    const world = worldMatrices(wick.skeleton!, pose);
    const j = map.jointOfBone.get("leftUpperArm")!;
    const points = rotate(decomposeTRS(world, 16 * j).q, boneDirection(wick.skeleton!, map, j));
    // Tarn rests with level arms and is bound with them low
    const below = degrees(Math.asin(-points[1]));
    if (where === "rest") expect(Math.abs(below)).toBeLessThan(3);
    else expect(below).toBeGreaterThan(20);
  });
});

describe("correctives carried to another character", () => {
  it("are driven by the joints of the same limbs, about that figure's own motions, counted from its rest", () => {
    expect(carried.leftOut).toEqual([]);
    expect(carried.driven.length).toBe(kept.length);
    const [low, level] = [wick, tarn].map((c) => motionOf(c, /leftUpperArm\/raise/));
    for (const { driver } of carried.driven) {
      const was = kept.find((d) => d.shape === driver.shape)!;
      expect(driver.joint).toBe(was.joint);
      const axes = motionsOf(tarn).filter((m) => m.joint === driver.joint);
      expect(axes.some((m) => Math.abs(dot(m.axis, driver.axis)) > 0.9999)).toBe(true);
      if (Math.abs(dot(was.axis, low!.axis)) > 0.99 && was.joint === low!.joint)
        // arms that rest higher by as much as the ranges' ends lie lower
        expect(Math.abs(driver.toDegrees - (was.toDegrees + level!.min - low!.min))).toBeLessThan(3);
    }
  });
  it("keep sampled poses where the limb points the same way, and the rest there as a pose without a shape", () => {
    const [{ set, shapes }] = carried.sampled as [(typeof carried.sampled)[number]];
    expect(shapes.map((s) => s.name)).toEqual(["swung"]);
    expect(set.samples.map((s) => s.shape)).toEqual(["swung", null]);
    const pointing = (c: Character, pose: Parameters<typeof worldMatrices>[1]): readonly number[] => {
      const map = humanoidMap(c.skeleton!, c.jointMap);
      const j = map.jointOfBone.get("leftUpperArm")!;
      return rotate(decomposeTRS(worldMatrices(c.skeleton!, pose), 16 * j).q, boneDirection(c.skeleton!, map, j));
    };
    const there = pointing(wick, { [shoulder.name]: toEulerXYZ(raised) });
    const here = pointing(tarn, { [set.joints[0]!.joint]: toEulerXYZ(set.samples[0]!.turns[0]!) });
    expect(degrees(Math.acos(dot(there as never, here as never)))).toBeLessThan(4);
  });
  it.each(["knee", "elbow"])("take away what is wrong there: %s", (what) => {
    const motion = motionOf(tarn, what === "knee" ? /leftLowerLeg\/bend/ : /leftLowerArm\/bend/);
    const rig = makeRig(tarn);
    const gauge = makeJointGauge(rig, jointIndexOf(tarn.skeleton!).get(motion.joint)!)!;
    const corrected = withRig(
      gauge,
      withShapes(rig, {
        ...tarn,
        shapes: carried.driven.map((d) => d.shape),
        drivers: carried.driven.map((d) => d.driver),
      }),
    );
    const at = (of: typeof gauge): JointReading =>
      measureJoint(of, { ...sculptMoment(motionPose(motion, motion.max)), drivers: true }).reading;
    const [before, after] = [at(gauge), at(corrected)];
    expect(before.depth).toBeGreaterThan(20);
    expect(after.depth).toBeLessThan(0.6 * before.depth);
    expect(after.flips).toBeLessThan(before.flips);
  });
  it("go to joints of other names, and those of joints that are not there are left out, and told", async () => {
    const renamed = renameJoints(tarn, new Map([["leftLowerLeg", "shin.L"]]));
    const other: Character = {
      ...renamed,
      jointMap: { ...renamed.jointMap, "shin.L": "leftLowerLeg", leftLowerArm: null },
    };
    const again = await carryCorrectives(source, other, names);
    expect(new Set(again.driven.map((d) => d.driver.joint))).toContain("shin.L");
    expect(again.driven.some((d) => d.driver.joint === "leftLowerArm")).toBe(false);
    expect(again.leftOut[0]!.why).toMatch(/leftLowerArm has no counterpart/);
  });
  it("are refused without joints", async () =>
    expect(carryCorrectives(source, { ...tarn, skeleton: null }, names)).rejects.toThrow(/has none/));
});

import { characterWith, skeletonOf, tube } from "../../tests/helpers/characters";
import { deform, makeRig } from "../deform/rig";
import { evaluate } from "../evaluate/evaluate";
import { REST_MOMENT, type Moment } from "../evaluate/moment";
import { withoutTwists, withTwistTracks } from "../evaluate/twistTracks";
import { readGlb } from "../formats/glb/readGlb";
import { writeGlb } from "../formats/glb/writeGlb";
import { twistLoss } from "../measure/twistLoss";
import { assertCharacter } from "../model/assertCharacter";
import { angleBetweenQuats } from "../math/quat";
import type { Quat } from "../math/vec3";
import { jointIndexOf } from "../model/jointIndex";
import { NO_JOINT, type Character } from "../model/character";
import { renameJoints } from "../skeleton/renameJoints";
import { rebind } from "../skeleton/rebind";
import type { JointMotion } from "../skeleton/jointMotions";
import { denseWeights } from "./denseWeights";
import { spreadTwist } from "./spreadTwist";

/** A limb of 0.6 m whose far half is another joint's, blended evenly over 80 % of its length; a hand at its end. */
const inLimb: Character = {
  ...tube({ blend: 0.8, rings: 61 }),
  skeleton: skeletonOf([
    { name: "arm", parent: NO_JOINT },
    { name: "armRoll", parent: 0, translation: [0, 0.3, 0] },
    { name: "hand", parent: 1, translation: [0, 0.3, 0] },
  ]),
};
/** The same tube held by one joint that twists all of it, on one that holds the next piece of the body. */
const whole: Character = {
  ...inLimb,
  skeleton: skeletonOf([
    { name: "body", parent: NO_JOINT, translation: [0.2, 0, 0] },
    { name: "arm_l", parent: 0, translation: [-0.2, 0, 0] },
    { name: "hand_l", parent: 1, translation: [0, 0.6, 0] },
  ]),
  parts: inLimb.parts.map((p) => ({
    ...p,
    skin: {
      ...p.skin!,
      // the body holds what lies about the joint, by halves
      weights: p.skin!.weights.map((_, i) => {
        const own = Math.min(1, 0.5 + 5 * p.positions[3 * Math.floor(i / 2) + 1]!);
        return i % 2 ? own : 1 - own;
      }),
    },
  })),
};
const twist = (joint: string): JointMotion => ({
  id: `${joint}/twist`,
  joint,
  bone: "leftLowerArm",
  name: "twist",
  label: "twist",
  axis: [0, 1, 0],
  min: 0,
  max: 80,
});
const at = (pose: Moment["pose"]): Moment => ({ ...REST_MOMENT, pose });

describe("the twist of a limb", () => {
  it("wrings skin that is half one joint's and half another's to cos(t/2) squared of its section", () => {
    const read = twistLoss(makeRig(inLimb), twist("armRoll"), "hand", "linear")!;
    // closed form: the mean of two points of a circle that are t apart lies at cos(t/2) of its radius
    expect(read.left).toBeGreaterThan(Math.cos((40 * Math.PI) / 180) ** 2 - 1e-3);
    expect(read.left).toBeLessThan(Math.cos((40 * Math.PI) / 180) ** 2 + 0.02);
    expect(read.at).toBeGreaterThan(0.4);
    expect(read.at).toBeLessThan(0.6);
  });
  it.each([2, 3, 5])("spread over %i steps loses as much as a twist by one step's part", (steps) => {
    const spread = spreadTwist(inLimb, { joint: "armRoll", end: "hand", steps });
    expect(() => assertCharacter(spread)).not.toThrow();
    expect(spread.skeleton!.joints.slice(3).map((j) => j.name)).toEqual(
      Array.from({ length: steps - 1 }, (_, i) => `armRoll${i + 1}`),
    );
    const read = twistLoss(makeRig(spread), twist("armRoll"), "hand", "linear")!;
    expect(read.left).toBeGreaterThan(Math.cos((40 / steps / 180) * Math.PI) ** 2 - 1e-3);
    expect(read.left).toBeLessThan(1);
  });
  it("of a limb that its first joint twists begins at none and is complete at its end", () => {
    const spread = spreadTwist(whole, { joint: "arm_l", end: "hand_l", steps: 4 });
    expect(spread.twistJoints!.map((t) => [t.joint, t.share])).toEqual([
      ["arm_twist1_l", -1],
      ["arm_twist2_l", -0.75],
      ["arm_twist3_l", -0.5],
      ["arm_twist4_l", -0.25],
    ]);
    const { positions } = deform(makeRig(spread), at({ arm_l: [0, 80, 0] }), { normals: false });
    const turned = (v: number): number => {
      const [P, Q] = [spread.parts[0]!.positions, positions[0]!];
      const angle = Math.atan2(P[3 * v + 2]!, P[3 * v]!) - Math.atan2(Q[3 * v + 2]!, Q[3 * v]!);
      return (((angle * 180) / Math.PI + 540) % 360) - 180;
    };
    // 24 vertices a ring, 61 rings; the last ring turns in full, one in the middle by half
    expect(turned(24 * 60 + 3)).toBeCloseTo(80, 3);
    expect(turned(24 * 30 + 3)).toBeCloseTo(40, 1);
    expect(turned(24 * 3 + 3)).toBeCloseTo(0, 1);
  });
  it.each([
    ["within it", inLimb, "armRoll", "hand", "arm"],
    ["at its first joint", whole, "arm_l", "hand_l", "arm_l"],
  ] as const)(
    "changes nothing in poses without twist, and no vertex holds more or less: %s",
    (_, c, joint, end, bent) => {
      const spread = spreadTwist(c, { joint, end, steps: 3 });
      for (const pose of [{}, { [bent]: [50, 0, 0] }, { [end]: [10, 20, 30] }] as Moment["pose"][]) {
        const [a, b] = [c, spread].map((x) => deform(makeRig(x), at(pose), { normals: false }).positions[0]!);
        expect(Math.max(...a!.map((x, i) => Math.abs(x - b![i]!)))).toBeLessThan(1e-6);
      }
      const count = spread.skeleton!.joints.length;
      const dense = denseWeights(spread.parts[0]!, count);
      for (let v = 0; v < dense.length; v += count)
        expect(dense.subarray(v, v + count).reduce((x, y) => x + y)).toBeCloseTo(1, 5);
    },
  );
  it("is refused twice, without a joint, and for a limb without length", () => {
    const limb = { joint: "armRoll", end: "hand", steps: 3 };
    expect(() => spreadTwist(spreadTwist(inLimb, limb), limb)).toThrow(/spread already/);
    expect(() => spreadTwist(inLimb, { ...limb, joint: "leg" })).toThrow(/no joint named leg/);
    expect(() => spreadTwist(inLimb, { ...limb, steps: 1 })).toThrow(/2 to 8/);
    expect(() => spreadTwist(inLimb, { joint: "hand", end: "hand", steps: 3 })).toThrow(/at one place/);
    expect(() => spreadTwist(characterWith({}), limb)).toThrow(/no skeleton/);
  });
});

describe("joints that share a twist", () => {
  const spread = spreadTwist(inLimb, { joint: "armRoll", end: "hand", steps: 2 });
  const turnOf = (c: Character, joint: string, pose: Moment["pose"]): number[] => {
    const j = jointIndexOf(c.skeleton!).get(joint)!;
    return [...evaluate(c, at(pose)).turns.subarray(4 * j, 4 * j + 4)];
  };
  it("turn by their share, whatever else the joint turns about, and stand where the hand sets them", () => {
    const half = (20 * Math.PI) / 180;
    const [x, y, z, w] = turnOf(spread, "armRoll1", { armRoll: [0, 80, 0] });
    expect([x, y, z, w]).toEqual([
      expect.closeTo(Math.sin(half)),
      expect.closeTo(0),
      expect.closeTo(0),
      expect.closeTo(Math.cos(half)),
    ]);
    expect(turnOf(spread, "armRoll1", { armRoll: [70, 0, 0] })[3]).toBeCloseTo(1);
    const byHand = turnOf(spread, "armRoll1", { armRoll: [0, 80, 0], armRoll1: [10, 0, 0] });
    expect(byHand[0]).toBeCloseTo(Math.sin((5 * Math.PI) / 180));
  });
  it("keep what they read when joints are renamed, and their turn where the mesh is bound anew in a twist", () => {
    const renamed = renameJoints(spread, new Map([["armRoll", "roll"]]));
    expect(turnOf(renamed, "armRoll1", { roll: [0, 80, 0] })[0]).toBeCloseTo(Math.sin((20 * Math.PI) / 180));
    const bound = rebind(spread, { armRoll: [0, 40, 0] });
    const [a, b] = [
      deform(makeRig(spread), at({ armRoll: [0, 70, 0] }), { normals: false }).positions[0]!,
      deform(makeRig(bound), at({ armRoll: [0, 30, 0] }), { normals: false }).positions[0]!,
    ];
    // blends of two joints are bound anew as they stand there: what is left is theirs
    expect(Math.max(...a.map((p, i) => Math.abs(p - b[i]!)))).toBeLessThan(0.0025);
  });
  const roll = [0, 30, 75].map((y) => [0, Math.sin((y * Math.PI) / 360), 0, Math.cos((y * Math.PI) / 360)]);
  const playing: Character = {
    ...spread,
    clips: [
      {
        name: "wring",
        tracks: [
          {
            joint: "armRoll",
            path: "rotation",
            interpolation: "LINEAR",
            times: Float32Array.of(0, 1, 2),
            values: Float32Array.from(roll.flat()),
          },
        ],
      },
    ],
  };
  it("are written into clips for players that turn none, and read back as they were", async () => {
    const [clip] = withTwistTracks(playing);
    const own = clip!.tracks.find((t) => t.joint === "armRoll1")!;
    expect([...own.times]).toEqual([0, 1, 2]);
    const [first, last] = [0, 8].map((k) => [...own.values.subarray(k, k + 4)] as unknown as Quat);
    expect(angleBetweenQuats(first!, last!)).toBeCloseTo(37.5, 3);
    expect(withoutTwists(clip!.tracks, spread).length).toBe(1);
    const again = await readGlb(await writeGlb(playing), "wring.glb");
    expect(again.twistJoints).toEqual(
      spread.twistJoints!.map((t) => ({ ...t, axis: [...t.axis], about: [...t.about] })),
    );
    expect(again.clips[0]!.tracks.map((t) => t.joint)).toEqual(["armRoll"]);
  });
});

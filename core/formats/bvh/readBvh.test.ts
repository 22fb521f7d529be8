import { clipMatrices } from "../../evaluate/clipMatrices";
import { bringClip } from "../../clips/bringClip";
import { motionFromBvh } from "../../clips/sourceMotion";
import { characterWith } from "../../../tests/helpers/characters";
import { loadMember } from "../../../demo/cast";
import { foreignName, fromT } from "../../../demo/clips/foreignSkeleton";
import { translationOf } from "../../math/mat4";
import { NO_JOINT, type Joint, type Skeleton } from "../../model/character";
import { bvhMove, bvhTurn, readBvh } from "./readBvh";
import { writeBvh } from "./writeBvh";

const SMALL = `HIERARCHY
ROOT hips
{
  OFFSET 0 0 0
  CHANNELS 6 Xposition Yposition Zposition Zrotation Xrotation Yrotation
  JOINT spine
  {
    OFFSET 0 10 0
    CHANNELS 3 Zrotation Xrotation Yrotation
    End Site
    {
      OFFSET 0 5 0
    }
  }
}
MOTION
Frames: 2
Frame Time: 0.0333333
1 2 3 0 0 0 90 0 0
4 5 6 0 90 0 0 0 0
`;

describe("BVH", () => {
  it("is read: joints, channels, frames", () => {
    const bvh = readBvh(SMALL, "small.bvh");
    expect(bvh.joints.map((j) => [j.name, j.parent, j.at])).toEqual([
      ["hips", -1, 0],
      ["spine", 0, 6],
    ]);
    expect([bvh.frames, bvh.width]).toEqual([2, 9]);
    expect(bvhMove(bvh, bvh.joints[0]!, 1)).toEqual([4, 5, 6]);
    expect(bvhMove(bvh, bvh.joints[1]!, 1)).toBeNull();
    const [x, , , w] = bvhTurn(bvh, bvh.joints[0]!, 1);
    expect([x, w].map((n) => Number(n.toFixed(6)))).toEqual([0.707107, 0.707107]);
  });
  it.each([
    ["another kind of file", "solid cube", /not a BVH file/],
    ["no frames", SMALL.split("MOTION")[0]!, /MOTION.* is missing/],
    ["a word for a number", SMALL.replace("OFFSET 0 10 0", "OFFSET 0 ten 0"), /"ten" is not a number \(line 8\)/],
    [
      "a channel that is none",
      SMALL.replace("CHANNELS 3 Zrotation", "CHANNELS 3 Wrotation"),
      /"Wrotation" is not a channel/,
    ],
    ["fewer frames than promised", SMALL.replace("Frames: 2", "Frames: 9"), /promises 9 frames and holds 2/],
    ["no time", SMALL.replace("Frame Time: 0.0333333", "Frame Time: none"), /time of a frame is missing/],
    ["a brace too few", SMALL.replace("    }\n  }\n}\nMOTION", "    }\n  }\nMOTION"), /ends too early/],
    ["NaN in a frame", SMALL.replace("4 5 6", "4 NaN 6"), /"NaN" is not a number \(line 20\)/],
  ])("with %s is refused, with the place", (_what, text, error) => expect(() => readBvh(text, "x.bvh")).toThrow(error));
});

describe("a BVH of too many joints", () => {
  const wide = (n: number): string => {
    const joints = Array.from(
      { length: n },
      (_, i) => `JOINT j${i} { OFFSET 0 1 0 CHANNELS 3 Zrotation Xrotation Yrotation End Site { OFFSET 0 1 0 } }`,
    );
    const row = Array.from({ length: 3 + 3 * n }, () => 0).join(" ");
    return `HIERARCHY ROOT r { OFFSET 0 0 0 CHANNELS 3 Zrotation Xrotation Yrotation ${joints.join(" ")} }\nMOTION\nFrames: 1\nFrame Time: 0.03\n${row}\n`;
  };
  const deep = (n: number): string =>
    `HIERARCHY ${Array.from({ length: n }, (_, i) => `${i ? "JOINT" : "ROOT"} j${i} { OFFSET 0 1 0 CHANNELS 3 Zrotation Xrotation Yrotation`).join(" ")} End Site { OFFSET 0 1 0 } ${"}".repeat(n)}\nMOTION\nFrames: 1\nFrame Time: 0.03\n${Array.from({ length: 3 * n }, () => 0).join(" ")}\n`;
  it("is refused at once, and what to do is said", () => {
    expect(() => readBvh(wide(10_000), "x.bvh")).toThrow(/up to 5,000 are read. Export the body alone/);
    expect(() => readBvh(deep(10_000), "x.bvh")).toThrow(/hanging one on another; up to 500 are read/);
  });
  it("is read up to there", () => {
    expect(readBvh(wide(200), "x.bvh").joints.filter((j) => j.channels.length > 0)).toHaveLength(201);
  });
});

describe("a BVH clip on a character", () => {
  it.each([
    ["its own names, in metres", {}],
    [
      "another skeleton's names, in centimetres, from a T rest",
      { rename: foreignName, restTurn: fromT, unitsPerMetre: 100 },
    ],
  ] as const)("with %s puts the limbs where the clip put them", async (what, options) => {
    const oda = await loadMember("oda");
    const walk = oda.clips.find((c) => c.name === "walk")!;
    const bvh = readBvh(writeBvh(oda.skeleton!, walk, { unitsPerMetre: 1, ...options }), "walk.bvh");
    const { clip, report } = bringClip(oda, motionFromBvh(bvh, "walk"), "walk again");
    expect(report.map.length).toBeGreaterThan(20);
    const joints = ["leftHand", "rightFoot", "head", "hips"];
    for (const t of [0, 0.3, 0.6]) {
      const [A, B] = [walk, clip].map((c) => clipMatrices(oda.skeleton!, c, t)) as [Float64Array, Float64Array];
      for (const name of joints) {
        const j = oda.skeleton!.joints.findIndex((x) => x.name === name);
        const [p, q] = [translationOf(A, 16 * j), translationOf(B, 16 * j)];
        expect(1000 * Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2])).toBeLessThan(
          what.startsWith("its own") ? 0.5 : 8,
        );
      }
    }
  });
  it("puts the pelvis where the file does on a skeleton that hangs under a node of another scale", () => {
    // joints in centimetres under a node that makes metres of them
    const joint = (name: string, parent: number, translation: [number, number, number], scale = 1): Joint => ({
      name,
      parent,
      translation,
      rotation: [0, 0, 0, 1],
      scale: [scale, scale, scale],
    });
    const skeleton: Skeleton = {
      joints: [
        joint("rig", NO_JOINT, [0, 0.1, 0], 0.01),
        joint("hips", 0, [0, 90, 0]),
        joint("spine", 1, [0, 10, 0]),
        joint("head", 2, [0, 40, 0]),
      ],
      inverseBinds: new Float32Array(64),
      inSkin: Uint8Array.of(0, 1, 1, 1),
    };
    const text =
      "HIERARCHY\nROOT hips\n{\nOFFSET 0 0 0\nCHANNELS 6 Xposition Yposition Zposition Zrotation " +
      ("Xrotation Yrotation\nJOINT spine\n{\nOFFSET 0 10 0\nCHANNELS 3 Zrotation Xrotation Yrotation\nJOINT " +
        "head\n{\nOFFSET 0 40 0\nCHANNELS 3 Zrotation Xrotation Yrotation\nEnd Site\n{\nOFFSET 0 5 0\n}\n}\n}\n}\nMOTION\nFrames: 2\nFrame Time: 0.5\n0 100 0 0 0 0 0 0 0 0 0 0\n30 90 -20 0 0 0 0 0 0 0 0 0\n");
    const { clip, report } = bringClip(characterWith({ skeleton }), motionFromBvh(readBvh(text, "step.bvh"), "s"), "s");
    const { unit } = report;
    for (const [t, x, y, z] of [
      [0, 0, 100, 0],
      [0.5, 30, 90, -20],
    ] as const) {
      const at = translationOf(clipMatrices(skeleton, clip, t), 16);
      [x, y, z].forEach((v, c) => expect(at[c]).toBeCloseTo(unit * v, 5));
    }
  });
  it("is refused where nothing fits", () =>
    expect(() => bringClip(characterWith({}), motionFromBvh(readBvh(SMALL, "small.bvh"), "small"), "small")).toThrow(
      /no skeleton/,
    ));
});

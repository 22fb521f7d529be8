import { characterWith, figureSkeleton, randomPose, shapeOf, skeletonOf, tube } from "../../tests/helpers/characters";
import { randomFrom } from "../../tests/helpers/random";
import { clipMatrices } from "../evaluate/clipMatrices";
import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT } from "../evaluate/moment";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { composeTRS, decomposeTRS, translationOf } from "../math/mat4";
import { angleBetweenQuats, fromAxisAngle, multiplyQuat, rotate } from "../math/quat";
import { length, sub, type Vec3 } from "../math/vec3";
import { assertCharacter } from "../model/assertCharacter";
import { NO_JOINT, type Character, type Clip } from "../model/character";
import { changeRest } from "./changeRest";
import { bendHinge, bendHinges, hingeBends, HINGED_LIMBS, REST_BEND, squareHinge } from "./hinges";
import { humanoidMap } from "./humanoidMap";
import { swapSide } from "../names/nameWords";
import { rearrangeJoints, removeJoints, reparentJoint } from "./rearrangeJoints";
import { renameJoints } from "./renameJoints";
import { buildShapes, jointOffsetsOf, refitJoints, refitShapes } from "../edits/skeleton/refitJoints";
import { restToBind } from "./restToBind";
import { runChecks } from "../checks/runChecks";
import { PROFILES } from "../checks/profile";

const limb = tube();
const chain = skeletonOf([
  { name: "root", parent: NO_JOINT, translation: [0, 1, 0] },
  { name: "upper", parent: 0, translation: [0, 0.2, 0], rotation: fromAxisAngle([0, 0, 1], 20) },
  { name: "lower", parent: 1, translation: [0, 0.3, 0] },
  { name: "tip", parent: 2, translation: [0, 0.2, 0] },
  { name: "side", parent: 0, translation: [0.2, 0, 0] },
]);
const clip: Clip = {
  name: "turn",
  tracks: [
    {
      joint: "upper",
      path: "rotation",
      interpolation: "LINEAR",
      times: Float32Array.of(0, 1),
      values: Float32Array.from([
        ...chain.joints[1]!.rotation,
        ...multiplyQuat(chain.joints[1]!.rotation, fromAxisAngle([1, 0, 0], 50)),
      ]),
    },
    {
      joint: "lower",
      path: "rotation",
      interpolation: "LINEAR",
      times: Float32Array.of(0, 1),
      values: Float32Array.from([0, 0, 0, 1, ...fromAxisAngle([0, 0, 1], 70)]),
    },
    {
      joint: "root",
      path: "translation",
      interpolation: "LINEAR",
      times: Float32Array.of(0, 1),
      values: Float32Array.of(0, 1, 0, 0.3, 1.1, 0),
    },
  ],
};
const figure = characterWith({
  skeleton: chain,
  clips: [clip],
  drivers: [
    {
      shape: "s",
      joint: "lower",
      axis: [0, 0, 1],
      fromDegrees: 0,
      toDegrees: 70,
      easing: "linear",
      intensity: 1,
      enabled: true,
    },
  ],
  jointMap: { upper: "leftUpperArm", tip: null },
});
const at = (c: Character, name: string, t: number): readonly number[] =>
  translationOf(clipMatrices(c.skeleton!, c.clips[0]!, t), 16 * c.skeleton!.joints.findIndex((j) => j.name === name));

describe("another rest", () => {
  const turned = (degrees: number): Character => {
    const rest = worldMatrices(chain, {});
    const { t, q, s } = decomposeTRS(rest, 16 * 2);
    composeTRS(rest, 16 * 2, t, multiplyQuat(q, fromAxisAngle([0, 1, 0], degrees)), s);
    return changeRest(figure, rest);
  };
  it("turns one frame and moves nothing, at rest or in a clip", () => {
    const after = turned(30);
    for (const t of [0, 0.5, 1])
      for (const name of ["upper", "lower", "tip"])
        at(after, name, t).forEach((x, c) => expect(x).toBeCloseTo(at(figure, name, t)[c]!, 5));
    const [a, b] = [figure, after].map((c) => decomposeTRS(clipMatrices(c.skeleton!, c.clips[0]!, 1), 32).q);
    expect(angleBetweenQuats(a!, b!)).toBeCloseTo(30, 3);
  });
  it("keeps a driver's axis in space", () => {
    const axisInSpace = (c: Character): readonly number[] =>
      rotate(decomposeTRS(worldMatrices(c.skeleton!, {}), 32).q, c.drivers[0]!.axis);
    axisInSpace(turned(30)).forEach((x, c) => expect(x).toBeCloseTo(axisInSpace(figure)[c]!, 6));
  });
  it("leaves the mesh where it is at rest, and bends it about the joint's new place", () => {
    const rest = worldMatrices(limb.skeleton!, {});
    const { q, s } = decomposeTRS(rest, 16);
    composeTRS(rest, 16, [0, 0.35, 0], q, s);
    const moved = changeRest(limb, rest);
    const [P, Q] = [limb, moved].map((c) => deform(makeRig(c), REST_MOMENT, { normals: false }).positions[0]!);
    Q!.forEach((x, i) => expect(x).toBeCloseTo(P![i]!, 6));
    const bent = worldMatrices(moved.skeleton!, { lower: [90, 0, 0] });
    expect(translationOf(bent, 16)[1]).toBeCloseTo(0.35, 6);
    assertCharacter(moved);
  });
  it("that is the same changes no joint", () =>
    expect(changeRest(figure, worldMatrices(chain, {})).skeleton!.joints).toEqual(chain.joints));
  it("is refused without a skeleton", () =>
    expect(() => changeRest(characterWith({}), new Float64Array(0))).toThrow(/no skeleton/));
});

describe("rest set to the bind", () => {
  it("undoes any pose that a skeleton was left in, to a thousandth of a millimetre", () => {
    const random = randomFrom(3);
    for (let n = 0; n < 5; n++) {
      const pose = randomPose(random, figure);
      const left = {
        ...figure,
        skeleton: {
          ...chain,
          joints: chain.joints.map((j) => ({
            ...j,
            rotation: multiplyQuat(j.rotation, fromAxisAngle([0, 0, 1], pose[j.name]?.[2] ?? 0)),
          })),
        },
      };
      const [a, b] = [chain, restToBind(left).skeleton!].map((s) => worldMatrices(s, {}));
      b!.forEach((x, i) => expect(x).toBeCloseTo(a![i]!, 5));
    }
  });
  it("leaves joints outside the skin under what they hang on", () => {
    const loose = {
      ...chain,
      inSkin: Uint8Array.of(1, 1, 1, 0, 1),
      joints: chain.joints.map((j, i) => (i === 1 ? { ...j, rotation: [0, 0, 0, 1] as const } : j)),
    };
    const [a, b] = [chain, restToBind({ ...figure, skeleton: loose }).skeleton!].map((s) =>
      translationOf(worldMatrices(s, {}), 48),
    );
    b!.forEach((x, c) => expect(x).toBeCloseTo(a![c]!, 5));
  });
});

describe("hanging joints elsewhere", () => {
  it("keeps their place, and puts parents first", () => {
    const after = reparentJoint(figure, 1, 4);
    assertCharacter(after);
    expect(after.skeleton!.joints.map((j) => j.name)).toEqual(["root", "side", "upper", "lower", "tip"]);
    for (const name of ["upper", "tip"]) {
      const place = (c: Character): readonly number[] =>
        translationOf(worldMatrices(c.skeleton!, {}), 16 * c.skeleton!.joints.findIndex((j) => j.name === name));
      place(after).forEach((x, c) => expect(x).toBeCloseTo(place(figure)[c]!, 6));
    }
    at(after, "tip", 0).forEach((x, c) => expect(x).toBeCloseTo(at(figure, "tip", 0)[c]!, 5));
  });
  it.each(["LINEAR", "CUBICSPLINE"] as const)(
    "keeps where %s keys of translation and rotation put it, while what it hung on and hangs on now are at rest",
    (interpolation) => {
      const cubic = (values: number[], size: number): number[] =>
        interpolation === "LINEAR"
          ? values
          : values.flatMap((_, i) =>
              i % size
                ? []
                : [...Array<number>(size).fill(0.25), ...values.slice(i, i + size), ...Array<number>(size).fill(-0.25)],
            );
      const times = Float32Array.of(0, 1);
      const half = Math.SQRT1_2;
      const clip: Clip = {
        name: "moves",
        tracks: [
          {
            joint: "upper",
            path: "translation",
            interpolation,
            times,
            values: Float32Array.from(cubic([0, 2, 0, 0.5, 1, -0.25], 3)),
          },
          {
            joint: "upper",
            path: "rotation",
            interpolation,
            times,
            values: Float32Array.from(cubic([0, 0, 0, 1, half, 0, 0, half], 4)),
          },
          {
            joint: "upper",
            path: "scale",
            interpolation,
            times,
            values: Float32Array.from(cubic([1, 1, 1, 2, 2, 2], 3)),
          },
        ],
      };
      const keyed = { ...figure, clips: [clip] };
      const after = reparentJoint(keyed, 1, 4);
      assertCharacter(after);
      for (const t of [0, 1]) {
        const matrix = (c: Character): number[] =>
          Array.from(
            clipMatrices(c.skeleton!, c.clips[0]!, t).slice(
              16 * c.skeleton!.joints.findIndex((j) => j.name === "upper"),
            ),
          ).slice(0, 16);
        matrix(after).forEach((x, i) => expect(x).toBeCloseTo(matrix(keyed)[i]!, 5));
      }
      // tangents turn with the frame and are not moved: their length stays
      if (interpolation === "CUBICSPLINE")
        expect(Math.hypot(...after.clips[0]!.tracks[0]!.values.slice(0, 3))).toBeCloseTo(0.25 * Math.sqrt(3), 5);
    },
  );
  it("is refused under itself", () => expect(() => reparentJoint(figure, 1, 3)).toThrow(/hang on itself/));
  it("renumbers what the skin holds: a posed mesh is the same", () => {
    const extra = skeletonOf([
      { name: "spare", parent: NO_JOINT },
      ...limb.skeleton!.joints.map((j) => ({ ...j, parent: j.parent === NO_JOINT ? NO_JOINT : j.parent + 1 })),
    ]);
    const with_ = {
      ...limb,
      skeleton: extra,
      parts: limb.parts.map((p) => ({ ...p, skin: { ...p.skin!, joints: p.skin!.joints.map((j) => j + 1) } })),
    };
    const without = removeJoints(with_, new Set([0]));
    const [P, Q] = [limb, without].map(
      (c) => deform(makeRig(c), { ...REST_MOMENT, pose: { lower: [60, 0, 0] } }, { normals: false }).positions[0]!,
    );
    Q!.forEach((x, i) => expect(x).toBeCloseTo(P![i]!, 6));
  });
  it("gives the weight of a joint that goes to the one above it, and drops its tracks and map entry", () => {
    const after = removeJoints(
      { ...figure, drivers: [], clips: [{ ...clip, tracks: [...clip.tracks, { ...clip.tracks[1]!, joint: "tip" }] }] },
      new Set([3]),
    );
    expect(after.clips[0]!.tracks.map((t) => t.joint)).toEqual(["upper", "lower", "root"]);
    expect(after.jointMap).toEqual({ upper: "leftUpperArm" });
    const held = removeJoints(limb, new Set([1]));
    expect(Math.max(...held.parts[0]!.skin!.joints)).toBe(0);
  });
  it("is refused for a joint that drives a corrective, and where nothing is left to hold the skin", () => {
    expect(() => removeJoints(figure, new Set([2]))).toThrow(/lower drives s/);
    expect(() => removeJoints(limb, new Set([0, 1]))).toThrow(/nothing above it stays/);
    expect(() => rearrangeJoints(characterWith({}), { kept: () => true, parent: () => NO_JOINT })).toThrow(
      /no skeleton/,
    );
  });
});

describe("renaming joints", () => {
  it("reaches everything that speaks of them, and lets two exchange names", () => {
    const after = renameJoints(
      figure,
      new Map([
        ["upper", "lower"],
        ["lower", "upper"],
      ]),
    );
    expect(after.skeleton!.joints.map((j) => j.name)).toEqual(["root", "lower", "upper", "tip", "side"]);
    expect(after.clips[0]!.tracks.map((t) => t.joint)).toEqual(["lower", "upper", "root"]);
    expect(after.drivers[0]!.joint).toBe("upper");
    expect(after.jointMap).toEqual({ lower: "leftUpperArm", tip: null });
  });
  it.each<[string, Map<string, string>, RegExp]>([
    ["two of one name", new Map([["tip", "side"]]), /Two joints would be named side/],
    ["an empty name", new Map([["tip", " "]]), /no name/],
    ["a joint that is not there", new Map([["tail", "x"]]), /no joint named tail/],
  ])("refuses %s", (_what, names, pattern) => expect(() => renameJoints(figure, names)).toThrow(pattern));
  it.each([
    ["leftArm", "rightArm"],
    ["arm_L", "arm_R"],
    ["R_foot", "L_foot"],
    ["HandL", "HandR"],
    ["rHand", "lHand"],
    ["Left Foot", "Right Foot"],
    ["LEFT_EYE", "RIGHT_EYE"],
    ["hand.lt", "hand.rt"],
    ["spine", null],
    ["ulna", null],
  ])("the side of %s is exchanged: %s", (name, other) => expect(swapSide(name)).toBe(other));
});

describe("hinges", () => {
  const skeleton = figureSkeleton();
  const map = humanoidMap(skeleton);
  const character = characterWith({ skeleton });
  const elbow = skeleton.joints[map.jointOfBone.get("leftLowerArm")!]!.name;
  const findings = async (c: Character, check: string): Promise<(string | null)[]> =>
    (await runChecks(c, PROFILES.film, { only: [check] })).findings.map((f) => f.joint);
  const straightened = (bones: readonly string[]): Character => {
    const rest = worldMatrices(skeleton, {});
    for (const side of bones) {
      const [a, b, c] = ["UpperArm", "LowerArm", "Hand"].map((x) => map.jointOfBone.get(`${side}${x}`)!) as [
        number,
        number,
        number,
      ];
      const [p, q] = [translationOf(rest, 16 * a), translationOf(rest, 16 * c)];
      const { q: frame, s } = decomposeTRS(rest, 16 * b);
      composeTRS(rest, 16 * b, [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2, (p[2] + q[2]) / 2], frame, s);
    }
    return changeRest(character, rest);
  };
  it("dead straight on both sides are bent backward by the small angle", async () => {
    const straight = straightened(["left", "right"]);
    expect(await findings(straight, "skeleton.straight-hinge")).toContain(elbow);
    const bent = bendHinge(straight, map, elbow);
    expect(await findings(bent, "skeleton.straight-hinge")).not.toContain(elbow);
    const world = worldMatrices(bent.skeleton!, {});
    const [a, b, c] = ["UpperArm", "LowerArm", "Hand"].map((x): number[] => [
      ...translationOf(world, 16 * map.jointOfBone.get(`left${x}`)!),
    ]) as [number[], number[], number[]];
    const u = b.map((x, i) => x - a[i]!);
    const v = c.map((x, i) => x - b[i]!);
    const cosine = u.reduce((s, x, i) => s + x * v[i]!, 0) / (Math.hypot(...u) * Math.hypot(...v));
    expect((Math.acos(cosine) * 180) / Math.PI).toBeCloseTo(REST_BEND, 1);
  });
  it("turned out of their limb's plane are squared, to a hundredth of a degree", async () => {
    const bent = bendHinge(straightened(["left", "right"]), map, elbow);
    const rest = worldMatrices(bent.skeleton!, {});
    const j = map.jointOfBone.get("leftLowerArm")!;
    const { t, q, s } = decomposeTRS(rest, 16 * j);
    composeTRS(rest, 16 * j, t, multiplyQuat(q, fromAxisAngle([0, 1, 0], 17)), s);
    const squared = squareHinge(changeRest(bent, rest), map, elbow);
    const film = { ...PROFILES.film, limits: { ...PROFILES.film.limits, "skeleton.hinge-axis": 0.01 } };
    expect(
      (await runChecks(squared, film, { only: ["skeleton.hinge-axis"] })).findings.map((f) => f.joint),
    ).not.toContain(elbow);
  });
  it.each([
    ["elbows", 3],
    ["elbows", 12.5],
    ["knees", 5],
    ["knees", 0],
  ] as const)(
    "both %s are brought to a bend of %d degrees, square to their plane, mirrored, and nothing else moves",
    async (limb, degrees) => {
      const bent = bendHinges(character, map, limb, degrees);
      const bends = hingeBends(bent, map, limb)!;
      expect(bends.left).toBeCloseTo(degrees, 6);
      expect(bends.right).toBeCloseTo(degrees, 6);
      const [before, after] = [worldMatrices(skeleton, {}), worldMatrices(bent.skeleton!, {})];
      const moved = skeleton.joints.flatMap((_, j) =>
        length(sub(translationOf(before, 16 * j), translationOf(after, 16 * j))) > 1e-7 ? [map.boneOfJoint[j]] : [],
      );
      for (const bone of moved) expect(bone).toMatch(limb === "elbows" ? /LowerArm$/ : /LowerLeg$/);
      const [l, r] = (["left", "right"] as const).map((side) =>
        translationOf(after, 16 * map.jointOfBone.get(`${side}${HINGED_LIMBS[limb]}`)!),
      ) as [Vec3, Vec3];
      expect(length(sub(l, [-r[0], r[1], r[2]]))).toBeLessThan(1e-6);
      // backward for elbows, forward for knees: the joint lies on that side of the line between its ends
      const ends = (limb === "elbows" ? ["leftUpperArm", "leftHand"] : ["leftUpperLeg", "leftFoot"]).map((bone) =>
        translationOf(after, 16 * map.jointOfBone.get(bone)!),
      ) as [Vec3, Vec3];
      if (degrees > 0) expect((limb === "elbows" ? -1 : 1) * (l[2] - (ends[0][2] + ends[1][2]) / 2)).toBeGreaterThan(0);
      if (degrees >= 1)
        for (const joint of await findings(bent, "skeleton.hinge-axis"))
          expect(map.boneOfJoint[skeleton.joints.findIndex((x) => x.name === joint)]).not.toMatch(HINGED_LIMBS[limb]);
    },
  );
  it("are refused where there is no plane or no hinge", () => {
    expect(() => squareHinge(straightened(["left"]), map, elbow)).toThrow(/too straight/);
    expect(() => bendHinge(character, map, skeleton.joints[map.jointOfBone.get("head")!]!.name)).toThrow(
      /no elbow or knee/,
    );
  });
});

describe("joints refitted to a changed build", () => {
  const P = limb.parts[0]!.positions;
  const all = (
    move: (p: readonly [number, number, number]) => readonly [number, number, number],
  ): ReturnType<typeof shapeOf> =>
    shapeOf(
      "build",
      Object.fromEntries(
        Array.from({ length: P.length / 3 }, (_, v) => [
          v,
          [...move([P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!])] as [number, number, number],
        ]),
      ),
    );
  const offset = (shape: ReturnType<typeof shapeOf>): readonly number[] =>
    jointOffsetsOf(limb, shape).find((o) => o.joint === "lower")!.offset;
  // closed forms: a joint goes as its place does under the same map
  it.each<[string, (p: readonly [number, number, number]) => readonly [number, number, number], readonly number[]]>([
    ["moved as one", () => [0.02, -0.01, 0.03], [0.02, -0.01, 0.03]],
    ["grown by a fifth", ([x, y, z]) => [0.2 * x, 0.2 * y, 0.2 * z], [0, 0.06, 0]],
    ["sheared", ([, y]) => [0.3 * y, 0, 0], [0.09, 0, 0]],
  ])("%s: exact to a tenth of a millimetre", (_what, move, expected) =>
    expected.forEach((x, c) => expect(Math.abs(offset(all(move))[c]! - x)).toBeLessThan(1e-4)),
  );
  it("that stay where nothing moves have no offset", () =>
    expect(jointOffsetsOf(limb, shapeOf("top", { 0: [0, 0, 0] }))).toEqual([]));
  it("are found, the furthest first, and refitted for the whole list in one step", () => {
    const named = (name: string, by: number): ReturnType<typeof shapeOf> => ({
      ...all(([x, y, z]) => [by * x, by * y, by * z]),
      name,
    });
    const three = {
      ...limb,
      shapes: [named("small", 0.05), named("tall", 0.2), shapeOf("dot", { 3: [0.0002, 0, 0] })],
    };
    const rows = buildShapes(three);
    expect(rows.map((r) => r.name)).toEqual(["tall", "small"]);
    expect(rows[0]!.worst.metres).toBeCloseTo(0.06, 4);
    expect(rows[0]!.off).toBeGreaterThanOrEqual(rows[0]!.worst.metres);
    const fitted = refitShapes(
      three,
      rows.map((r) => r.name),
    );
    expect(buildShapes(fitted).map((r) => r.off)).toEqual([0, 0]);
    expect(fitted.shapes[2]!.jointOffsets).toBeUndefined();
    expect(buildShapes(fitted).map((r) => r.has)).toEqual([true, true]);
    expect(() => refitShapes(three, ["tall", "absent"])).toThrow(/no shape named absent/);
  });
  it("bend the changed limb where its flesh is: a posed grown limb is the posed limb grown", () => {
    const grown = refitJoints({ ...limb, shapes: [all(([x, y, z]) => [0.2 * x, 0.2 * y, 0.2 * z])] }, "build");
    const pose = { lower: [60, 0, 0] as const };
    const [A, B] = [
      deform(makeRig(limb), { ...REST_MOMENT, pose }, { normals: false }),
      deform(makeRig(grown), { ...REST_MOMENT, pose, weights: { build: 1 } }, { normals: false }),
    ].map((d) => d.positions[0]!);
    B!.forEach((x, i) => expect(Math.abs(x - 1.2 * A![i]!)).toBeLessThan(3e-4));
  });
});

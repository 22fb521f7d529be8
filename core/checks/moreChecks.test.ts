import {
  boxPart,
  characterWith,
  figureSkeleton,
  partOf,
  rigidSkin,
  shapeOf,
  skeletonOf,
  tube,
} from "../../tests/helpers/characters";
import { fromAxisAngle, multiplyQuat } from "../math/quat";
import { DEFAULT_MATERIAL, type Character, type Clip, type Part, type Shape, type Skeleton } from "../model/character";
import { imageSize } from "../formats/imageSize";
import { eyeballsOf } from "../measure/eyeballs";
import { fitSphere } from "../measure/fitSphere";
import { shellsOf } from "../model/shells";
import type { Finding } from "./finding";
import { PROFILES } from "./profile";
import { runChecks } from "./runChecks";
import { counterpart, sideOfShapeName } from "../shapes/shapeSides";

const only = async (character: Character, check: string, profile = PROFILES.film): Promise<Finding[]> =>
  (await runChecks(character, profile, { only: [check] })).findings;
const person = boxPart("body", [0.2, 0.85, 0.15], [0, 0.85, 0]);
const withParts = (...parts: Part[]): Character => characterWith({ parts });
const skinned = (skeleton: Skeleton, ...more: Part[]): Character =>
  characterWith({ parts: [{ ...person, skin: rigidSkin(8, 0) }, ...more], skeleton });
const changed = (
  skeleton: Skeleton,
  name: string,
  change: (j: Skeleton["joints"][number]) => Partial<Skeleton["joints"][number]>,
): Skeleton => skeletonOf(skeleton.joints.map((j) => (j.name === name ? { ...j, ...change(j) } : j)));

/** A ball of rings with outward faces. */
function ball(
  name: string,
  centre: readonly [number, number, number],
  radius: number,
  kind: Part["kind"] = "eye",
): Part {
  const [rings, sides] = [45, 20];
  const points = Array.from({ length: rings * sides }, (_, i): [number, number, number] => {
    const t = (Math.PI * (Math.floor(i / sides) + 0.5)) / rings;
    const a = (2 * Math.PI * (i % sides)) / sides;
    return [
      centre[0] + radius * Math.sin(t) * Math.cos(a),
      centre[1] + radius * Math.sin(t) * Math.sin(a),
      centre[2] + radius * Math.cos(t),
    ];
  });
  const faces = Array.from({ length: (rings - 1) * sides }, (_, i) => {
    const [r, s] = [Math.floor(i / sides), i % sides];
    return [r * sides + s, (r + 1) * sides + s, (r + 1) * sides + ((s + 1) % sides), r * sides + ((s + 1) % sides)];
  });
  return partOf(name, points, faces, { kind });
}

describe("meshes and parts", () => {
  it("doubled: finds the same face a second time, also turned round and over a seam", async () => {
    const part = partOf(
      "body",
      [
        [0, 0, 0],
        [1, 0, 0],
        [0, 1, 0],
        [0, 0, 0],
      ],
      [
        [0, 1, 2],
        [2, 1, 3],
      ],
    );
    expect((await only(withParts(part), "mesh.doubled"))[0]).toMatchObject({ severity: "error", value: 1 });
    expect(await only(withParts(person), "mesh.doubled")).toEqual([]);
  });
  it("inside-out: finds a closed box turned inward, and leaves open surfaces alone", async () => {
    const inward = {
      ...person,
      corners: person.corners.map((_, i) => person.corners[4 * Math.floor(i / 4) + 3 - (i % 4)]!),
    };
    expect((await only(withParts(inward), "mesh.inside-out"))[0]).toMatchObject({
      severity: "error",
      value: 1,
      vertices: [0],
    });
    expect(await only(withParts(person), "mesh.inside-out")).toEqual([]);
    const open = partOf(
      "flap",
      [
        [0, 0, 0],
        [0, 1, 0],
        [1, 0, 0],
      ],
      [[0, 1, 2]],
    );
    expect(await only(withParts(open), "mesh.inside-out")).toEqual([]);
  });
  it("shells are told apart, and joined over seams when asked", () => {
    const two = partOf(
      "two",
      [
        [0, 0, 0],
        [1, 0, 0],
        [0, 1, 0],
        [1, 0, 0],
        [0, 1, 0],
        [1, 1, 0],
      ],
      [
        [0, 1, 2],
        [3, 5, 4],
      ],
    );
    expect([...shellsOf(two)]).toEqual([0, 0, 0, 3, 3, 3]);
    expect(new Set(shellsOf(two, true)).size).toBe(1);
  });
  it("unplaced: names helpers, nameless parts and what lies far off", async () => {
    const found = await only(
      withParts(
        person,
        boxPart("ground plane", [2, 0, 2], [0, 0, 0], "other"),
        boxPart(" ", [0.1, 0.1, 0.1], [0, 1, 0], "other"),
        boxPart("hat", [0.1, 0.1, 0.1], [4, 1, 0], "garment"),
        boxPart("belt", [0.21, 0.05, 0.16], [0, 1, 0], "garment"),
      ),
      "parts.unplaced",
    );
    expect(found.map((f) => f.part).sort()).toEqual([" ", "ground plane", "hat"]);
  });
  it("texture size: reads PNG and JPEG headers and compares the longer side", async () => {
    const png = new Uint8Array(24);
    new DataView(png.buffer).setUint32(0, 0x89504e47);
    new DataView(png.buffer).setUint32(16, 5000);
    new DataView(png.buffer).setUint32(20, 100);
    expect(imageSize(png)).toEqual({ width: 5000, height: 100 });
    const jpeg = Uint8Array.from([
      0xff, 0xd8, 0xff, 0xe0, 0, 4, 0, 0, 0xff, 0xc0, 0, 17, 8, 0x08, 0x00, 0x04, 0x00, 3, 0, 0,
    ]);
    expect(imageSize(jpeg)).toEqual({ width: 1024, height: 2048 });
    expect(imageSize(Uint8Array.of(1, 2, 3))).toBeNull();
    const textured = characterWith({
      parts: [person],
      materials: [{ ...DEFAULT_MATERIAL, texture: { name: "t", mimeType: "image/png", bytes: png } }],
    });
    expect((await only(textured, "parts.texture-size", PROFILES.realtime))[0]).toMatchObject({
      value: 5000,
      limit: 4096,
      part: "body",
    });
    expect(await only(textured, "parts.texture-size")).toEqual([]);
  });
  it("proportion: notes a forearm far too long", async () => {
    const long = changed(figureSkeleton(), "leftHand", () => ({ translation: [0.4, -0.4, 0] }));
    expect((await only(skinned(long), "scale.proportion")).filter((f) => f.joint === "leftLowerArm")[0]).toMatchObject({
      severity: "note",
    });
  });
});

describe("eyes", () => {
  const eyes = (apart: number, radius: number): Character =>
    withParts(
      person,
      ball("eye left", [apart / 2, 1.6, 0.1], radius),
      ball("eye right", [-apart / 2, 1.6, 0.1], radius),
      ball("duct", [0.02, 1.6, 0.11], 0.002),
    );
  it("a sphere is fitted through its points, whatever stands out of it", () => {
    const part = ball("b", [0.3, 1, -0.2], 0.012);
    part.positions[2]! += 0.004;
    const sphere = fitSphere(part.positions)!;
    expect(sphere.centre[0]).toBeCloseTo(0.3, 5);
    expect(sphere.radius).toBeCloseTo(0.012, 5);
    expect(fitSphere([0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0])).toBeNull();
  });
  it("are the two largest round parts, one a side", () =>
    expect(eyeballsOf(eyes(0.062, 0.012)).map((e) => [e.part, e.side])).toEqual([
      [1, "left"],
      [2, "right"],
    ]));
  it("spacing and diameter are compared with people's", async () => {
    expect(await only(eyes(0.062, 0.012), "eyes.spacing")).toEqual([]);
    expect((await only(eyes(0.09, 0.012), "eyes.spacing"))[0]!.value).toBeCloseTo(90, 1);
    expect(await only(eyes(0.062, 0.012), "eyes.diameter")).toEqual([]);
    expect((await only(eyes(0.062, 0.016), "eyes.diameter")).map((f) => f.part).sort()).toEqual([
      "eye left",
      "eye right",
    ]);
  });
  it("joints belong in their centres", async () => {
    const at = (x: number): Skeleton =>
      skeletonOf([...figureSkeleton().joints, { name: "leftEye", parent: 5, translation: [x, 0.06, 0.09] }]);
    const head = [0, 0.95 + 0.1 + 0.12 + 0.12 + 0.16 + 0.09, 0.01];
    const eye = ball("eye left", [0.031, head[1]! + 0.06, head[2]! + 0.09], 0.012);
    expect(await only(skinned(at(0.031), eye), "skeleton.eye-centre")).toEqual([]);
    expect((await only(skinned(at(0.035), eye), "skeleton.eye-centre"))[0]!.value).toBeCloseTo(4, 1);
  });
});

describe("skeleton", () => {
  it("names: finds swapped sides, strays without the prefix and other separators", async () => {
    const swapped = figureSkeleton((b) => (b === "leftToes" ? "rightToes" : b === "rightToes" ? "leftToes" : b));
    expect((await only(skinned(swapped), "skeleton.names")).map((f) => [f.joint, f.severity]).sort()).toEqual([
      ["leftToes", "error"],
      ["rightToes", "error"],
    ]);
    const stray = figureSkeleton((b) => (b === "neck" ? "neck" : `pier:${b}`));
    expect((await only(skinned(stray), "skeleton.names")).map((f) => [f.joint, f.severity])).toEqual([
      ["neck", "warn"],
    ]);
    const mixed = figureSkeleton((b) => (b === "head" ? "the.head" : `the_${b}`));
    expect((await only(skinned(mixed), "skeleton.names")).map((f) => f.joint)).toEqual(["the.head"]);
    expect(await only(skinned(figureSkeleton((b) => `pier:${b}`)), "skeleton.names")).toEqual([]);
  });
  it("hinge axis: measures the turn of a knee's frame about its bone", async () => {
    const straight = figureSkeleton();
    const turned = (deg: number): Skeleton =>
      changed(straight, "leftLowerLeg", (j) => ({ rotation: multiplyQuat(j.rotation, fromAxisAngle([0, 1, 0], deg)) }));
    const knees = async (skeleton: Skeleton): Promise<Finding[]> =>
      (await only(skinned(skeleton), "skeleton.hinge-axis")).filter((f) => f.joint!.endsWith("Leg"));
    expect(await knees(straight)).toEqual([]);
    const [f] = await knees(
      changed(turned(12), "leftFoot", (j) => ({
        translation: [
          j.translation[2] * -Math.sin(Math.PI / 15),
          j.translation[1],
          j.translation[2] * Math.cos(Math.PI / 15),
        ],
      })),
    );
    expect(f).toMatchObject({ joint: "leftLowerLeg", severity: "warn" });
    expect(f!.value).toBeGreaterThan(8);
    expect(f!.value).toBeLessThan(14);
  });
  it("symmetry: names the first joint of a limb that is off", async () => {
    const off = changed(figureSkeleton(), "rightLowerArm", (j) => ({
      translation: [j.translation[0] - 0.01, j.translation[1], j.translation[2]],
    }));
    const found = await only(skinned(off), "skeleton.symmetry");
    expect(found.map((f) => f.joint)).toEqual(["leftLowerArm"]);
    expect(found[0]!.value).toBeCloseTo(10, 3);
  });
  it("parenting: wants hair under the head and lower teeth under the jaw", async () => {
    const base = figureSkeleton();
    const skeleton = skeletonOf([
      ...base.joints,
      { name: "hairRoot", parent: 0, translation: [0, 0.7, 0] },
      { name: "jaw", parent: 5, translation: [0, 0.02, 0.05] },
    ]);
    const teeth = { ...boxPart("teeth lower", [0.02, 0.01, 0.02], [0, 1.6, 0.1], "teeth"), skin: rigidSkin(8, 5) };
    const hair = { ...boxPart("hair", [0.1, 0.1, 0.1], [0, 1.7, 0], "hair"), skin: rigidSkin(8, 5) };
    const found = await only(skinned(skeleton, teeth, hair), "skeleton.parenting");
    expect(found.map((f) => [f.joint, f.part]).sort()).toEqual([
      ["hairRoot", null],
      ["head", "teeth lower"],
    ]);
  });
});

describe("weights", () => {
  const figure = figureSkeleton();
  const index = (name: string): number => figure.joints.findIndex((j) => j.name === name);
  const bound = (left: number, right: number): Character => {
    const joints = Uint16Array.from({ length: 16 }, (_, i) =>
      i % 2 ? 0 : index(Math.floor(i / 2) & 1 ? "leftUpperArm" : "rightUpperArm"),
    );
    const weights = Float32Array.from({ length: 16 }, (_, i) => {
      const w = Math.floor(i / 2) & 1 ? left : right;
      return i % 2 ? 1 - w : w;
    });
    return characterWith({
      parts: [{ ...person, skin: { influenceCount: 2, joints, weights, inverseBinds: null } }],
      skeleton: figure,
    });
  };
  it("symmetry: compares each vertex with its mirror image", async () => {
    expect(await only(bound(0.6, 0.6), "weights.symmetry")).toEqual([]);
    expect((await only(bound(0.6, 0.4), "weights.symmetry"))[0]!.value).toBeCloseTo(0.2, 5);
  });
  it("rigid parts: wants eyes on one joint", async () => {
    const eye = {
      ...boxPart("eye", [0.01, 0.01, 0.01], [0.03, 1.6, 0.1], "eye"),
      skin: {
        influenceCount: 2,
        joints: Uint16Array.from({ length: 16 }, (_, i) => i % 2),
        weights: Float32Array.from({ length: 16 }, (_, i) => (i % 2 ? 0.1 : 0.9)),
        inverseBinds: null,
      },
    };
    expect((await only(skinned(figure, eye), "weights.rigid-parts"))[0]).toMatchObject({
      part: "eye",
      severity: "warn",
    });
    expect(await only(skinned(figure, { ...eye, skin: rigidSkin(8, 5) }), "weights.rigid-parts")).toEqual([]);
  });
});

describe("shapes", () => {
  const limb = tube({ rings: 30, sides: 30 }).parts[0]!;
  const bulge = (amplitude: number): Shape =>
    shapeOf(
      "bulge",
      Object.fromEntries(
        Array.from({ length: 900 }, (_, v) => {
          const y = limb.positions[3 * v + 1]!;
          const s = 0.02 * Math.exp(-(((y - 0.3) / 0.08) ** 2)) + amplitude * (((v * 7919) % 13) / 6 - 1);
          return [v, [s * limb.positions[3 * v]! * 20, 0, s * limb.positions[3 * v + 2]! * 20] as const];
        }),
      ),
    );
  it("noise: tells a rough movement from a smooth bulge of the same size", async () => {
    const body = { ...limb, skin: null };
    expect(await only(characterWith({ parts: [body], shapes: [bulge(0)] }), "shapes.noise")).toEqual([]);
    expect((await only(characterWith({ parts: [body], shapes: [bulge(0.012)] }), "shapes.noise"))[0]).toMatchObject({
      severity: "warn",
      shape: "bulge",
    });
  });
  it("sides: are read from names, and counterparts found", () => {
    expect(["AU12_left", "smile.L", "blinkRight", "r_brow", "leftover", "jaw"].map(sideOfShapeName)).toEqual([
      "left",
      "left",
      "right",
      "right",
      null,
      null,
    ]);
    const shapes = ["smile_L", "smile_R", "frown_L"].map((n) => shapeOf(n, {}));
    expect(counterpart(shapes, shapes[0]!)?.name).toBe("smile_R");
    expect(counterpart(shapes, shapes[2]!)).toBeUndefined();
  });
  const grid = partOf(
    "body",
    Array.from({ length: 42 }, (_, i): [number, number, number] => [((i % 7) - 3) * 0.02, Math.floor(i / 7) * 0.02, 0]),
    Array.from({ length: 30 }, (_, f) => {
      const v = Math.floor(f / 6) * 7 + (f % 6);
      return [v, v + 1, v + 8, v + 7];
    }),
  );
  /** Moves the grid's left and right halves by some mm. */
  const half = (name: string, left: number, right: number): Shape =>
    shapeOf(
      name,
      Object.fromEntries(
        Array.from({ length: 42 }, (_, v) => [v, [0, (v % 7 > 3 ? left : v % 7 < 3 ? right : 0) / 1000, 0] as const]),
      ),
    );
  const faced = (...shapes: Shape[]): Character => characterWith({ parts: [grid], shapes });
  it("side leak: measures the share on the other side, and lets a two-sided shape be", async () => {
    expect(await only(faced(half("up_left", 4, 0), half("up_right", 0, 4)), "shapes.side-leak")).toEqual([]);
    expect((await only(faced(half("up_left", 4, 1), half("up_right", 0, 4)), "shapes.side-leak"))[0]).toMatchObject({
      shape: "up_left",
      unit: "%",
    });
    expect(
      (await only(faced(half("up_left", 4, 1), half("up_right", 0, 4)), "shapes.side-leak"))[0]!.value,
    ).toBeCloseTo(20, 3);
    expect(await only(faced(half("turn_left", 4, 3), half("turn_right", 3, 4)), "shapes.side-leak")).toEqual([]);
  });
  it("symmetry: compares left with mirrored right", async () => {
    expect(await only(faced(half("up_left", 4, 0), half("up_right", 0, 4)), "shapes.symmetry")).toEqual([]);
    expect((await only(faced(half("up_left", 4, 0), half("up_right", 0, 2)), "shapes.symmetry"))[0]!.value).toBeCloseTo(
      2,
      3,
    );
  });
});

describe("joints of proportion shapes", () => {
  it("finds flesh that leaves its joint behind, and is content with an offset", async () => {
    const figure = figureSkeleton();
    const at = (name: string): number => figure.joints.findIndex((j) => j.name === name);
    const skin = {
      influenceCount: 2,
      joints: Uint16Array.from({ length: 16 }, (_, i) => (i % 2 ? at("leftUpperLeg") : at("leftLowerLeg"))),
      weights: new Float32Array(16).fill(0.5),
      inverseBinds: null,
    };
    const down = shapeOf(
      "long legs",
      Object.fromEntries(Array.from({ length: 8 }, (_, v) => [v, [0, -0.03, 0] as const])),
    );
    const character = characterWith({ parts: [{ ...person, skin }], skeleton: figure, shapes: [down] });
    expect((await only(character, "shapes.joints"))[0]).toMatchObject({
      shape: "long legs",
      joint: "leftLowerLeg",
      severity: "error",
    });
    expect((await only(character, "shapes.joints"))[0]!.value).toBeCloseTo(30, 3);
    const driver = {
      shape: "long legs",
      joint: "leftLowerLeg",
      axis: [1, 0, 0] as const,
      fromDegrees: 0,
      toDegrees: 90,
      easing: "linear" as const,
      intensity: 1,
      enabled: true,
    };
    expect(await only({ ...character, drivers: [driver] }, "shapes.joints")).toEqual([]);
    expect(
      await only(
        { ...character, shapes: [{ ...down, jointOffsets: [{ joint: "leftLowerLeg", offset: [0, -0.03, 0] }] }] },
        "shapes.joints",
      ),
    ).toEqual([]);
  });
});

describe("face", () => {
  it("eye through lid: measures how deep a lid is pushed into its eyeball", async () => {
    const eye = ball("eye left", [0.03, 1.6, 0.1], 0.012);
    const lid = partOf(
      "body",
      Array.from({ length: 49 }, (_, i): [number, number, number] => [
        0.03 + ((i % 7) - 3) * 0.002,
        1.6 + (Math.floor(i / 7) - 3) * 0.002,
        0.1128,
      ]),
      Array.from({ length: 36 }, (_, f) => {
        const v = Math.floor(f / 6) * 7 + (f % 6);
        return [v, v + 1, v + 8, v + 7];
      }),
    );
    const push = (mm: number): Character =>
      characterWith({ parts: [lid, eye], shapes: [shapeOf("shut", { 24: [0, 0, -mm / 1000] })] });
    expect(await only(push(0.5), "face.eye-through-lid")).toEqual([]);
    const [f] = await only(push(1.8), "face.eye-through-lid");
    expect(f).toMatchObject({ severity: "error", shape: "shut", part: "body" });
    expect(f!.value).toBeGreaterThan(0.8);
    expect(f!.value).toBeLessThan(1.3);
  });
  it("tongue through skin: finds a tongue that leaves a closed box, not one that stays in it", async () => {
    // walls 5 mm thick round a cavity, so that their inner side cannot be seen from outside
    const outer = boxPart("body", [0.03, 0.03, 0.05]);
    const inner = boxPart("body", [0.025, 0.025, 0.045]);
    const hollow = partOf(
      "body",
      [
        ...Array.from(
          { length: 8 },
          (_, v) => [0, 1, 2].map((c) => outer.positions[3 * v + c]!) as [number, number, number],
        ),
        ...Array.from(
          { length: 8 },
          (_, v) => [0, 1, 2].map((c) => inner.positions[3 * v + c]!) as [number, number, number],
        ),
      ],
      [
        ...Array.from({ length: 6 }, (_, f) => Array.from(outer.corners.subarray(4 * f, 4 * f + 4))),
        ...Array.from({ length: 6 }, (_, f) =>
          Array.from(inner.corners.subarray(4 * f, 4 * f + 4), (v) => v + 8).reverse(),
        ),
      ],
    );
    const tongue = boxPart("tongue", [0.01, 0.01, 0.03], [0, 0, 0], "tongue");
    const out = (mm: number): Character =>
      characterWith({
        parts: [hollow, tongue],
        shapes: [shapeOf("out", Object.fromEntries([4, 5, 6, 7].map((v) => [v, [0, 0, mm / 1000] as const])), 1)],
      });
    expect(await only(out(10), "face.tongue-through")).toEqual([]);
    const [f] = await only(out(30), "face.tongue-through");
    expect(f).toMatchObject({ severity: "error", part: "tongue", shape: "out" });
    expect(f!.value).toBeCloseTo(10, 1);
  });
});

describe("clips", () => {
  const skeleton = figureSkeleton();
  const turns = (...degrees: number[]): Clip["tracks"][number] => ({
    joint: "head",
    path: "rotation",
    interpolation: "LINEAR",
    times: Float32Array.from(degrees, (_, i) => i / 30),
    values: Float32Array.from(degrees.flatMap((d) => [...fromAxisAngle([0, 1, 0], d)])),
  });
  const played = (...tracks: Clip["tracks"][number][]): Character => ({
    ...skinned(skeleton),
    clips: [{ name: "nod", tracks }],
  });
  it("scale keys and keys that stretch bones are found", async () => {
    const scaleKeys = {
      joint: "head",
      path: "scale" as const,
      interpolation: "LINEAR" as const,
      times: Float32Array.of(0, 1),
      values: Float32Array.of(1, 1, 1, 1, 1.05, 1),
    };
    expect((await only(played(scaleKeys), "clip.scale-keys"))[0]!.value).toBeCloseTo(5, 3);
    const [x, y, z] = skeleton.joints.find((j) => j.name === "leftHand")!.translation;
    const stretch = {
      joint: "leftHand",
      path: "translation" as const,
      interpolation: "LINEAR" as const,
      times: Float32Array.of(0, 1),
      values: Float32Array.of(x, y, z, x, y, z + 0.02),
    };
    expect((await only(played(stretch), "clip.translation-keys"))[0]).toMatchObject({ joint: "leftHand", clip: "nod" });
    expect(await only(played({ ...stretch, joint: "hips" }), "clip.translation-keys")).toEqual([]);
  });
  it(
    "a loop that stands still for a frame or jumps is found, " + "one that closes and one that never meant to are not",
    async () => {
      expect((await only(played(turns(0, 10, 20, 10, 0, 0)), "clip.loop"))[0]!.message).toMatch(/twice/);
      expect((await only(played(turns(0, 10, 20, 10, 4)), "clip.loop"))[0]!.value).toBeCloseTo(4, 2);
      expect(await only(played(turns(0, 10, 20, 10, 0)), "clip.loop")).toEqual([]);
      expect(await only(played(turns(0, 10, 20, 40)), "clip.loop")).toEqual([]);
    },
  );
});

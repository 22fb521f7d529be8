import { boxPart, characterWith, figureSkeleton, partOf, rigidSkin, tube } from "../../tests/helpers/characters";
import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT } from "../evaluate/moment";
import { assertCharacter } from "../model/assertCharacter";
import type { Character, Part } from "../model/character";
import { humanoidMap } from "../skeleton/humanoidMap";
import { mirrorJoints, NO_COUNTERPART } from "../skeleton/mirrorJoints";
import { changeWeights, weightChangeSchema, type WeightChange } from "./changeWeights";
import { denseWeights, packWeights } from "./denseWeights";
import { weightsEffect } from "./weightsEffect";

const limb = tube();
const change = (fields: Partial<WeightChange>): WeightChange => weightChangeSchema.parse({ tool: "smooth", ...fields });
const shareOf = (part: Part, joint: number, jointCount = 2): number[] =>
  Array.from({ length: part.positions.length / 3 }, (_, v) => denseWeights(part, jointCount)[v * jointCount + joint]!);
const sums = (part: Part, jointCount: number): number[] =>
  Array.from({ length: part.positions.length / 3 }, (_, v) =>
    denseWeights(part, jointCount)
      .subarray(v * jointCount, (v + 1) * jointCount)
      .reduce((a, b) => a + b, 0),
  );

describe("a table of weights", () => {
  it("packs to the heaviest joints, heaviest first, the lower of equals", () => {
    const skin = packWeights(Float32Array.of(0.2, 0.4, 0.1, 0.4), 4, 2, null);
    expect([...skin.joints]).toEqual([1, 3]);
    expect([...skin.weights]).toEqual([0.5, 0.5]);
  });
  it("is the same after a round trip", () => {
    const part = limb.parts[0]!;
    expect(
      denseWeights({ ...part, skin: packWeights(denseWeights(part, 2), 2, 2, null) }, 2).every(
        (w, i) => Math.abs(w - denseWeights(part, 2)[i]!) < 1e-6,
      ),
    ).toBe(true);
  });
});

describe("smoothing", () => {
  // the second difference along the tube falls: a step becomes the binomial blend of its rounds
  it(
    "turns a step between rings into the binomial sums of its " +
      "rounds (closed form of averaging half-way along a line)",
    () => {
      const rings = 33;
      const sides = 24;
      const step: Character = {
        ...limb,
        parts: [
          {
            ...limb.parts[0]!,
            skin: {
              ...rigidSkin(limb.parts[0]!.positions.length / 3, 0),
              joints: Uint16Array.from({ length: limb.parts[0]!.positions.length / 3 }, (_, v) =>
                v < rings * sides && Math.floor(v / sides) >= 16 ? 1 : 0,
              ),
            },
          },
        ],
      };
      const one = shareOf(changeWeights(step, "limb", change({ rounds: 1 })).parts[0]!, 1);
      // quads: four neighbours, two of them on the own ring: own 1/2, each neighbour 1/8
      expect(one[16 * sides + 3]).toBeCloseTo(1 / 2 + 3 / 8, 6);
      expect(one[15 * sides + 3]).toBeCloseTo(1 / 8, 6);
      const two = shareOf(changeWeights(step, "limb", change({ rounds: 2 })).parts[0]!, 1);
      expect(two[14 * sides + 3]).toBeCloseTo(1 / 64, 6);
      expect(two[15 * sides + 3]).toBeCloseTo((1 / 2 + 2 / 8) * (1 / 8) + (1 / 8) * (7 / 8), 6);
    },
  );
  it("keeps every sum at one and leaves a locked joint's weights alone", () => {
    const after = changeWeights(limb, "limb", change({ rounds: 6, locked: ["lower"] }));
    const before = shareOf(limb.parts[0]!, 1);
    expect(Math.max(...shareOf(after.parts[0]!, 1).map((w, v) => Math.abs(w - before[v]!)))).toBeLessThan(5e-6);
    expect(Math.max(...sums(after.parts[0]!, 2).map((s) => Math.abs(s - 1)))).toBeLessThan(5e-6);
    assertCharacter(after);
  });
});

describe("mirroring", () => {
  const skeleton = figureSkeleton();
  const map = humanoidMap(skeleton);
  const [l, r, c] = ["leftHand", "rightHand", "chest"].map((b) => map.jointOfBone.get(b)!) as [number, number, number];
  const points = [
    [0.5, 1, 0],
    [-0.5, 1, 0],
    [0, 1.2, 0],
    [0.5, 1.4, 0],
  ] as const;
  const cloth = partOf(
    "cloth",
    points,
    [
      [0, 2, 3],
      [0, 1, 2],
    ],
    {
      skin: {
        influenceCount: 2,
        joints: Uint16Array.of(l, c, c, 0, l, c, c, 0),
        weights: Float32Array.of(0.7, 0.3, 1, 0, 0.6, 0.4, 1, 0),
        inverseBinds: null,
      },
    },
  );
  const character = characterWith({ skeleton, parts: [cloth] });
  const n = skeleton.joints.length;
  it("gives the other side the mirror image, the midline the mean, and leaves what has no image", () => {
    const part = changeWeights(character, "cloth", change({ tool: "mirror", from: "left" })).parts[0]!;
    const at = (v: number, j: number): number => denseWeights(part, n)[v * n + j]!;
    expect([at(1, r), at(1, c)].map((w) => Number(w.toFixed(5)))).toEqual([0.7, 0.3]);
    expect([at(2, l), at(2, r), at(2, c)].map((w) => Number(w.toFixed(5)))).toEqual([0.3, 0.3, 0.4]);
    expect([at(0, l), at(3, c)].map((w) => Number(w.toFixed(5)))).toEqual([0.7, 1]);
  });
  it("knows every joint's counterpart, by map, by name, by place", () => {
    const pairs = mirrorJoints(skeleton, map);
    skeleton.joints.forEach((_, j) => expect(pairs[pairs[j]!]).toBe(j));
    const odd = {
      ...skeleton,
      joints: [
        ...skeleton.joints,
        {
          name: "strap",
          parent: 0,
          translation: [0.3, 0.1, 0] as const,
          rotation: [0, 0, 0, 1] as const,
          scale: [1, 1, 1] as const,
        },
      ],
    };
    expect(mirrorJoints(odd, humanoidMap(odd)).at(-1)).toBe(NO_COUNTERPART);
  });
});

describe("weights taken from the skin", () => {
  const body = limb.parts[0]!;
  const P = body.positions;
  /** A sleeve: the tube itself, moved out by a few millimetres. */
  const sleeve = (out: number): Part => ({
    ...body,
    name: "sleeve",
    kind: "garment",
    skin: null,
    positions: P.map((x, i) => (i % 3 === 1 ? x : x * (1 + out / 0.05))),
  });
  const dressed = (out: number): Character => ({ ...limb, parts: [body, sleeve(out)] });
  it("are those of the skin under each place, and the posed sleeve keeps its distance", () => {
    const after = changeWeights(dressed(0.004), "sleeve", change({ tool: "take from skin", reachMm: 20 }));
    const [skin, cloth] = after.parts.map((p) => shareOf(p, 1)) as [number[], number[]];
    cloth.forEach((w, v) => expect(Math.abs(w - skin[v]!)).toBeLessThan(0.01));
    const { positions } = deform(makeRig(after), { ...REST_MOMENT, pose: { lower: [60, 0, 0] } }, { normals: false });
    for (let v = 0; v < 33 * 24; v++) {
      const d = Math.hypot(...[0, 1, 2].map((k) => positions[0]![3 * v + k]! - positions[1]![3 * v + k]!));
      expect(d).toBeLessThan(0.0045);
    }
  });
  it("beyond reach are filled from what was found, and whole pieces from the nearest skin", () => {
    const far = dressed(0.06);
    const after = changeWeights(far, "sleeve", change({ tool: "take from skin", reachMm: 5 }));
    for (const s of sums(after.parts[1]!, 2)) expect(s).toBeCloseTo(1, 5);
    assertCharacter(after);
  });
  it("are refused without a bound body, and for the skin itself", () => {
    expect(() =>
      changeWeights(
        characterWith({ skeleton: limb.skeleton, parts: [{ ...boxPart("hat"), kind: "hair" }] }),
        "hat",
        change({ tool: "take from skin" }),
      ),
    ).toThrow(/No bound body/);
    expect(() => changeWeights(limb, "limb", change({ tool: "take from skin" }))).toThrow(/from itself/);
  });
});

describe("any change", () => {
  it.each<[string, () => unknown, RegExp]>([
    ["a part that is not there", () => changeWeights(limb, "gone", change({})), /no part named gone/],
    ["no skeleton", () => changeWeights({ ...limb, skeleton: null }, "limb", change({})), /no skeleton/],
    [
      "an unbound part",
      () => changeWeights({ ...limb, parts: [{ ...limb.parts[0]!, skin: null }] }, "limb", change({})),
      /not bound/,
    ],
    [
      "a lock on a joint that is not there",
      () => changeWeights(limb, "limb", change({ locked: ["tail"] })),
      /no joint named tail/,
    ],
  ])("is refused for %s", (_what, run, pattern) => expect(run).toThrow(pattern));
  it("is measured over all ranges: none for none, and where it bends for a coarser binding", async () => {
    const skeleton = figureSkeleton();
    const elbow = humanoidMap(skeleton).jointOfBone.get("leftLowerArm")!;
    const part = {
      ...boxPart("body", [0.1, 0.1, 0.1], [0.5, 1.3, 0]),
      skin: {
        influenceCount: 2,
        joints: new Uint16Array(16).map((_, i) => (i % 2 ? elbow : skeleton.joints[elbow]!.parent)),
        weights: new Float32Array(16).map((_, i) => (i % 2 ? 0.4 : 0.6)),
        inverseBinds: null,
      },
    };
    const before = characterWith({ skeleton, parts: [part] });
    expect(await weightsEffect(before, before, 0)).toEqual({ largestMm: 0, pose: null, vertices: 0 });
    const effect = await weightsEffect(before, changeWeights(before, "body", change({ tool: "limit", most: 1 })), 0);
    expect(effect.largestMm).toBeGreaterThan(10);
    expect(effect.pose!.label).toMatch(/left lower arm/);
    expect(effect.vertices).toBe(8);
  });
});

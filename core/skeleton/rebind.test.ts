import { characterWith, figureSkeleton, rigidSkin, shapeOf, tube } from "../../tests/helpers/characters";
import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT, type Moment } from "../evaluate/moment";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { translationOf } from "../math/mat4";
import { assertCharacter } from "../model/assertCharacter";
import type { Character } from "../model/character";
import { humanoidMap } from "./humanoidMap";
import { armsAt, rebind } from "./rebind";
import { rebindError } from "../measure/rebindError";

const limb: Character = { ...tube(), shapes: [shapeOf("bulge", { 380: [0.01, 0, 0], 400: [0, 0.01, 0.02] })] };
const BENT = { lower: [40, 0, 0] as const };
const at = (c: Character, moment: Partial<Moment>): Float32Array =>
  deform(makeRig(c), { ...REST_MOMENT, drivers: false, ...moment }, { normals: false }).positions[0]!;
const same = (a: Float32Array, b: Float32Array, within = 1e-6): void =>
  a.forEach((x, i) => expect(Math.abs(x - b[i]!)).toBeLessThan(within));

describe("bound anew in a pose", () => {
  const bound = rebind(limb, BENT);
  it("stands at rest as it stood in the pose, shapes too", () => {
    assertCharacter(bound);
    same(at(bound, {}), at(limb, { pose: BENT }));
    same(at(bound, { weights: { bulge: 0.7 } }), at(limb, { pose: BENT, weights: { bulge: 0.7 } }));
  });
  // closed form: with one joint a vertex the two bindings are the same map
  it("is the same in every pose where one joint holds each vertex", async () => {
    const part = limb.parts[0]!;
    const rigid = {
      ...limb,
      parts: [
        {
          ...part,
          skin: {
            ...rigidSkin(part.positions.length / 3, 0),
            joints: Uint16Array.from({ length: part.positions.length / 3 }, (_, v) =>
              part.positions[3 * v + 1]! > 0.3 ? 1 : 0,
            ),
          },
        },
      ],
    };
    const again = rebind(rigid, BENT);
    same(at(again, { pose: { lower: [50, 0, 0] } }), at(rigid, { pose: { lower: [90, 0, 0] } }));
    same(at(again, { pose: { lower: [-40, 0, 0] } }), at(rigid, {}));
  });
  it("differs a little where several joints hold a vertex, and the error says how much", async () => {
    const figure = characterWith({ skeleton: figureSkeleton() });
    expect((await rebindError(figure, rebind(figure, {}), {})).largestMm).toBe(0);
    const off = at(bound, { pose: { lower: [50, 0, 0] } }).reduce(
      (most, x, i) => Math.max(most, Math.abs(x - at(limb, { pose: { lower: [90, 0, 0] } })[i]!)),
      0,
    );
    expect(off).toBeGreaterThan(1e-4);
    expect(off).toBeLessThan(0.02);
  });
  it("bound back is what it was, to a hundredth of a millimetre in rigid places", () => {
    const back = rebind(bound, { lower: [-40, 0, 0] });
    const P = at(back, {});
    const Q = at(limb, {});
    for (let v = 0; v < P.length / 3; v++)
      if (Math.abs(Q[3 * v + 1]! - 0.3) > 0.07)
        for (let c = 0; c < 3; c++) expect(Math.abs(P[3 * v + c]! - Q[3 * v + c]!)).toBeLessThan(1e-5);
  });
  it("counts what drives a corrective from the new rest", () => {
    const driver = {
      shape: "bulge",
      joint: "lower",
      axis: [1, 0, 0] as const,
      fromDegrees: 40,
      toDegrees: 120,
      easing: "linear" as const,
      intensity: 1,
      enabled: true,
    };
    const { drivers } = rebind({ ...limb, drivers: [driver] }, BENT);
    expect([drivers[0]!.fromDegrees, drivers[0]!.toDegrees].map((x) => Number(x.toFixed(4)))).toEqual([0, 80]);
  });
  it("turns the offsets of joints with what they hang on", () => {
    const grown = {
      ...limb,
      shapes: [{ ...limb.shapes[0]!, jointOffsets: [{ joint: "lower", offset: [0, 0.1, 0] as const }] }],
    };
    const offset = rebind(grown, { upper: [0, 0, 90] }).shapes[0]!.jointOffsets![0]!.offset;
    expect(offset.map((x) => Number(x.toFixed(6)) + 0)).toEqual([-0.1, 0, 0]);
  });
  it("is refused without a skeleton", () =>
    expect(() => rebind({ ...limb, skeleton: null }, BENT)).toThrow(/no skeleton/));
});

describe("arms at an angle", () => {
  const character = characterWith({ skeleton: figureSkeleton() });
  const map = humanoidMap(character.skeleton!);
  it.each([0, 20, 40, 70])("%d degrees below level on both sides", (below) => {
    const world = worldMatrices(character.skeleton!, armsAt(character, below));
    for (const side of ["left", "right"]) {
      const [a, b] = ["UpperArm", "LowerArm"].map((x): readonly number[] =>
        translationOf(world, 16 * map.jointOfBone.get(`${side}${x}`)!),
      ) as [readonly number[], readonly number[]];
      const [x, y, z] = [0, 1, 2].map((c) => b[c]! - a[c]!) as [number, number, number];
      expect((Math.atan2(-y, Math.hypot(x, z)) * 180) / Math.PI).toBeCloseTo(below, 3);
      expect(Math.sign(x)).toBe(side === "left" ? 1 : -1);
    }
  });
  it("are refused where an arm is not mapped", () =>
    expect(() => armsAt({ ...character, jointMap: { leftUpperArm: null } }, 0)).toThrow(
      /left arm is not mapped|no skeleton/,
    ));
});

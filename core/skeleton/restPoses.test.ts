import { characterWith, figureSkeleton } from "../../tests/helpers/characters";
import { worldMatrices, type Pose } from "../evaluate/poseSkeleton";
import { decomposeTRS, translationOf } from "../math/mat4";
import { angleBetweenQuats } from "../math/quat";
import { degrees, dot, normalize, sub, type Vec3 } from "../math/vec3";
import { collarBonesAt, feetAt, legsAt } from "./restPoses";

const character = characterWith({ skeleton: figureSkeleton() });
const skeleton = character.skeleton!;
const at = (pose: Pose, joint: string): Vec3 =>
  translationOf(worldMatrices(skeleton, pose), 16 * skeleton.joints.findIndex((j) => j.name === joint));
const bone = (pose: Pose, from: string, to: string): Vec3 => normalize(sub(at(pose, to), at(pose, from)));

describe("legs of a rest pose", () => {
  it.each([
    ["left", 1],
    ["right", -1],
  ] as const)("stand straight down on the %s, spread and bent as asked", (side, s) => {
    const straight = legsAt(character, 0, 0);
    expect(bone(straight, `${side}UpperLeg`, `${side}LowerLeg`)[1]).toBeCloseTo(-1, 6);
    expect(bone(straight, `${side}LowerLeg`, `${side}Foot`)[1]).toBeCloseTo(-1, 6);
    const apart = legsAt(character, 12, 0);
    expect(degrees(Math.asin(s * bone(apart, `${side}UpperLeg`, `${side}Foot`)[0]))).toBeCloseTo(12, 4);
    const bent = legsAt(character, 0, 6);
    expect(
      degrees(
        Math.acos(dot(bone(bent, `${side}UpperLeg`, `${side}LowerLeg`), bone(bent, `${side}LowerLeg`, `${side}Foot`))),
      ),
    ).toBeCloseTo(6, 3);
    // knees bend with the knee to the front
    expect(bone(bent, `${side}UpperLeg`, `${side}LowerLeg`)[2]).toBeGreaterThan(0.04);
  });
  it("leave the feet as they stood", () => {
    const pose = legsAt(character, 15, 10);
    const j = skeleton.joints.findIndex((x) => x.name === "leftFoot");
    expect(
      angleBetweenQuats(
        decomposeTRS(worldMatrices(skeleton, pose), 16 * j).q,
        decomposeTRS(worldMatrices(skeleton, {}), 16 * j).q,
      ),
    ).toBeLessThan(0.01);
  });
  it("are refused where a leg is not known", () =>
    expect(() => legsAt(characterWith({}), 0, 0)).toThrow(/no skeleton/));
});

describe("feet of a rest pose", () => {
  it.each([0, 12, -5])("point outward by %d degrees on both sides, the legs as they were", (out) => {
    const pose = feetAt(character, out);
    for (const [side, s] of [
      ["left", 1],
      ["right", -1],
    ] as const) {
      const d = bone(pose, `${side}Foot`, `${side}Toes`);
      expect(degrees(Math.atan2(s * d[0], d[2]))).toBeCloseTo(out, 4);
      expect(at(pose, `${side}Foot`)).toEqual(at({}, `${side}Foot`));
      expect(d[1]).toBeCloseTo(bone({}, `${side}Foot`, `${side}Toes`)[1], 6);
    }
  });
});

describe("collar bones of a rest pose", () => {
  it("lift both shoulders", () => {
    const pose = collarBonesAt(character, 20);
    for (const side of ["left", "right"])
      expect(at(pose, `${side}UpperArm`)[1] - at({}, `${side}UpperArm`)[1]).toBeGreaterThan(0.04);
  });
  it("keep what else was posed", () =>
    expect(collarBonesAt(character, 5, { head: [10, 0, 0] })["head"]).toEqual([10, 0, 0]));
});

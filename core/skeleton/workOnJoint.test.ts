import { boxPart, characterWith, figureSkeleton, rigidSkin } from "../../tests/helpers/characters";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT } from "../evaluate/moment";
import { decomposeTRS, translationOf } from "../math/mat4";
import { rotate } from "../math/quat";
import type { Vec3 } from "../math/vec3";
import { applyRepair, describeRepair, repairChanges } from "../edits/repairs/repairs";
import type { Character } from "../model/character";
import { hangJoint, placeJoint } from "./workOnJoint";

const skeleton = figureSkeleton();
const index = (name: string): number => skeleton.joints.findIndex((j) => j.name === name);
const character = characterWith({
  skeleton,
  parts: [{ ...boxPart("arm", [0.2, 0.05, 0.05], [0.3, 1.1, 0]), skin: rigidSkin(8, index("leftLowerArm")) }],
});
const at = (c: Character, name: string): Vec3 =>
  translationOf(worldMatrices(c.skeleton!, {}), 16 * c.skeleton!.joints.findIndex((j) => j.name === name));
const close = (a: readonly number[], b: readonly number[]): void =>
  a.forEach((x, i) => expect(x).toBeCloseTo(b[i]!, 6));
const atRest = (c: Character): void =>
  deform(makeRig(c), REST_MOMENT).positions[0]!.forEach((x, i) =>
    expect(x).toBeCloseTo(character.parts[0]!.positions[i]!, 6),
  );
const nothing = { moveMm: [0, 0, 0], turn: [0, 0, 0], roll: 0, withBelow: true } as const;

describe("a joint hung elsewhere by hand", () => {
  it("stays where it is, with all below it", () => {
    const after = hangJoint(character, "leftShoulder", "chest");
    for (const name of ["leftShoulder", "leftHand", "rightHand"]) close(at(after, name), at(character, name));
    const up = after.skeleton!.joints.find((j) => j.name === "leftShoulder")!.parent;
    expect(after.skeleton!.joints[up]!.name).toBe("chest");
    atRest(after);
  });
  it.each<[string, string, string | null, RegExp]>([
    ["under itself", "leftShoulder", "leftHand", /hang on itself/],
    ["where it hangs", "leftHand", "leftLowerArm", /hangs on leftLowerArm already/],
    ["on what is not there", "leftHand", "tail", /no joint named tail/],
  ])("%s is refused", (_, joint, under, told) => expect(() => hangJoint(character, joint, under)).toThrow(told));
});

describe("a joint placed by hand", () => {
  it("moves by millimetres, alone or with what hangs on it, and leaves the mesh", () => {
    const alone = placeJoint(character, { ...nothing, joint: "leftLowerArm", moveMm: [0, 10, -5], withBelow: false });
    close(
      at(alone, "leftLowerArm"),
      at(character, "leftLowerArm").map((x, c) => x + [0, 0.01, -0.005][c]!),
    );
    close(at(alone, "leftHand"), at(character, "leftHand"));
    atRest(alone);
    const along = placeJoint(character, { ...nothing, joint: "leftLowerArm", moveMm: [0, 10, -5] });
    close(
      at(along, "leftHand"),
      at(character, "leftHand").map((x, c) => x + [0, 0.01, -0.005][c]!),
    );
    atRest(along);
  });
  it("rolls about its bone: the bone's direction and all below stay, the frame turns", () => {
    const after = placeJoint(character, { ...nothing, joint: "leftUpperArm", roll: 30, withBelow: false });
    for (const name of ["leftUpperArm", "leftLowerArm", "leftHand"]) close(at(after, name), at(character, name));
    const frame = (c: Character): Vec3 =>
      rotate(decomposeTRS(worldMatrices(c.skeleton!, {}), 16 * index("leftUpperArm")).q, [0, 0, 1]);
    const [a, b] = [frame(character), frame(after)];
    expect(Math.acos(a[0] * b[0] + a[1] * b[1] + a[2] * b[2]) * (180 / Math.PI)).toBeGreaterThan(20);
    atRest(after);
  });
  it("turned with what hangs on it takes the hand round, the mesh stays at rest", () => {
    const after = placeJoint(character, { ...nothing, joint: "leftLowerArm", turn: [0, 0, 90] });
    expect(Math.hypot(...at(after, "leftHand").map((x, c) => x - at(character, "leftHand")[c]!))).toBeGreaterThan(0.1);
    atRest(after);
  });
  it("is a repair with a preview and a sentence", () => {
    const repair = {
      what: "place joint",
      joint: "leftLowerArm",
      moveMm: [0, 10, 0],
      turn: [0, 0, 0],
      roll: 5,
      withBelow: false,
    } as const;
    expect(
      repairChanges(character, applyRepair(character, { ...repair, moveMm: [0, 10, 0], turn: [0, 0, 0] })).map((c) => [
        c.of,
        c.after.toFixed(1),
      ]),
    ).toContainEqual(["farthest joint moved, mm", "10.0"]);
    expect(describeRepair({ ...repair, moveMm: [0, 10, 0], turn: [0, 0, 0] })).toBe(
      "placed leftLowerArm: moved 0, 10, 0 mm, rolled 5°",
    );
  });
});

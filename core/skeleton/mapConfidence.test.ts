import { applyStep } from "../ledger/applyStep";
import { stepSchema } from "../ledger/steps";
import { characterWith, figureSkeleton } from "../../tests/helpers/characters";
import { humanoidMap } from "./humanoidMap";
import { readJointMap, writeJointMap } from "./jointMapFile";
import { mapConfidence } from "./mapConfidence";

const plain = figureSkeleton();
const nameless = figureSkeleton((bone) => `n${plain.joints.findIndex((j) => j.name === bone)}`);
const grounds = (skeleton = plain, corrections: Record<string, string | null> = {}): Record<string, string> =>
  Object.fromEntries([...mapConfidence(skeleton, corrections)].map(([bone, g]) => [bone, g.ground]));

describe("what a joint map rests on", () => {
  it("is name and place where both say the same", () => {
    const g = grounds();
    for (const bone of ["hips", "leftUpperArm", "rightLowerLeg", "leftHand", "head"])
      expect(g[bone]).toBe("name and place");
  });
  it("is the place alone where names tell nothing", () => {
    const g = grounds(nameless);
    expect(g["leftLowerArm"]).toBe("place");
    expect(Object.values(g).every((x) => x === "place")).toBe(true);
  });
  it("is the hand where it was set by hand", () =>
    expect(grounds(plain, { leftHand: "leftHand" })["leftHand"]).toBe("by hand"));
  it("is doubtful where a name speaks for another joint than the place: two joints of swapped names", () => {
    const swapped = figureSkeleton((bone) =>
      bone === "leftLowerArm" ? "leftHand" : bone === "leftHand" ? "leftLowerArm" : bone,
    );
    const map = mapConfidence(swapped);
    expect(map.get("leftHand")!.ground).toBe("name against place");
    expect(swapped.joints[map.get("leftHand")!.rival!]!.name).toBe("leftLowerArm");
  });
});

describe("joint maps as files", () => {
  const file = JSON.stringify(writeJointMap(nameless, humanoidMap(nameless)));
  it("come back, joint by joint, and make one step", () => {
    const { map, missing } = readJointMap(file, "map.json", nameless);
    expect(missing).toEqual([]);
    expect(Object.keys(map).length).toBe(humanoidMap(nameless).jointOfBone.size);
    const character = characterWith({ skeleton: nameless });
    const after = applyStep(character, stepSchema.parse({ op: "map joints", map }), () => undefined);
    expect(after.jointMap).toEqual(map);
    expect(humanoidMap(nameless, after.jointMap).jointOfBone).toEqual(humanoidMap(nameless).jointOfBone);
  });
  it("serve a character whose joints have another prefix", () => {
    const prefixed = figureSkeleton(
      (bone) => `hero:${nameless.joints[plain.joints.findIndex((j) => j.name === bone)]!.name}`,
    );
    const { map, missing } = readJointMap(file, "map.json", prefixed);
    expect(missing).toEqual([]);
    expect(map).toEqual(
      Object.fromEntries(
        Object.entries(readJointMap(file, "map.json", nameless).map).map(([joint, bone]) => [`hero:${joint}`, bone]),
      ),
    );
  });
  it("tell which of their joints are not here", () => {
    const bones = { ...writeJointMap(plain, humanoidMap(plain)).bones, jaw: "chin_1" };
    expect(
      readJointMap(JSON.stringify({ format: "yxomorph joint map", version: 1, bones }), "m.json", plain).missing,
    ).toEqual(["chin_1"]);
  });
  it.each<[string, string, RegExp]>([
    ["no JSON", "bones: hips", /not JSON/],
    ["another file", "{}", /not a joint map/],
    [
      "a bone that is none",
      JSON.stringify({ format: "yxomorph joint map", version: 1, bones: { tail: "n1" } }),
      /tail is no humanoid bone/,
    ],
    [
      "another skeleton's",
      JSON.stringify({ format: "yxomorph joint map", version: 1, bones: { hips: "pelvis" } }),
      /None of its joints/,
    ],
  ])("are refused: %s", (_, text, told) => expect(() => readJointMap(text, "m.json", nameless)).toThrow(told));
  it("are refused as a step when a joint is not there", () =>
    expect(() =>
      applyStep(
        characterWith({ skeleton: plain }),
        stepSchema.parse({ op: "map joints", map: { tail: "hips" } }),
        () => undefined,
      ),
    ).toThrow(/no joint named tail/));
});

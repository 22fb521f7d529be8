import { boxPart, characterWith, shapeOf, skeletonOf } from "../../../tests/helpers/characters";
import { applyStep } from "../../ledger/applyStep";
import { deliveryNames } from "../../intake/relinkNames";
import { replay } from "../../ledger/replay";
import { NO_JOINT, type Character } from "../../model/character";
import { NO_RENAMING, renamings, type RenameRule } from "./renameRule";
import { renameThings } from "./renameThings";

const names = ["ferry:leftUpperArm", "ferry:rightUpperArm", "ferry:hips"];
const to = (rule: Partial<RenameRule>, list: readonly string[] = names): string[] =>
  renamings(list, { ...NO_RENAMING, ...rule }).map((r) => r.to);

describe("a rule for names", () => {
  it("changes nothing when empty", () => expect(to({})).toEqual([]));
  it("replaces text wherever it stands, letters that mean something elsewhere too", () => {
    expect(to({ find: "ferry:", replace: "" })).toEqual(["leftUpperArm", "rightUpperArm", "hips"]);
    expect(to({ find: "a.b", replace: "c" }, ["a.b", "axb"])).toEqual(["c"]);
  });
  it("replaces by wildcard, the whole name, with what * and ? stood for", () => {
    expect(to({ find: "ferry:*UpperArm", replace: "arm_$1", manner: "wildcard" })).toEqual(["arm_left", "arm_right"]);
    expect(to({ find: "AU?_*", replace: "unit $1 $2", manner: "wildcard" }, ["AU4_left", "AU12_left"])).toEqual([
      "unit 4 left",
    ]);
  });
  it("replaces by regular expression, and refuses what is none", () => {
    expect(to({ find: "^ferry:(left|right)(.*)$", replace: "$2.$1", manner: "expression" })).toEqual([
      "UpperArm.left",
      "UpperArm.right",
    ]);
    expect(() => to({ find: "(", manner: "expression" })).toThrow(/no regular expression/);
  });
  it("sets words apart anew, and keeps what stands before a colon", () => {
    expect(to({ separator: "_" })).toEqual(["ferry:left_Upper_Arm", "ferry:right_Upper_Arm"]);
    expect(to({ separator: "none" }, ["left_upper_arm", "LEFT-HAND"])).toEqual(["leftUpperArm", "LEFTHAND"]);
    expect(to({ separator: "-" }, ["leftUpperArm2"])).toEqual(["left-Upper-Arm-2"]);
  });
  it("puts something in front once", () => expect(to({ front: "oda_" }, ["hips", "oda_spine"])).toEqual(["oda_hips"]));
  it("tells collisions with each other and with names that stay, and names that vanish", () => {
    expect(
      renamings(names, { ...NO_RENAMING, find: "left|right", replace: "", manner: "expression" }).map((r) => r.refused),
    ).toEqual(["another has this name", "another has this name"]);
    expect(renamings(["a", "b"], { ...NO_RENAMING, find: "b", replace: "a" })[0]!.refused).toBe(
      "another has this name",
    );
    expect(renamings(["a"], { ...NO_RENAMING, find: "a", replace: "" })[0]!.refused).toBe("no name is left");
  });
});

const character: Character = {
  ...characterWith({
    parts: [boxPart("Body"), boxPart("Hat")],
    skeleton: skeletonOf([
      { name: "a:hips", parent: NO_JOINT },
      { name: "a:head", parent: 0 },
      { name: "a:tail", parent: 0 },
    ]),
    shapes: [shapeOf("smile", { 0: [0, 0.1, 0] }), shapeOf("smile half", { 0: [0, 0.1, 0] })],
  }),
  drivers: [
    {
      shape: "smile",
      joint: "a:head",
      axis: [1, 0, 0],
      fromDegrees: 0,
      toDegrees: 9,
      easing: "linear",
      intensity: 1,
      enabled: true,
    },
  ],
  shapeDrivers: [{ shape: "smile half", of: ["smile"], rule: "in-between", enabled: true }],
};

describe("renaming things", () => {
  it("shapes go with what drives and reads them, and keep labels of their own", () => {
    const after = renameThings(character, "shapes", new Map([["smile", "AU12"]]));
    expect([after.shapes[0]!.name, after.shapes[0]!.label, after.drivers[0]!.shape, after.shapeDrivers[0]!.of]).toEqual(
      ["AU12", "AU12", "AU12", ["AU12"]],
    );
  });
  it("parts and materials", () => {
    expect(renameThings(character, "parts", new Map([["Hat", "cap"]])).parts.map((p) => p.name)).toEqual([
      "Body",
      "cap",
    ]);
    expect(renameThings(character, "materials", new Map([["default", "skin"]])).materials[0]!.name).toBe("skin");
  });
  it("refuses two of one name, an empty one and one that is not there", () => {
    expect(() => renameThings(character, "parts", new Map([["Hat", "Body"]]))).toThrow(/Two parts would be named Body/);
    expect(() => renameThings(character, "shapes", new Map([["smile", ""]]))).toThrow(/no name/);
    expect(() => renameThings(character, "materials", new Map([["gone", "x"]]))).toThrow(/nothing named gone/);
  });
  it("as a step runs on a delivery whose joints begin otherwise", async () => {
    const step = {
      op: "rename" as const,
      kind: "joints" as const,
      names: ["hips", "head", "tail"].map((n) => ({ from: `a:${n}`, to: n })),
    };
    expect(applyStep(character, step, () => undefined).skeleton!.joints.map((j) => j.name)).toEqual([
      "hips",
      "head",
      "tail",
    ]);
    const other = renameThings(character, "joints", new Map(["hips", "head", "tail"].map((n) => [`a:${n}`, `b:${n}`])));
    const run = await replay(other, deliveryNames(character), [step], () => undefined);
    expect(run.steps[0]!.outcome).toBe("applied");
    expect(run.character.skeleton!.joints.map((j) => j.name)).toEqual(["hips", "head", "tail"]);
  });
});

import { VRMLoaderPlugin, type VRM } from "@pixiv/three-vrm";
import { GLTFLoader } from "three/addons/loaders/GLTFLoader.js";
import { Quaternion, Vector3, type Mesh, type Object3D } from "three";
import validator from "gltf-validator";
import { loadOda } from "../../demo/cast";
import { readGlb } from "../../core/formats/glb/readGlb";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { mapGlbJson } from "../../core/formats/vrm/glbJson";
import { withKept } from "../../core/formats/vrm/keptOfVrm";
import { writeVrm } from "../../core/formats/vrm/writeVrm";
import type { Character } from "../../core/model/character";
import { HUMANOID_BONES, REQUIRED_BONES } from "../../core/names/humanoidBones";
import { renameJoints } from "../../core/skeleton/renameJoints";
import { evaluate } from "../../core/evaluate/evaluate";
import { REST_MOMENT } from "../../core/evaluate/moment";
import { fromEulerXYZ, toEulerXYZ } from "../../core/math/quat";
import { spreadTwist } from "../../core/weights/spreadTwist";
import { tube } from "../helpers/characters";
import { threeInNode } from "../helpers/threeInNode";

/** npm @pixiv/three-vrm, an independent reader of VRM 1.0; names and presets after the VRMC_vrm-1.0 specification. */
threeInNode();

const oda = await loadOda();
const grin = {
  name: "grin",
  shares: [
    { shape: "AU12_left", weight: 0.8 },
    { shape: "AU25", weight: 0.5 },
  ],
  blocks: ["mouth" as const],
};
const withMixes: Character = {
  ...oda,
  clips: [],
  mixes: [
    grin,
    {
      name: "happy",
      shares: [
        { shape: "AU6_left", weight: 0.7 },
        { shape: "AU6_right", weight: 0.7 },
      ],
    },
  ],
  shapes: oda.shapes.filter((s) => s.name !== "happy"),
};
const bytes = await writeVrm(withMixes, ["Slackwater harbour museum"]);
const load = (data: Uint8Array): Promise<VRM> => {
  const loader = new GLTFLoader();
  loader.register((parser) => new VRMLoaderPlugin(parser));
  return loader.parseAsync(data.slice().buffer, "").then((gltf) => gltf.userData["vrm"] as VRM);
};
const vrm = await load(bytes);

describe("a written VRM 1.0, read by three-vrm", () => {
  it("is a VRM with its meta", () => {
    expect(vrm.meta.metaVersion).toBe("1");
    expect(vrm.meta).toMatchObject({
      name: oda.name,
      authors: ["Slackwater harbour museum"],
      licenseUrl: "https://vrm.dev/licenses/1.0/",
    });
  });
  it("has every required bone and every other that Oda has, at the same place", () => {
    vrm.scene.updateMatrixWorld(true);
    for (const bone of REQUIRED_BONES) expect(vrm.humanoid.getRawBoneNode(bone)).not.toBeNull();
    const found = HUMANOID_BONES.filter((b) => vrm.humanoid.getRawBoneNode(b as "hips") !== null);
    expect(found.length).toBeGreaterThan(50);
    for (const bone of found) expect(vrm.humanoid.getRawBoneNode(bone as "hips")!.name).toBe(bone);
  });
  it("stands in a T pose, as VRM 1.0 asks: arms level, hands as high as the shoulders", () => {
    vrm.scene.updateMatrixWorld(true);
    const heightOf = (bone: "leftHand" | "leftUpperArm" | "leftLowerArm" | "rightHand" | "rightUpperArm"): number =>
      vrm.humanoid.getRawBoneNode(bone)!.getWorldPosition(new Vector3()).y;
    for (const [hand, upper] of [
      ["leftHand", "leftUpperArm"],
      ["rightHand", "rightUpperArm"],
    ] as const)
      expect(Math.abs(heightOf(hand) - heightOf(upper))).toBeLessThan(0.02);
  });
  it("has presets from shapes and from mixes, and the mix of its own", () => {
    const names = Object.keys(vrm.expressionManager!.expressionMap);
    for (const preset of [
      "happy",
      "angry",
      "sad",
      "relaxed",
      "surprised",
      "aa",
      "ih",
      "ou",
      "ee",
      "oh",
      "blink",
      "blinkLeft",
      "blinkRight",
      "lookUp",
      "lookDown",
      "lookLeft",
      "lookRight",
    ])
      expect(names).toContain(preset);
    expect(vrm.expressionManager!.customExpressionMap["grin"]).toMatchObject({
      overrideMouth: "block",
      overrideBlink: "none",
    });
  });
  it("moves the morph targets a mix names, by its weights", () => {
    vrm.expressionManager!.setValue("grin", 1);
    vrm.expressionManager!.update();
    const weights = new Map<string, number>();
    vrm.scene.traverse((o) => {
      const mesh = o as Mesh;
      if (mesh.morphTargetDictionary && mesh.name === "body")
        for (const [name, i] of Object.entries(mesh.morphTargetDictionary))
          weights.set(name, mesh.morphTargetInfluences![i]!);
      if (mesh.parent?.name === "body" && mesh.morphTargetDictionary)
        for (const [name, i] of Object.entries(mesh.morphTargetDictionary))
          weights.set(name, Math.max(weights.get(name) ?? 0, mesh.morphTargetInfluences![i]!));
    });
    expect([weights.get("AU12_left"), weights.get("AU25"), weights.get("AU12_right")]).toEqual([0.8, 0.5, 0]);
  });
  it("turns the gaze by the eyes' joints, from between the eyes", () => {
    expect(vrm.lookAt).toBeDefined();
    expect(vrm.lookAt!.applier.constructor.name).toMatch(/Bone/);
    expect(Math.abs(vrm.lookAt!.offsetFromHeadBone.x)).toBeLessThan(1e-3);
    expect(vrm.lookAt!.offsetFromHeadBone.y).toBeGreaterThan(0.02);
  });
});

describe("a written VRM 1.0", () => {
  it("has no error and no warning of the Khronos validator", async () => {
    const { issues } = await validator.validateBytes(bytes);
    expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
  });
  it("reads back the same: shapes, mixes, joint map", async () => {
    const again = await readGlb(bytes, "oda.vrm");
    expect(again.shapes.map((s) => s.name).sort()).toEqual(withMixes.shapes.map((s) => s.name).sort());
    expect(again.mixes).toEqual(withMixes.mixes);
    expect(again.jointMap["leftUpperArm"]).toBe("leftUpperArm");
  });
  it("of another writer gives its expressions as mixes and its bones as joint map", async () => {
    // the same file without our own notes: all that is left is the extension
    const foreign = mapGlbJson(bytes, (json) => ({ ...json, extras: undefined }));
    const again = await readGlb(foreign, "other.vrm");
    const mixes = again.mixes ?? [];
    expect(mixes.find((m) => m.name === "grin")).toEqual(grin);
    expect(mixes.find((m) => m.name === "happy")!.shares.map((s) => s.shape)).toEqual(["AU6_left", "AU6_right"]);
    expect(Object.keys(again.jointMap).length).toBeGreaterThan(50);
  });
  it("that is broken is read as a GLB, with a note", async () => {
    const broken = mapGlbJson(bytes, (json) => ({
      ...json,
      extras: undefined,
      extensions: { VRMC_vrm: { specVersion: "2.0" } },
    }));
    const again = await readGlb(broken, "broken.vrm");
    expect(again.notes.join(" ")).toMatch(/VRM part of the file could not be read/);
    expect(again.shapes.length).toBe(withMixes.shapes.length);
  });
  it("is refused where a required bone is not mapped", async () =>
    await expect(writeVrm(tube())).rejects.toThrow(/VRM 1.0 needs hips, spine, head/));
});

describe("what a VRM brings beside bones and expressions", () => {
  /**
   * Oda's file with makers' terms, a spring on a finger with a collider at the head, a right hand that takes half of
   * the left one's roll, and expressions of their own kind.
   */
  const foreign = mapGlbJson(bytes, (json) => {
    const nodes = json["nodes"] as { name: string; mesh?: number; extensions?: object }[];
    const at = (name: string): number => nodes.findIndex((n) => n.name === name && n.mesh === undefined);
    const skin = nodes.findIndex((n) => n.name === "body" && n.mesh !== undefined);
    const vrmc = (json["extensions"] as Record<string, Record<string, unknown>>)["VRMC_vrm"]!;
    const expressions = vrmc["expressions"] as { preset: Record<string, object>; custom: Record<string, object> };
    return {
      ...json,
      nodes: nodes.map((n, i) =>
        i === at("rightHand")
          ? {
              ...n,
              extensions: {
                VRMC_node_constraint: {
                  specVersion: "1.0",
                  constraint: { roll: { source: at("leftHand"), rollAxis: "X", weight: 0.5 } },
                },
              },
            }
          : n,
      ),
      extensionsUsed: [...(json["extensionsUsed"] as string[]), "VRMC_springBone", "VRMC_node_constraint"],
      extensions: {
        ...(json["extensions"] as object),
        VRMC_vrm: {
          ...vrmc,
          meta: {
            ...(vrmc["meta"] as object),
            name: "Oda of the ferry",
            authors: ["A. Maker", "B. Maker"],
            commercialUsage: "corporation",
            modification: "allowModification",
            copyrightInformation: "made up",
          },
          lookAt: { ...(vrmc["lookAt"] as object), rangeMapVerticalUp: { inputMaxValue: 45, outputScale: 7 } },
          firstPerson: { meshAnnotations: [{ node: skin, type: "both" }] },
          expressions: {
            preset: {
              ...expressions.preset,
              happy: {
                ...expressions.preset["happy"],
                overrideBlink: "blend",
                isBinary: true,
                materialColorBinds: [{ material: 0, type: "color", targetValue: [1, 0, 0, 1] }],
              },
            },
            custom: expressions.custom,
          },
        },
        VRMC_springBone: {
          specVersion: "1.0",
          colliders: [{ node: at("head"), shape: { sphere: { offset: [0, 0.1, 0], radius: 0.08 } } }],
          colliderGroups: [{ name: "head", colliders: [0] }],
          springs: [
            {
              name: "tail",
              joints: [
                { node: at("leftIndexProximal"), stiffness: 2, dragForce: 0.3 },
                { node: at("leftIndexIntermediate") },
                { node: at("leftIndexDistal") },
              ],
              colliderGroups: [0],
              center: at("hips"),
            },
          ],
        },
      },
    };
  });
  const facts = async (data: Uint8Array): Promise<Record<string, unknown>> => {
    const read = await load(data);
    const springs = [...read.springBoneManager!.joints]
      .map((j) => [
        j.bone.name,
        j.settings.stiffness,
        j.settings.dragForce,
        j.colliderGroups.map((g) => g.name),
        j.center?.name ?? null,
      ])
      .sort();
    const constraint = [...read.nodeConstraintManager!.constraints].map((c) => [
      c.destination.name,
      (c as unknown as { source: { name: string } }).source.name,
      c.weight,
    ]);
    const happy = read.expressionManager!.expressionMap["happy"]!;
    const { name, authors, ...terms } = read.meta as unknown as Record<string, unknown>;
    return {
      springs,
      constraint,
      name,
      authors,
      terms: [terms["commercialUsage"], terms["modification"], terms["copyrightInformation"]],
      happy: [happy.isBinary, happy.overrideBlink],
      up: [
        read.lookAt!.applier &&
          (read.lookAt!.applier as unknown as { rangeMapVerticalUp: { outputScale: number } }).rangeMapVerticalUp
            .outputScale,
      ],
      firstPerson: read.firstPerson!.meshAnnotations.map((a) => a.type),
    };
  };
  it(
    "goes through reading and writing: three-vrm finds " + "the same springs, constraints, terms and ranges in both",
    async () => {
      const back = await readGlb(foreign, "oda.vrm");
      const again = await writeVrm(back);
      const [before, after] = [await facts(foreign), await facts(again)];
      expect(after).toEqual(before);
      expect(after["springs"]).toHaveLength(2);
      expect(after["constraint"]).toEqual([["rightHand", "leftHand", 0.5]]);
      expect(after["terms"]).toEqual(["corporation", "allowModification", "made up"]);
      expect((await validator.validateBytes(again)).issues.numErrors).toBe(0);
    },
  );
  it("goes through a GLB too, and along when joints are renamed", async () => {
    const back = await readGlb(foreign, "oda.vrm");
    const renamed = renameJoints(
      back,
      new Map([
        ["leftHand", "hand.L"],
        ["head", "Kopf"],
        ["leftIndexDistal", "tip"],
      ]),
    );
    const through = await readGlb(await writeGlb(renamed), "oda.glb");
    expect(through.vrm).toEqual(renamed.vrm);
    const found = await facts(await writeVrm(through));
    expect(found["constraint"]).toEqual([["rightHand", "handL", 0.5]]);
    expect((found["springs"] as unknown[][]).map((s) => s[0])).toEqual(["leftIndexIntermediate", "leftIndexProximal"]);
  });
  it("ends where its joints are gone: springs before the joint, colliders and constraints with it", async () => {
    const kept = (await readGlb(foreign, "oda.vrm")).vrm!;
    const gone = new Set(["head", "leftHand", "leftIndexDistal"]);
    const left = new Map(
      ["rightHand", "leftIndexProximal", "leftIndexIntermediate", "hips"]
        .filter((n) => !gone.has(n))
        .map((n, i) => [n, i]),
    );
    const json = withKept(
      { nodes: [{}, {}, {}, {}] },
      kept,
      { specVersion: "1.0", meta: { name: "x", authors: ["y"], licenseUrl: "z" }, humanoid: { humanBones: {} } },
      left,
      new Map(),
    );
    const springs = (
      json["extensions"] as Record<string, Record<string, { joints?: unknown[]; colliders?: unknown[] }[]>>
    )["VRMC_springBone"]!;
    expect(springs["springs"]![0]!.joints).toHaveLength(2);
    expect(springs["colliders"]).toEqual([]);
    expect(springs["colliderGroups"]![0]!.colliders).toEqual([]);
    expect(JSON.stringify(json["nodes"])).not.toContain("constraint");
    expect(json["extensionsUsed"]).toEqual(["VRMC_vrm", "VRMC_springBone"]);
  });
});

describe("joints that share a twist, as roll constraints", () => {
  const joint = "leftLowerArmTwist";
  const spread = spreadTwist(oda, { joint, end: "leftHand", steps: 3 });
  it("turn in three-vrm as they turn here", async () => {
    const theirs = await load(await writeVrm(spread));
    const nodes = new Map<string, Object3D>();
    theirs.scene.traverse((o) => void nodes.set(o.name, o));
    const source = nodes.get(joint)!;
    const rest = source.quaternion.clone();
    for (const turn of [fromEulerXYZ(60, 0, 0), fromEulerXYZ(-75, 20, 35)]) {
      source.quaternion.copy(rest).multiply(new Quaternion(...turn));
      theirs.scene.updateMatrixWorld(true);
      theirs.nodeConstraintManager!.update();
      const { turns } = evaluate(spread, { ...REST_MOMENT, pose: { [joint]: toEulerXYZ(turn) } });
      for (const { joint: own, share } of spread.twistJoints!) {
        const j = spread.skeleton!.joints.findIndex((x) => x.name === own);
        const ours = new Quaternion(...spread.skeleton!.joints[j]!.rotation).multiply(
          new Quaternion(...turns.subarray(4 * j, 4 * j + 4)),
        );
        expect(share).toBeGreaterThan(0);
        expect((nodes.get(own)!.quaternion.angleTo(ours) * 180) / Math.PI).toBeLessThan(0.02);
      }
    }
  });
  it("are read back from the constraints alone", async () => {
    const bare = await mapGlbJson(await writeVrm(spread), (json) => {
      const { extras, ...rest } = json;
      expect(extras).toBeDefined();
      return rest;
    });
    const again = await readGlb(bare, "bare.vrm");
    expect(again.twistJoints?.map((t) => [t.joint, t.of])).toEqual(spread.twistJoints!.map((t) => [t.joint, t.of]));
    again.twistJoints!.forEach((t, i) => {
      expect(t.share).toBeCloseTo(spread.twistJoints![i]!.share, 6);
      t.about.forEach((x, c) => expect(Math.abs(x)).toBeCloseTo(Math.abs(spread.twistJoints![i]!.about[c]!), 4));
    });
  });
});

import { VRMLoaderPlugin, type VRM } from "@pixiv/three-vrm";
import { GLTFLoader } from "three/addons/loaders/GLTFLoader.js";
import { Vector3, type Mesh } from "three";
import validator from "gltf-validator";
import { loadOda } from "../../demo/cast";
import { readGlb } from "../../core/formats/glb/readGlb";
import { mapGlbJson } from "../../core/formats/vrm/glbJson";
import { writeVrm } from "../../core/formats/vrm/writeVrm";
import type { Character } from "../../core/model/character";
import { HUMANOID_BONES, REQUIRED_BONES } from "../../core/skeleton/humanoidBones";
import { tube } from "../helpers/characters";

/** npm @pixiv/three-vrm, an independent reader of VRM 1.0; names and presets after the VRMC_vrm-1.0 specification. */
// what three's file loader expects of a browser
Object.assign(globalThis, { self: globalThis, ProgressEvent: class extends Event {} });

const oda = await loadOda();
const grin = { name: "grin", shares: [{ shape: "AU12_left", weight: 0.8 }, { shape: "AU25", weight: 0.5 }], blocks: ["mouth" as const] };
const withMixes: Character = { ...oda, clips: [], mixes: [grin, { name: "happy", shares: [{ shape: "AU6_left", weight: 0.7 }, { shape: "AU6_right", weight: 0.7 }] }], shapes: oda.shapes.filter((s) => s.name !== "happy") };
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
    expect(vrm.meta).toMatchObject({ name: oda.name, authors: ["Slackwater harbour museum"], licenseUrl: "https://vrm.dev/licenses/1.0/" });
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
    const heightOf = (bone: "leftHand" | "leftUpperArm" | "leftLowerArm" | "rightHand" | "rightUpperArm"): number => vrm.humanoid.getRawBoneNode(bone)!.getWorldPosition(new Vector3()).y;
    for (const [hand, upper] of [["leftHand", "leftUpperArm"], ["rightHand", "rightUpperArm"]] as const) expect(Math.abs(heightOf(hand) - heightOf(upper))).toBeLessThan(0.02);
  });
  it("has presets from shapes and from mixes, and the mix of its own", () => {
    const names = Object.keys(vrm.expressionManager!.expressionMap);
    for (const preset of ["happy", "angry", "sad", "relaxed", "surprised", "aa", "ih", "ou", "ee", "oh", "blink", "blinkLeft", "blinkRight", "lookUp", "lookDown", "lookLeft", "lookRight"]) expect(names).toContain(preset);
    expect(vrm.expressionManager!.customExpressionMap["grin"]).toMatchObject({ overrideMouth: "block", overrideBlink: "none" });
  });
  it("moves the morph targets a mix names, by its weights", () => {
    vrm.expressionManager!.setValue("grin", 1);
    vrm.expressionManager!.update();
    const weights = new Map<string, number>();
    vrm.scene.traverse((o) => {
      const mesh = o as Mesh;
      if (mesh.morphTargetDictionary && mesh.name === "body") for (const [name, i] of Object.entries(mesh.morphTargetDictionary)) weights.set(name, mesh.morphTargetInfluences![i]!);
      if (mesh.parent?.name === "body" && mesh.morphTargetDictionary) for (const [name, i] of Object.entries(mesh.morphTargetDictionary)) weights.set(name, Math.max(weights.get(name) ?? 0, mesh.morphTargetInfluences![i]!));
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
    const broken = mapGlbJson(bytes, (json) => ({ ...json, extras: undefined, extensions: { VRMC_vrm: { specVersion: "2.0" } } }));
    const again = await readGlb(broken, "broken.vrm");
    expect(again.notes.join(" ")).toMatch(/VRM part of the file could not be read/);
    expect(again.shapes.length).toBe(withMixes.shapes.length);
  });
  it("is refused where a required bone is not mapped", async () => await expect(writeVrm(tube())).rejects.toThrow(/VRM 1.0 needs hips, spine, head/));
});

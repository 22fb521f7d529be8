import { loadOda } from "../../../demo/cast";
import { CHECKS } from "../../checks/entries";
import { runChecks } from "../../checks/runChecks";
import { PROFILES } from "../../checks/profile";
import type { Finding } from "../../checks/finding";
import { deform, makeRig } from "../../deform/rig";
import { REST_MOMENT } from "../../evaluate/moment";
import { readGlb } from "../../formats/glb/readGlb";
import { writeGlb } from "../../formats/glb/writeGlb";
import { mapGlbJson } from "../../formats/vrm/glbJson";
import type { Character } from "../../model/character";
import { humanoidMap } from "../../skeleton/humanoidMap";
import { mend } from "../../checks/mend";

const oda: Character = { ...(await loadOda()), clips: [] };
const few: Character = { ...oda, shapes: oda.shapes.slice(0, 3) };
const loose = (...names: string[]): Character => ({
  ...few,
  parts: few.parts.map((p) => (names.includes(p.name) ? { ...p, skin: null } : p)),
});
const found = async (c: Character): Promise<Finding[]> =>
  (await runChecks(c, PROFILES.film, { only: ["weights.unbound"] })).findings;

describe("parts that came without a skin", () => {
  it("are found in a file, by name; a character without a skeleton is not asked", async () => {
    const again = await readGlb(await writeGlb(loose("top", "hair")), "o.glb");
    expect((await found(again)).map((f) => f.part).sort()).toEqual(["hair", "top"]);
    expect(await found(few)).toEqual([]);
    expect(await found({ ...loose("top"), skeleton: null })).toEqual([]);
  });
  it("clothes are bound as the skin next to them: a bent arm takes the sleeve along nearly as before", async () => {
    const c = loose("top");
    const [finding] = await found(c);
    const bound = mend(c, finding!);
    expect(await found(bound)).toEqual([]);
    const top = few.parts.findIndex((p) => p.name === "top");
    const posed = (x: Character): Float32Array =>
      deform(makeRig(x), { ...REST_MOMENT, pose: { leftUpperArm: [0, 0, 30] } }, { normals: false }).positions[top]!;
    const [was, is] = [posed(few), posed(bound)];
    const off = Array.from(
      { length: was.length / 3 },
      (_, v) => 1000 * Math.hypot(...[0, 1, 2].map((k) => was[3 * v + k]! - is[3 * v + k]!)),
    ).sort((a, b) => a - b);
    expect(off[Math.floor(0.9 * off.length)]!).toBeLessThan(10);
  });
  it.each([
    ["hair", "head"],
    ["eye left", "leftEye"],
    ["eye right", "rightEye"],
    ["teeth upper", "head"],
    ["teeth lower", "jaw"],
    ["tongue", "jaw"],
  ])("%s is bound to %s", async (part, joint) => {
    const c = loose(part);
    const bound = mend(c, (await found(c))[0]!);
    const skin = bound.parts.find((p) => p.name === part)!.skin!;
    expect(new Set(Array.from(skin.joints, (j) => bound.skeleton!.joints[j]!.name))).toEqual(new Set([joint]));
  });
});

describe("deliveries as they may come", () => {
  it("shapes without names are numbered, and the report says so", async () => {
    const nameless = mapGlbJson(await writeGlb(few), (json) => ({
      ...json,
      extras: undefined,
      meshes: (json["meshes"] as object[]).map((m) => ({ ...m, extras: undefined })),
    }));
    const again = await readGlb(nameless, "n.glb");
    expect(again.shapes.map((s) => s.name)).toEqual(["shape 1", "shape 2", "shape 3"]);
    expect(again.notes.join(" ")).toMatch(/came without names/);
  });
  it("five thousand joints are read, mapped and checked; the humanoid among them is found", async () => {
    const own = few.skeleton!;
    const most = 5000;
    const joints = [
      ...own.joints,
      ...Array.from({ length: most - own.joints.length }, (_, i) => ({
        name: `strand_${i}`,
        parent: i === 0 ? 0 : own.joints.length + Math.floor((i - 1) / 3),
        translation: [0.001, 0.002, 0] as const,
        rotation: [0, 0, 0, 1] as const,
        scale: [1, 1, 1] as const,
      })),
    ];
    const inverseBinds = new Float32Array(16 * most);
    inverseBinds.set(own.inverseBinds);
    for (let j = own.joints.length; j < most; j++) for (let k = 0; k < 4; k++) inverseBinds[16 * j + 5 * k] = 1;
    const again = await readGlb(
      await writeGlb({ ...few, shapes: [], skeleton: { joints, inverseBinds, inSkin: new Uint8Array(most).fill(1) } }),
      "many.glb",
    );
    expect(again.skeleton!.joints.length).toBe(most);
    expect(humanoidMap(again.skeleton!).missingRequired).toEqual([]);
    const only = CHECKS.map((c) => c.id).filter((id) => id.startsWith("skeleton."));
    const { findings } = await runChecks(again, PROFILES.realtime, { only });
    expect(findings.filter((f) => f.check === "skeleton.required")).toEqual([]);
    expect(findings.some((f) => f.check === "skeleton.end-joints")).toBe(true);
  });
});

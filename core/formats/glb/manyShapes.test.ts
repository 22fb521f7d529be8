import { PROFILES } from "../../checks/profile";
import { runChecks } from "../../checks/runChecks";
import { shapeOf, tube } from "../../../tests/helpers/characters";
import { glbOf } from "../../../tests/helpers/glb";
import type { Character } from "../../model/character";
import { readGlb } from "./readGlb";
import { writeGlb } from "./writeGlb";

const limb = tube();
const jsonIn = (bytes: Uint8Array): { json: { meshes: { extras: { targetNames: string[] } }[] }; body: Uint8Array } => {
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  const length = view.getUint32(12, true);
  return {
    json: JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + length))) as never,
    body: bytes.subarray(28 + length),
  };
};

describe("shapes as they come", () => {
  it("two of one name are both kept, the second under a name of its own", async () => {
    const { json, body } = jsonIn(
      await writeGlb({
        ...limb,
        shapes: [shapeOf("smile", { 3: [0.01, 0, 0] }), shapeOf("pout", { 4: [0, 0, 0.02] })],
      }),
    );
    json.meshes[0]!.extras.targetNames = ["smile", "smile"];
    const back = await readGlb(glbOf(json, body), "twice.glb");
    expect(new Set(back.shapes.map((s) => s.name)).size).toBe(2);
    expect(back.shapes[0]!.name).toBe("smile");
    expect(back.shapes[1]!.name).toMatch(/^smile./);
    expect(back.shapes[1]!.deltas[0]!.deltas[2]).toBeCloseTo(0.02, 6);
  });
  it("without names they are numbered as they stand in the file", async () => {
    const { json, body } = jsonIn(
      await writeGlb({ ...limb, shapes: [shapeOf("a", { 3: [0.01, 0, 0] }), shapeOf("b", { 4: [0, 0, 0.02] })] }),
    );
    json.meshes[0]!.extras.targetNames = [];
    expect((await readGlb(glbOf(json, body), "nameless.glb")).shapes.map((s) => s.name)).toEqual([
      "shape 1",
      "shape 2",
    ]);
  });
  it("five hundred of them are written, read and checked, each as it was", async () => {
    const count = limb.parts[0]!.positions.length / 3;
    const many: Character = {
      ...limb,
      shapes: Array.from({ length: 500 }, (_, i) => shapeOf(`shape ${i}`, { [i % count]: [0.001 * (1 + i), 0, 0] })),
    };
    const back = await readGlb(await writeGlb(many), "many.glb");
    expect(back.shapes.map((s) => s.name)).toEqual(many.shapes.map((s) => s.name));
    for (const i of [0, 250, 499]) {
      expect([...back.shapes[i]!.deltas[0]!.vertices]).toEqual([i % count]);
      expect(back.shapes[i]!.deltas[0]!.deltas[0]).toBeCloseTo(0.001 * (1 + i), 6);
    }
    const { findings } = await runChecks(back, PROFILES.realtime);
    expect(findings.filter((f) => f.check === "shapes.empty")).toEqual([]);
  });
});

import validator from "gltf-validator";
import {
  boxPart,
  characterWith,
  figureSkeleton,
  partOf,
  randomCharacter,
  randomPose,
  shapeOf,
  skeletonOf,
  tube,
} from "../../../tests/helpers/characters";
import { glbOf, jsonOf } from "../../../tests/helpers/glb";
import { randomFrom } from "../../../tests/helpers/random";
import { deform, makeRig } from "../../deform/rig";
import { REST_MOMENT } from "../../evaluate/moment";
import { compareReadBack } from "../../ledger/handOff";
import { DEFAULT_MATERIAL, NO_JOINT, type Character } from "../../model/character";
import { jointCount } from "../../model/skinJoints";
import { isUserError, type UserError } from "../../model/userError";
import { splitGlb } from "./preflight";
import { readGlb } from "./readGlb";
import { rootExtras } from "./rootExtras";
import { writeGlb } from "./writeGlb";

const driven: Character = {
  ...tube(),
  shapes: [shapeOf("bulge", { 10: [0.01, 0, 0] }, 0, "elbow bulge")],
  drivers: [
    {
      shape: "bulge",
      joint: "lower",
      axis: [1, 0, 0],
      fromDegrees: 20,
      toDegrees: 90,
      easing: "smooth",
      intensity: 0.8,
      enabled: true,
    },
  ],
  jointMap: { upper: "leftUpperArm", lower: null },
};
const refusal = async (bytes: Uint8Array): Promise<UserError> => {
  try {
    await readGlb(bytes, "in.glb");
  } catch (error) {
    if (isUserError(error)) return error;
    throw error;
  }
  throw new Error("it was read");
};

describe("a written GLB", () => {
  it("reads back as the same character", async () => {
    const again = await readGlb(await writeGlb(driven), "tube.glb");
    const proof = await compareReadBack(driven, again);
    expect(proof).toMatchObject({
      joints: true,
      weights: true,
      shapes: true,
      drivers: true,
      differences: [],
      largestErrorMm: 0,
    });
    expect(again.parts[0]!.corners).toEqual(driven.parts[0]!.corners);
    expect(again.parts[0]!.faceStarts).toEqual(driven.parts[0]!.faceStarts);
    expect(rootExtras(again)).toEqual(rootExtras(driven));
    expect(again.shapes[0]!.label).toBe("elbow bulge");
  });
  it("keeps joints whose order is not that of the tree walked down", async () => {
    const skeleton = skeletonOf([
      { name: "root", parent: NO_JOINT },
      { name: "a", parent: 0, translation: [1, 0, 0] },
      { name: "b", parent: 0, translation: [0, 1, 0] },
      { name: "under a", parent: 1, translation: [1, 0, 0] },
      { name: "under b", parent: 2, translation: [0, 1, 0] },
    ]);
    const character = characterWith({
      parts: [
        {
          ...boxPart(),
          skin: {
            influenceCount: 4,
            joints: Uint16Array.from({ length: 32 }, (_, i) => (i % 4) + 1),
            weights: new Float32Array(32).fill(0.25),
            inverseBinds: null,
          },
        },
      ],
      skeleton,
    });
    const again = await readGlb(await writeGlb(character), "x.glb");
    expect(again.skeleton!.joints.map((j) => [j.name, j.parent])).toEqual(
      skeleton.joints.map((j) => [j.name, j.parent]),
    );
  });
  it("lists joints in skins only: nodes above stay nodes, with their place", async () => {
    const skeleton = skeletonOf([
      { name: "scene", parent: NO_JOINT, translation: [0, 1, 0] },
      { name: "hips", parent: 0, translation: [0, 0.5, 0] },
      { name: "end", parent: 1, translation: [0, 0.2, 0] },
    ]);
    const character = characterWith({
      parts: [
        {
          ...boxPart(),
          skin: {
            influenceCount: 1,
            joints: new Uint16Array(8).fill(1),
            weights: new Float32Array(8).fill(1),
            inverseBinds: null,
          },
        },
      ],
      skeleton: { ...skeleton, inSkin: Uint8Array.of(0, 1, 0) },
    });
    const bytes = await writeGlb(character);
    const json = splitGlb(bytes, "x.glb").json as { skins: { joints: number[] }[]; nodes: { name: string }[] };
    expect(json.skins.map((s) => s.joints.map((n) => json.nodes[n]!.name))).toEqual([["hips"]]);
    const again = await readGlb(bytes, "x.glb");
    expect((await compareReadBack(character, again)).differences).toEqual([]);
    expect([again.skeleton!.joints.map((j) => j.name), Array.from(again.skeleton!.inSkin), jointCount(again)]).toEqual([
      ["scene", "hips", "end"],
      [0, 1, 0],
      1,
    ]);
    // a node that is given weight later is bound where it stands
    const held = {
      ...again,
      parts: [
        { ...again.parts[0]!, skin: { ...again.parts[0]!.skin!, joints: again.parts[0]!.skin!.joints.map(() => 2) } },
      ],
    };
    deform(makeRig(held), REST_MOMENT).positions[0]!.forEach((x, i) =>
      expect(x).toBeCloseTo(character.parts[0]!.positions[i]!, 6),
    );
  });
  it("deforms alike on random skins and poses after reading back", async () => {
    const random = randomFrom(5);
    const character = randomCharacter(random);
    const again = await readGlb(await writeGlb(character), "x.glb");
    const moment = { ...REST_MOMENT, pose: randomPose(random, character), weights: { "shape 1": 0.7 } };
    const a = deform(makeRig(character), moment).positions[0]!;
    const b = deform(makeRig(again), moment).positions[0]!;
    a.forEach((x, i) => expect(b[i]).toBeCloseTo(x, 6));
  });
  it("is the same bytes each time and passes the Khronos validator with nothing to say", async () => {
    const first = await writeGlb(driven);
    expect(Buffer.compare(Buffer.from(first), Buffer.from(await writeGlb(driven)))).toBe(0);
    const report = await validator.validateBytes(first);
    expect([report.issues.numErrors, report.issues.numWarnings]).toEqual([0, 0]);
  });
  it("keeps names of any kind", async () => {
    const odd = ["émoji 😀", 'quote " and \\ slash /', "x".repeat(10_000), "line\nbreak"];
    const skeleton = skeletonOf(odd.map((name, i) => ({ name, parent: i - 1 })));
    const character = characterWith({
      parts: [
        {
          ...boxPart(odd[0]!),
          skin: {
            influenceCount: 1,
            joints: new Uint16Array(8),
            weights: new Float32Array(8).fill(1),
            inverseBinds: null,
          },
        },
      ],
      skeleton,
      shapes: odd.map((name) => shapeOf(name, { 1: [0.1, 0, 0] })),
    });
    const again = await readGlb(await writeGlb(character), "x.glb");
    expect(again.skeleton!.joints.map((j) => j.name)).toEqual(odd);
    expect(again.shapes.map((s) => s.name)).toEqual(odd);
  });
  it("keeps materials, colours and polygons of any size", async () => {
    const five = partOf(
      "five",
      [
        [0, 0, 0],
        [1, 0, 0],
        [1, 1, 0],
        [0.5, 2, 0],
        [0, 1, 0],
        [3, 0, 0],
      ],
      [
        [0, 1, 2, 3, 4],
        [0, 1, 5],
      ],
      {
        colors: Float32Array.from({ length: 24 }, (_, i) => (i % 4 === 3 ? 1 : (i % 7) / 7)),
        uvs: Float32Array.from({ length: 12 }, (_, i) => i / 12),
        groups: [
          { material: 1, faceStart: 0, faceCount: 1 },
          { material: 0, faceStart: 1, faceCount: 1 },
        ],
        kind: "lash",
      },
    );
    const character = characterWith({
      parts: [five],
      materials: [
        DEFAULT_MATERIAL,
        { ...DEFAULT_MATERIAL, name: "see through", opacity: "blend", baseColor: [1, 0, 0, 0.5], doubleSided: true },
      ],
    });
    const { parts, materials } = await readGlb(await writeGlb(character), "x.glb");
    expect(parts[0]!.kind).toBe("lash");
    expect([...parts[0]!.faceStarts]).toEqual([0, 5, 8]);
    parts[0]!.colors!.forEach((c, i) => expect(c).toBeCloseTo(five.colors![i]!, 6));
    expect(parts[0]!.groups.map((g) => materials[g.material]!.name)).toEqual(["see through", "default"]);
    expect(materials.find((m) => m.name === "see through")).toMatchObject({ opacity: "blend", doubleSided: true });
  });
  it("keeps clips", async () => {
    const clip = {
      name: "wave",
      tracks: [
        {
          joint: "lower",
          path: "rotation" as const,
          interpolation: "LINEAR" as const,
          times: Float32Array.of(0, 1),
          values: Float32Array.of(0, 0, 0, 1, 0.5, 0, 0, Math.sqrt(0.75)),
        },
      ],
    };
    const again = await readGlb(await writeGlb({ ...tube(), clips: [clip] }), "x.glb");
    expect(again.clips[0]!.name).toBe("wave");
    expect(again.clips[0]!.tracks[0]).toMatchObject({ joint: "lower", path: "rotation", interpolation: "LINEAR" });
    expect([...again.clips[0]!.tracks[0]!.values]).toEqual([...clip.tracks[0]!.values]);
  });
  it("carries the humanoid skeleton", async () => {
    const skeleton = figureSkeleton();
    const box = boxPart();
    const again = await readGlb(
      await writeGlb(
        characterWith({
          parts: [
            {
              ...box,
              skin: {
                influenceCount: 1,
                joints: new Uint16Array(8),
                weights: new Float32Array(8).fill(1),
                inverseBinds: null,
              },
            },
          ],
          skeleton,
        }),
      ),
      "f.glb",
    );
    skeleton.inverseBinds.forEach((x, i) => expect(again.skeleton!.inverseBinds[i]).toBeCloseTo(x, 6));
  });
});

describe("a GLB that is not right", () => {
  const sound = (): ReturnType<typeof jsonOf> => jsonOf();
  it.each<[string, RegExp, (g: ReturnType<typeof jsonOf>) => void]>([
    ["index beyond the accessors", /accessor 99/, (g) => (g.json.meshes[0]!.primitives[0]!.attributes.POSITION = 99)],
    [
      "vertex index beyond the vertices",
      /vert/i,
      (g) => new Uint16Array(g.binary.buffer, g.indicesAt, 3).set([0, 1, 500]),
    ],
    ["not a number", /not a number|finite|NaN/i, (g) => new Float32Array(g.binary.buffer, 0, 3).set([NaN, 0, 0])],
    ["infinity", /not a number|finite|infin/i, (g) => new Float32Array(g.binary.buffer, 0, 3).set([Infinity, 0, 0])],
    ["more elements than bytes", /need/, (g) => (g.json.accessors[0]!.count = 4000)],
    ["a count beyond reason", /need .* bytes/, (g) => (g.json.accessors[0]!.count = 4e9)],
    ["buffer view past the end", /ends at byte/, (g) => (g.json.bufferViews[0]!.byteLength = 1e9)],
    ["negative offset", /./, (g) => (g.json.accessors[0]!.count = -4)],
    ["unknown component type", /type/, (g) => (g.json.accessors[0]!.componentType = 7)],
    [
      "joints in a loop",
      /loop|ancestor|parent/,
      (g) => (g.json.nodes = [{ mesh: 0, children: [1] }, { children: [2] }, { children: [1] }]),
    ],
    [
      "a joint under two parents",
      /two parents/,
      (g) => (g.json.nodes = [{ mesh: 0 }, { children: [3] }, { children: [3] }, {}]),
    ],
    ["another version", /2\.x|version/, (g) => (g.json.asset.version = "1.0")],
    ["a required extension we do not read", /EXT_unheard_of/, (g) => (g.json.extensionsRequired = ["EXT_unheard_of"])],
    [
      "no mesh",
      /mesh|geometry|part/i,
      (g) => {
        g.json.meshes = [];
        g.json.nodes = [{}];
      },
    ],
    ["a list that is not one", /form/, (g) => ((g.json as { nodes: unknown }).nodes = { a: 1 })],
  ])("is refused with what and where: %s", async (_what, message, spoil) => {
    const g = sound();
    spoil(g);
    const error = await refusal(glbOf(g.json, g.binary));
    expect(error.message).toMatch(message);
    expect(error.where).toContain("in.glb");
    expect(error.todo.length).toBeGreaterThan(5);
  });
  it("reads the unspoilt one", async () =>
    expect((await readGlb(glbOf(sound().json, sound().binary), "in.glb")).parts[0]!.positions.length).toBe(9));
  it.each([4, 12, 19, 40, 400])("is refused when cut after %d bytes", async (length) => {
    const whole = await writeGlb(driven);
    expect((await refusal(whole.slice(0, length))).message).toMatch(/not a GLB|cut short|not whole/);
  });
  it("is refused when it is something else", async () => {
    expect((await refusal(new TextEncoder().encode("%PDF-1.7 and so on and on and on"))).message).toMatch(/not a GLB/);
    expect((await refusal(glbOf({ asset: {} } as never, new Uint8Array(0)))).message).toMatch(/version/);
  });
  it("never fails in another way, whatever byte is changed", async () => {
    const g = sound();
    const whole = glbOf(g.json, g.binary);
    const random = randomFrom(77);
    let refused = 0;
    for (let n = 0; n < 250; n++) {
      const broken = whole.slice();
      for (let k = 0; k < 3; k++) broken[Math.floor(random() * broken.length)] = Math.floor(random() * 256);
      try {
        await readGlb(broken, "in.glb");
      } catch (error) {
        if (!isUserError(error)) throw error;
        refused++;
      }
    }
    // some bytes do not matter; most do
    expect(refused).toBeGreaterThan(100);
  });
});

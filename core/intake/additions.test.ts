import { loadMember } from "../../demo/cast";
import { boxPart, characterWith, partOf, rigidSkin, shapeOf, skeletonOf } from "../../tests/helpers/characters";
import { readDelivery, type DeliveryFile } from "./readDelivery";
import { writeBvh } from "../formats/bvh/writeBvh";
import { writeGlb } from "../formats/glb/writeGlb";
import { writeObj } from "../formats/obj/writeObj";
import { assertCharacter } from "../model/assertCharacter";
import type { Character } from "../model/character";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT } from "../evaluate/moment";
import { translationOf } from "../math/mat4";
import { mergeJoints } from "../skeleton/mergeJoints";
import { addClip, addPart, encodeAdded } from "./addThings";
import { bringAdditions, hungOn, type Addition, type AddedPart } from "./bringAdditions";

const skeleton = skeletonOf([
  { name: "hips", parent: -1, translation: [0, 1, 0] },
  { name: "head", parent: 0, translation: [0, 0.6, 0] },
]);
const body = { ...boxPart("body"), skin: rigidSkin(8, 0) };
const character = characterWith({ parts: [body], skeleton, shapes: [shapeOf("smile", { 0: [0.01, 0, 0] })] });
const hat = { ...boxPart("hat", [0.1, 0.1, 0.1], [0, 1.8, 0], "hair"), skin: rigidSkin(8, 1) };
const bytesOf = async (c: Character): Promise<Uint8Array> => writeGlb(c);
const take = (c: Character, a: Addition): Character =>
  a.what === "part"
    ? addPart(c, encodeAdded(a.added))
    : a.what === "clip"
      ? addClip(c, encodeAdded(a.clip))
      : mergeJoints(c, a.joints);

describe("parts that come later", () => {
  it("bring what is new, on the joints of the same names, and tell what is here already", async () => {
    const file = {
      name: "hat.glb",
      bytes: await bytesOf(
        characterWith({
          parts: [{ ...hat, skin: rigidSkin(8, 0) }, body],
          skeleton: skeletonOf([
            { name: "head", parent: -1, translation: [0, 1.6, 0] },
            { name: "hips", parent: -1, translation: [0, 1, 0] },
          ]),
          shapes: [shapeOf("smile", { 2: [0, 0.01, 0] })],
        }),
      ),
    };
    const { additions, refused } = await bringAdditions(character, [file]);
    expect(refused).toEqual([]);
    expect(additions.map((a) => [a.name, a.wanted])).toEqual([
      ["hat", true],
      ["body", false],
    ]);
    const after = take(character, additions[0]!);
    expect(() => assertCharacter(after)).not.toThrow();
    const added = after.parts[1]!;
    expect(after.skeleton!.joints[added.skin!.joints[0]!]!.name).toBe("head");
    expect(after.shapes[0]!.deltas.find((d) => d.part === 1)).toBeDefined();
    expect(() => addPart(after, encodeAdded((additions[0] as { added: AddedPart }).added))).toThrow(
      /named hat is here already/,
    );
  });
  it("come unbound as OBJ, and say so", async () => {
    const scarf = characterWith({ parts: [boxPart("scarf")] });
    const {
      additions: [only],
    } = await bringAdditions(character, [
      {
        name: "scarf.obj",
        bytes: new TextEncoder().encode(
          writeObj(
            scarf,
            scarf.parts.map((p) => p.positions),
          ),
        ),
      },
    ]);
    expect(only).toMatchObject({ what: "part", note: expect.stringContaining("not bound") as string });
    expect(take(character, only!).parts[1]!.skin).toBeNull();
  });
  it(
    "bring a facial skeleton along: its joints hang on the " + "head, where they stood, and the part is bound to them",
    async () => {
      const face = skeletonOf([
        { name: "head", parent: -1, translation: [0, 1.6, 0] },
        { name: "brow left", parent: 0, translation: [0.03, 0.05, 0.08] },
        { name: "brow left tip", parent: 1, translation: [0.01, 0, 0] },
      ]);
      const { additions } = await bringAdditions(character, [
        {
          name: "face.glb",
          bytes: await bytesOf(
            characterWith({
              skeleton: face,
              parts: [{ ...boxPart("brows", [0.03, 0.01, 0.01], [0, 1.66, 0.08], "brow"), skin: rigidSkin(8, 1) }],
            }),
          ),
        },
      ]);
      expect(additions.map((a) => [a.what, a.name, a.wanted])).toEqual([
        ["joints", "2 joints", true],
        ["part", "brows", true],
      ]);
      const after = additions.reduce(take, character);
      expect(() => assertCharacter(after)).not.toThrow();
      const j = after.skeleton!.joints.findIndex((x) => x.name === "brow left tip");
      const at = translationOf(worldMatrices(after.skeleton!, {}), 16 * j);
      [0.04, 1.65, 0.08].forEach((x, c) => expect(at[c]).toBeCloseTo(x, 6));
      expect(after.skeleton!.joints[after.parts[1]!.skin!.joints[0]!]!.name).toBe("brow left");
      expect(deform(makeRig(after), REST_MOMENT).positions[1]![0]).toBeCloseTo(after.parts[1]!.positions[0]!, 6);
      // without its joints the part comes unbound, and joints twice are refused
      expect(take(character, additions[1]!).parts[1]!.skin).toBeNull();
      expect(() => take(after, additions[0]!)).toThrow(/named brow left is here already/);
    },
  );
  it(
    "with a skeleton of its own bring it along, hung on the joint " +
      "next to it or on one that is chosen; without it they come unbound",
    async () => {
      const file = {
        name: "tail.glb",
        bytes: await bytesOf(
          characterWith({
            parts: [{ ...boxPart("tail"), skin: rigidSkin(8, 1) }],
            skeleton: skeletonOf([
              { name: "scene", parent: -1 },
              { name: "tail bone", parent: 0, translation: [0, 0.9, -0.1] },
              { name: "spare", parent: 0 },
            ]),
          }),
        ),
      };
      const { additions } = await bringAdditions(character, [file]);
      expect(additions.map((a) => [a.what, a.name, a.note])).toEqual([
        ["joints", "3 joints", "hung on hips"],
        ["part", "tail", "bound"],
      ]);
      const [joints, part] = additions as [Extract<Addition, { what: "joints" }>, Addition];
      const after = take(take(character, joints), part);
      expect(after.skeleton!.joints[after.parts.at(-1)!.skin!.joints[0]!]!.name).toBe("tail bone");
      expect(
        translationOf(
          worldMatrices(after.skeleton!, {}),
          16 * after.skeleton!.joints.findIndex((j) => j.name === "tail bone"),
        )[1],
      ).toBeCloseTo(0.9, 6);
      const elsewhere = mergeJoints(character, hungOn(joints.joints, "head"));
      const up = elsewhere.skeleton!.joints.find((j) => j.name === "scene")!.parent;
      expect(elsewhere.skeleton!.joints[up]!.name).toBe("head");
      expect(take(character, part).parts.at(-1)!.skin).toBeNull();
    },
  );
});

describe("clips that come later", () => {
  it("are taken from BVH onto the character's joints", async () => {
    const oda = await loadMember("oda");
    const bare = { ...oda, clips: [] };
    const { additions } = await bringAdditions(bare, [
      {
        name: "wave hello.bvh",
        bytes: new TextEncoder().encode(
          writeBvh(
            oda.skeleton!,
            oda.clips.find((c) => c.name === "wave")!,
          ),
        ),
      },
    ]);
    expect(additions[0]).toMatchObject({ what: "clip", name: "wave hello" });
    const after = take(bare, additions[0]!);
    expect(after.clips.map((c) => c.name)).toEqual(["wave hello"]);
    expect(() => take(after, additions[0]!)).toThrow(/named wave hello is here already/);
  });
});

describe("files dropped together", () => {
  const head = characterWith({ parts: [body], skeleton });
  const files = async (): Promise<{ name: string; bytes: Uint8Array }[]> => [
    { name: "hat.glb", bytes: await bytesOf(characterWith({ parts: [hat], skeleton })) },
    { name: "person.glb", bytes: await bytesOf(head) },
    {
      name: "scarf.obj",
      bytes: new TextEncoder().encode(
        writeObj(characterWith({ parts: [boxPart("scarf", undefined, undefined, "garment")] }), [
          boxPart("scarf").positions,
        ]),
      ),
    },
  ];
  it("become one character, whatever their order, and the notes tell what came from where", async () => {
    const { character: read, mainFile } = await readDelivery(await files());
    expect(mainFile).toBe("person.glb");
    expect(read.parts.map((p) => p.name).sort()).toEqual(["body", "hat", "scarf"]);
    expect(read.notes.filter((n) => /brought/.test(n)).length).toBe(2);
    expect((await readDelivery((await files()).reverse())).character.parts.map((p) => p.name).sort()).toEqual([
      "body",
      "hat",
      "scarf",
    ]);
  });
  it(
    "follow what each is said to be: the smaller file as " + "the character, a clip without its character left out",
    async () => {
      const said = (await files()).map((f): DeliveryFile => ({
        ...f,
        role: f.name === "hat.glb" ? "character" : f.name === "person.glb" ? "goes with it" : "left out",
      }));
      const { character: read, mainFile } = await readDelivery(said);
      expect(mainFile).toBe("hat.glb");
      expect(read.parts.map((p) => p.name).sort()).toEqual(["body", "hat"]);
      await expect(
        readDelivery(said.map((f) => (f.name === "scarf.obj" ? { ...f, role: "target" as const } : f))),
      ).rejects.toThrow(/Targets need an OBJ base/);
    },
  );
  it("are refused when two of them are characters, or one cannot be used", async () => {
    const other = characterWith({
      parts: [
        {
          ...partOf(
            "figure",
            [
              [0, 0, 0],
              [1, 0, 0],
              [0, 1, 0],
            ],
            [[0, 1, 2]],
          ),
          kind: "body",
          skin: rigidSkin(3, 0),
        },
      ],
      skeleton,
    });
    await expect(
      readDelivery([...(await files()), { name: "other.glb", bytes: await bytesOf(other) }]),
    ).rejects.toThrow(/several characters/);
    await expect(
      readDelivery([...(await files()), { name: "bad.bvh", bytes: new TextEncoder().encode("x") }]),
    ).rejects.toThrow(/not a BVH file/);
  });
});

describe("files that cannot be used", () => {
  it("are refused one by one, with the reason, and the others go on", async () => {
    const { additions, refused } = await bringAdditions(character, [
      { name: "notes.txt", bytes: new Uint8Array(3) },
      { name: "broken.bvh", bytes: new TextEncoder().encode("ROOT") },
      { name: "hat.glb", bytes: await bytesOf(characterWith({ parts: [hat], skeleton })) },
    ]);
    expect(refused.map((r) => r.file)).toEqual(["notes.txt", "broken.bvh"]);
    expect(refused[1]!.why).toMatch(/not a BVH file/);
    expect(additions.length).toBe(1);
  });
  it("or bytes that are none of ours are refused when applied", () =>
    expect(() => addPart(character, encodeAdded({ name: "x", tracks: [] }))).toThrow(/cannot be read/));
});

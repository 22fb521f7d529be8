import fc from "fast-check";
import { boxPart, characterWith, tube } from "../../../tests/helpers/characters";
import { deform, makeRig } from "../../deform/rig";
import { REST_MOMENT } from "../../evaluate/moment";
import { vertexCountOf } from "../../model/character";
import { isUserError } from "../../model/userError";
import { decodeText } from "../decodeText";
import type { FileRole } from "../fileRoles";
import { readDelivery, type DeliveryFile } from "../../intake/readDelivery";
import { addObjTargets, characterFromObj, readObj } from "./readObj";
import { matchSculpt, writeObj } from "./writeObj";

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const TRIANGLE = "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n";
const message = (text: string): string => {
  try {
    readObj(bytes(text), "a.obj");
  } catch (error) {
    if (isUserError(error)) return error.message;
    throw error;
  }
  return "read";
};

describe("reading OBJ", () => {
  it("keeps vertices and polygons in file order", () => {
    const obj = readObj(
      bytes(
        "# a comment\nv 0 0 0\nv 1 0 0 1.0\nv 1 1 0\nv 0 1 0\nvn 0 0 1\nvt 0.25 " +
          "0.75\nf 1/1/1 2/1/1 3/1/1 4/1/1\nf -4 -3 -2 # and one by counting back\n",
      ),
      "a.obj",
    );
    expect([...obj.corners]).toEqual([0, 1, 2, 3, 0, 1, 2]);
    expect([...obj.faceStarts]).toEqual([0, 4, 7]);
    expect([...obj.uvs!.subarray(0, 2)]).toEqual([0.25, 0.25]);
  });
  it("joins lines that go on, and takes any line ending", () =>
    expect([...readObj(bytes("v 0 0 0\r\nv 1 0 0\rv 0 1 \\\n0\nf 1 2 \\\n 3\n"), "a.obj").corners]).toEqual([0, 1, 2]));
  it.each([
    ["v 0 0 x\n", /line 1.*3 numbers|3 numbers.*line 1/],
    ["v 0 0 0\nv 1 0 0\nf 1 2 3\n", /line 3/],
    ["v 0 0 0\nf 1 0 1\n", /line 2/],
    ["v 0 0 0\nv 1 0 0\nv 1 1 0\nf 1 2\n", /line 4/],
    ["v 0 0 0\nf a b c\n", /line 2/],
    ["", /no|empty/i],
    ["hello\nworld\n", /no|face|vert/i],
    ["v 0 0 0\n", /face/i],
    ["v 1e999 0 0\nv 0 0 0\nv 1 1 1\nf 1 2 3", /line 1/],
    ["\u0000\u0001", /not a text/],
  ])("refuses %j and says where", (text, pattern) => expect(message(text)).toMatch(pattern));
  it("reads UTF-16 and Latin-1", () => {
    const utf16 = (text: string, big: boolean): Uint8Array => {
      const out = new Uint8Array(2 + 2 * text.length);
      const view = new DataView(out.buffer);
      view.setUint16(0, 0xfeff, !big);
      [...text].forEach((c, i) => view.setUint16(2 + 2 * i, c.charCodeAt(0), !big));
      return out;
    };
    for (const big of [true, false]) expect(readObj(utf16(TRIANGLE, big), "a.obj").corners.length).toBe(3);
    expect(decodeText(Uint8Array.of(0x67, 0xfc, 0x6e))).toBe("gün");
    expect(decodeText(Uint8Array.of(0xef, 0xbb, 0xbf, 0x61))).toBe("a");
  });
  it("makes one part of each object that keeps to itself, else one of all", () => {
    const two =
      "o head\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\no eye left\nv 5 0 0\nv 6 0 0\nv 5 1 0\nusemtl white\nf 4 5 6\n";
    const apart = characterFromObj(readObj(bytes(two), "c.obj"), "c.obj");
    expect(apart.parts.map((p) => [p.name, p.kind, vertexCountOf(p)])).toEqual([
      ["head", "body", 3],
      ["eye left", "eye", 3],
    ]);
    expect(characterFromObj(readObj(bytes(`${two}f 1 2 6\n`), "c.obj"), "c.obj").parts.length).toBe(1);
  });
});

describe("writing OBJ", () => {
  it("reads back to the last bit", () => {
    fc.assert(
      fc.property(
        fc.array(fc.float({ noNaN: true, noDefaultInfinity: true, min: -100, max: 100 }), {
          minLength: 24,
          maxLength: 24,
        }),
        (values) => {
          const part = { ...boxPart(), positions: Float32Array.from(values) };
          const again = readObj(bytes(writeObj(characterWith({ parts: [part] }), [part.positions])), "a.obj");
          again.positions.forEach((x, i) => expect(x).toBe(part.positions[i]! + 0));
          expect([...again.corners]).toEqual([...part.corners]);
        },
      ),
    );
  });
  it("writes parts one after the other, names on one line", () => {
    const character = characterWith({ parts: [boxPart("a b\nc"), boxPart("d", [1, 1, 1], [3, 0, 0])] });
    const text = writeObj(
      character,
      character.parts.map((p) => p.positions),
    );
    expect(text).toContain("o a_b_c\n");
    const again = characterFromObj(readObj(bytes(text), "a.obj"), "a.obj");
    expect(again.parts.map(vertexCountOf)).toEqual([8, 8]);
  });
});

describe("OBJ targets", () => {
  const base = readObj(bytes(writeObj(tube(), [tube().parts[0]!.positions])), "base.obj");
  const moved = (change: (P: Float32Array) => void): typeof base => {
    const positions = base.positions.slice();
    change(positions);
    return { ...base, positions };
  };
  it("become shapes with only what moved", () => {
    const character = addObjTargets(characterFromObj(base, "base.obj"), base, [
      { name: "folder/smile left.obj", obj: moved((P) => (P[4] = P[4]! + 0.01)) },
    ]);
    expect(character.shapes[0]).toMatchObject({ name: "smile left" });
    expect([...character.shapes[0]!.deltas[0]!.vertices]).toEqual([1]);
  });
  it("are refused with another vertex count or order", () => {
    const character = characterFromObj(base, "base.obj");
    expect(() =>
      addObjTargets(character, base, [{ name: "t.obj", obj: { ...base, positions: base.positions.slice(3) } }]),
    ).toThrow(/vertices; the base has/);
    const shuffled = moved((P) => {
      const old = P.slice();
      for (let v = 0; v < P.length / 3; v++)
        P.set(old.subarray(3 * ((v * 7919) % (P.length / 3)), 3 * ((v * 7919) % (P.length / 3)) + 3), 3 * v);
    });
    expect(() => addObjTargets(character, base, [{ name: "t.obj", obj: shuffled }])).toThrow(/another order/);
  });
});

describe("a sculpt that comes back", () => {
  const character = characterWith({
    parts: [tube().parts[0]!, boxPart("hat", [0.1, 0.1, 0.1], [0, 2, 0])],
    skeleton: tube().skeleton,
  });
  const posed = deform(makeRig(character), { ...REST_MOMENT, pose: { lower: [60, 0, 0] } }).positions;
  it("is matched whole or by the one part it holds", () => {
    const all = matchSculpt(character, posed, readObj(bytes(writeObj(character, posed)), "s.obj"), "s.obj");
    all.forEach((P, p) => P!.forEach((x, i) => expect(x).toBe(posed[p]![i]! + 0)));
    const alone = characterWith({ parts: [character.parts[1]!] });
    const one = matchSculpt(character, posed, readObj(bytes(writeObj(alone, [posed[1]!])), "s.obj"), "s.obj");
    expect(one.map((P) => P !== null)).toEqual([false, true]);
  });
  it("is refused when it is another mesh, or the same one in another order", () => {
    expect(() => matchSculpt(character, posed, readObj(bytes(TRIANGLE), "s.obj"), "s.obj")).toThrow(
      /It has 3 vertices; the posed character has/,
    );
    const reversed = readObj(bytes(writeObj(character, posed)), "s.obj");
    const positions = reversed.positions.slice().reverse();
    expect(() => matchSculpt(character, posed, { ...reversed, positions }, "s.obj")).toThrow(/not those of/);
  });
});

describe("deliveries", () => {
  const file = (name: string, text: string, role?: FileRole): DeliveryFile => ({
    name,
    bytes: bytes(text),
    ...(role ? { role } : {}),
  });
  it("take the neutral file as the base, whatever the order", async () => {
    const { character, mainFile } = await readDelivery([
      file("smile.obj", TRIANGLE.replace("0 1 0", "0 1.2 0")),
      file("neutral.obj", TRIANGLE),
    ]);
    expect(mainFile).toBe("neutral.obj");
    expect(character.shapes.map((s) => s.name)).toEqual(["smile"]);
  });
  it("keep to what each file is said to be: base, target, part that goes along, left out", async () => {
    const { character, mainFile } = await readDelivery([
      file("neutral.obj", TRIANGLE, "goes with it"),
      file("old.obj", "nonsense", "left out"),
      file("grin.obj", TRIANGLE.replace("0 1 0", "0 1.2 0"), "target"),
      file("figure.obj", TRIANGLE, "character"),
    ]);
    expect(mainFile).toBe("figure.obj");
    expect(character.shapes.map((s) => s.name)).toEqual(["grin"]);
    expect(character.parts.length).toBe(2);
    expect(character.notes.some((n) => n.includes("neutral.obj brought"))).toBe(true);
  });
  it("take the file the others are named after", async () =>
    expect(
      (await readDelivery([file("kit_a.obj", TRIANGLE), file("kit.obj", TRIANGLE), file("kit_b.obj", TRIANGLE)]))
        .mainFile,
    ).toBe("kit.obj"));
  it.each<[string, DeliveryFile[], RegExp]>([
    ["nothing", [], /No file/],
    ["another kind", [file("a.zip", "x")], /\.zip/],
    ["no kind", [file("README", "x")], /none/],
    ["a clip alone", [file("a.bvh", "x")], /clips, targets and parts came alone/],
    ["all of it left out", [file("a.obj", TRIANGLE, "left out")], /Every file is left out/],
    [
      "two characters",
      [file("a.obj", TRIANGLE, "character"), file("b.obj", TRIANGLE, "character")],
      /2 files are named as the character/,
    ],
    [
      "a target that does not fit",
      [file("base.obj", TRIANGLE), file("t.obj", `${TRIANGLE}v 1 1 1\n`)],
      /base\.obj was taken as the base/,
    ],
  ])("refuse %s", async (_what, files, pattern) => {
    await expect(readDelivery(files)).rejects.toThrow(pattern);
  });
});

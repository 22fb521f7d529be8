import { existsSync, readFileSync } from "node:fs";
import { PLYLoader } from "three/addons/loaders/PLYLoader.js";
import { readPly } from "../../core/formats/readPly";
import { writePly } from "../../core/formats/writePly";
import { boxPart, characterWith, tube } from "../helpers/characters";

/** npm three, PLYLoader, as an independent reader; a real file of Debian's assimp-testmodels. */
const FILE = "/usr/share/assimp/models/PLY/Wuson.ply";
const theirs = (bytes: Uint8Array): { positions: number[]; index: number[] } => {
  // three tells of every comment it does not know
  const { log } = console;
  console.log = () => {};
  const g = new PLYLoader().parse(bytes.slice().buffer);
  console.log = log;
  return { positions: Array.from(g.getAttribute("position").array), index: Array.from(g.getIndex()?.array ?? []) };
};
const fans = ({ corners, faceStarts }: { corners: Uint32Array; faceStarts: Uint32Array }): number[] => {
  const out: number[] = [];
  for (let f = 0; f + 1 < faceStarts.length; f++)
    for (let k = faceStarts[f]! + 1; k + 1 < faceStarts[f + 1]!; k++)
      out.push(corners[faceStarts[f]!]!, corners[k]!, corners[k + 1]!);
  return out;
};
const refusal = (text: string | Uint8Array): string => {
  try {
    readPly(typeof text === "string" ? new TextEncoder().encode(text) : text, "a.ply");
  } catch (error) {
    return (error as Error).message;
  }
  return "read";
};
const HEAD =
  "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty " +
  "float z\nelement face 1\nproperty list uchar int vertex_indices\nend_header\n";

describe("PLY against three's reader", () => {
  it("reads a real file the same: Wuson.ply", () => {
    if (!existsSync(FILE)) throw new Error(`${FILE} is missing: apt-get install assimp-testmodels`);
    const bytes = new Uint8Array(readFileSync(FILE));
    const [ours, them] = [readPly(bytes, "Wuson.ply"), theirs(bytes)];
    expect(ours.positions.length).toBe(them.positions.length);
    ours.positions.forEach((x, i) => expect(x).toBeCloseTo(them.positions[i]!, 5));
    expect(fans(ours).length).toBe(them.index.length);
  });
  it("reads what is written here, and three reads it too: quads and triangles", () => {
    const c = characterWith({ parts: [tube().parts[0]!, boxPart()] });
    const bytes = new TextEncoder().encode(
      writePly(
        c,
        c.parts.map((p) => p.positions),
      ),
    );
    const [ours, them] = [readPly(bytes, "t.ply"), theirs(bytes)];
    expect(Array.from(ours.positions)).toEqual(them.positions.map(Math.fround));
    expect(fans(ours)).toEqual(them.index);
  });
  it.each([
    ["little", true],
    ["big", false],
  ])("reads binary, %s end first, with properties it does not need", (word, little) => {
    const head =
      `ply\nformat binary_${word}_endian 1.0\nelement vertex 4\nproperty double x\nproperty double ` +
      "y\nproperty double z\nproperty uchar red\nelement face 1\nproperty list uchar uint vertex_index\nend_header\n";
    const body = new DataView(new ArrayBuffer(4 * 25 + 17));
    const points = [
      [0, 0, 0],
      [1, 0, 0],
      [1, 2, 0],
      [0, 2, 0.5],
    ];
    points.forEach((p, v) => {
      p.forEach((x, c) => body.setFloat64(25 * v + 8 * c, x, little));
      body.setUint8(25 * v + 24, 200);
    });
    body.setUint8(100, 4);
    [0, 1, 2, 3].forEach((v) => body.setUint32(101 + 4 * v, v, little));
    const bytes = new Uint8Array([...new TextEncoder().encode(head), ...new Uint8Array(body.buffer)]);
    const ours = readPly(bytes, "b.ply");
    expect([...ours.positions]).toEqual(points.flat());
    expect([...ours.corners]).toEqual([0, 1, 2, 3]);
    expect(theirs(bytes).positions).toEqual(points.flat());
  });
  it.each<[string, string | Uint8Array, RegExp]>([
    ["another kind of file", "v 0 0 0\n", /not a PLY/],
    ["a format it does not know", HEAD.replace("ascii", "packed"), /format packed/],
    ["a type it does not know", HEAD.replace("property float x", "property half x"), /type half/],
    ["no places", HEAD.replace("property float z\n", ""), /no x, y and z/],
    ["words for numbers", `${HEAD}0 0 0\n1 0 0\n0 one 0\n3 0 1 2\n`, /"one" is not a number/],
    ["an end too soon", `${HEAD}0 0 0\n1 0 0\n`, /ends too soon/],
    ["a corner that is not there", `${HEAD}0 0 0\n1 0 0\n0 1 0\n3 0 1 9\n`, /vertex 9 of 3/],
    ["a face of two corners", `${HEAD}0 0 0\n1 0 0\n0 1 0\n2 0 1\n`, /2 corners/],
    ["too many", HEAD.replace("vertex 3", "vertex 999999999999"), /cannot be/],
  ])("refuses %s", (_, text, told) => expect(refusal(text)).toMatch(told));
});

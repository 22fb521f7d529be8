import { FARTHEST } from "../model/assertCharacter";
import { UserError } from "../model/userError";
import { BUDGET, within } from "../model/budget";

/** A polygon mesh as it stands in a file, in file units. */
export interface PlainMesh {
  /** 3 x vertexCount. */
  readonly positions: Float32Array;
  readonly corners: Uint32Array;
  readonly faceStarts: Uint32Array;
}

const SIZES: Readonly<Record<string, number>> = {
  char: 1,
  int8: 1,
  uchar: 1,
  uint8: 1,
  short: 2,
  int16: 2,
  ushort: 2,
  uint16: 2,
  int: 4,
  int32: 4,
  uint: 4,
  uint32: 4,
  float: 4,
  float32: 4,
  double: 8,
  float64: 8,
};
interface Property {
  readonly name: string;
  readonly type: string;
  /** Type of the count where the property is a list. */
  readonly count: string | null;
}
interface Element {
  readonly name: string;
  readonly count: number;
  readonly properties: Property[];
}
const MOST = 40_000_000;

/**
 * Reads a PLY file (Turk 1994), ASCII or binary: vertices and polygons. @throws UserError for anything broken, with the
 * line or byte.
 */
export function readPly(bytes: Uint8Array, file: string): PlainMesh {
  const fail = (what: string, where = ""): never => {
    throw new UserError(what, where ? `${file}, ${where}` : file, "Export the mesh again, as PLY or OBJ.");
  };
  const { format, elements, bodyStart } = readHeader(bytes, fail);
  const next =
    format === "ascii"
      ? asciiNumbers(bytes.subarray(bodyStart), fail)
      : binaryNumbers(bytes, bodyStart, format === "binary_little_endian", fail);
  let positions = new Float32Array();
  const corners: number[] = [];
  const faceStarts: number[] = [0];
  for (const element of elements) {
    const axes = ["x", "y", "z"].map((axis) => element.properties.findIndex((p) => p.name === axis));
    const isVertex = element.name === "vertex";
    if (isVertex) {
      if (axes.some((a) => a < 0)) fail("Its vertices have no x, y and z.");
      // every value takes one byte at least: what promises more than there is takes no memory
      if (element.count * element.properties.length > bytes.length - bodyStart)
        fail("The file ends too soon.", `after ${element.count} vertices were promised`);
      positions = new Float32Array(3 * element.count);
    }
    for (let i = 0; i < element.count; i++)
      element.properties.forEach((p, k) => {
        if (p.count === null) {
          const value = next(p.type);
          const axis = isVertex ? axes.indexOf(k) : -1;
          if (axis >= 0) {
            if (!(Math.abs(value) <= FARTHEST))
              fail(
                Number.isFinite(value)
                  ? "A vertex lies farther off than anything of a character."
                  : "A position is not a number.",
                `vertex ${i}`,
              );
            positions[3 * i + axis] = value;
          }
          return;
        }
        const isFace = element.name === "face" && /^vertex_ind(ex|ices)$/.test(p.name);
        const size = next(p.count);
        if (!Number.isInteger(size) || size < 0 || size > bytes.length)
          fail(`A list has ${size} entries.`, `${element.name} ${i}`);
        if (isFace && (size < 3 || size > 255)) fail(`A face has ${size} corners.`, `face ${i}`);
        for (let c = 0; c < size; c++) {
          const v = next(p.type);
          if (!isFace) continue;
          if (!Number.isInteger(v) || v < 0 || v >= positions.length / 3)
            fail(`A corner names vertex ${v} of ${positions.length / 3}.`, `face ${i}`);
          corners.push(v);
        }
        if (isFace) faceStarts.push(corners.length);
      });
  }
  if (positions.length === 0) fail("No vertex is in the file.");
  within("corners", corners.length, file);
  return { positions, corners: Uint32Array.from(corners), faceStarts: Uint32Array.from(faceStarts) };
}

type Fail = (what: string, where?: string) => never;

function readHeader(bytes: Uint8Array, fail: Fail): { format: string; elements: Element[]; bodyStart: number } {
  const head = new TextDecoder("latin1").decode(bytes.subarray(0, 64_000));
  const end = /\nend_header\r?\n/.exec(head);
  if (!head.startsWith("ply") || !end) return fail("This is not a PLY file.");
  let format = "";
  const elements: Element[] = [];
  head
    .slice(0, end.index)
    .split(/\r?\n/)
    .forEach((line, n) => {
      const w = line.trim().split(/\s+/);
      if (w[0] === "format") format = w[1] ?? "";
      if (w[0] === "element") {
        const count = Number(w[2]);
        if (!Number.isInteger(count) || count < 0 || count > MOST || (w[1] === "vertex" && count > BUDGET.vertices))
          fail(`The number of ${w[1]} elements cannot be.`, `line ${n + 1}`);
        elements.push({ name: w[1] ?? "", count, properties: [] });
      }
      if (w[0] === "property") {
        const list = w[1] === "list";
        const types = list ? [w[2], w[3]] : [w[1]];
        if (types.some((t) => SIZES[t ?? ""] === undefined))
          fail(`The property type ${types.join(" ")} is not known.`, `line ${n + 1}`);
        elements
          .at(-1)
          ?.properties.push({ name: w[list ? 4 : 2] ?? "", type: types.at(-1)!, count: list ? types[0]! : null });
      }
    });
  if (!["ascii", "binary_little_endian", "binary_big_endian"].includes(format))
    fail(`The format ${format || "(none)"} is not known.`, "header");
  return { format, elements, bodyStart: end.index + end[0].length };
}

function asciiNumbers(body: Uint8Array, fail: Fail): (type: string) => number {
  const words = new TextDecoder("latin1").decode(body).split(/\s+/);
  let at = words[0] === "" ? 1 : 0;
  return () => {
    const word = words[at++];
    if (word === undefined || word === "") return fail("The file ends too soon.");
    const value = Number(word);
    return Number.isNaN(value) ? fail(`"${word.slice(0, 20)}" is not a number.`) : value;
  };
}

function binaryNumbers(bytes: Uint8Array, start: number, little: boolean, fail: Fail): (type: string) => number {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = start;
  return (type) => {
    const size = SIZES[type]!;
    if (at + size > bytes.length) fail("The file ends too soon.", `byte ${at}`);
    const here = at;
    at += size;
    if (size === 8) return view.getFloat64(here, little);
    if (type.startsWith("float")) return view.getFloat32(here, little);
    const signed = !type.startsWith("u");
    if (size === 1) return signed ? view.getInt8(here) : view.getUint8(here);
    if (size === 2) return signed ? view.getInt16(here, little) : view.getUint16(here, little);
    return signed ? view.getInt32(here, little) : view.getUint32(here, little);
  };
}

import { toLinear } from "../../math/srgb";
import { FARTHEST } from "../../model/assertCharacter";
import { within } from "../../model/budget";
import { cleanText } from "../../model/cleanName";
import { UserError } from "../../model/userError";

/** Faces in a row with the same object, group and material. */
export interface ObjRun {
  readonly object: string;
  readonly group: string;
  readonly material: string;
  readonly faceStart: number;
  faceCount: number;
}

/** What the lines of an OBJ file give, as they stand. */
export interface ObjLines {
  /** Three numbers a vertex, file units. */
  readonly positions: number[];
  /** Linear RGBA of each vertex, -1 four times where its line gives none. */
  readonly colors: number[];
  /** Two numbers a texture coordinate. */
  readonly texture: number[];
  /** Three numbers a normal. */
  readonly normals: number[];
  /** Per corner of a face, from 0: its vertex, its texture coordinate and its normal; -1 for none of these. */
  readonly corners: number[];
  readonly cornerUv: number[];
  readonly cornerNormal: number[];
  /** Per face its smoothing group, 0 for none, `UNSAID` before the first line that says one. */
  readonly smoothing: number[];
  readonly faceStarts: number[];
  readonly runs: ObjRun[];
  /** Material libraries it names. */
  readonly libraries: string[];
}

const MAX_NUMBERS = 60_000_000;
/** Smoothing of faces before the first line that says one. */
export const UNSAID = 0xffffffff;

/** Lines so far, and what holds for the faces that follow. */
interface Reading extends ObjLines {
  readonly file: string;
  object: string;
  group: string;
  material: string;
  smooth: number;
  lineNumber: number;
}

function fail({ file, lineNumber }: Reading, what: string, todo = "Mend the line or export the file again."): never {
  throw new UserError(what, `${file}, line ${lineNumber}`, todo);
}

function numbers(reading: Reading, words: readonly string[], count: number): number[] {
  const out = words.slice(1, 1 + count).map(Number);
  if (out.length < count || !out.every((x) => Number.isFinite(Math.fround(x))))
    fail(reading, `"${words.join(" ").slice(0, 60)}" should hold ${count} numbers.`);
  return out;
}

/** Index from 0 of a number that counts from 1, or from the end where it is negative. */
function indexOf(reading: Reading, word: string, count: number, what: string): number {
  const n = Number(word);
  if (!Number.isInteger(n) || n === 0) fail(reading, `"${word.slice(0, 20)}" is not a ${what} number.`);
  const i = n > 0 ? n - 1 : count + n;
  if (i < 0 || i >= count) fail(reading, `It uses ${what} ${n}; ${count} are defined above it.`);
  return i;
}

function vertexLine(reading: Reading, words: readonly string[]): void {
  const { positions, colors } = reading;
  positions.push(...numbers(reading, words, 3));
  if (positions.slice(-3).some((x) => Math.abs(x) > FARTHEST))
    fail(reading, "A vertex lies farther off than anything of a character.");
  // the common addition of a colour to each vertex
  if (words.length >= 7) {
    const rgb = numbers(reading, ["", ...words.slice(4)], 3);
    colors.push(...rgb.map((c) => toLinear(Math.min(1, Math.max(0, c)))), 1);
  } else colors.push(-1, -1, -1, -1);
  if (positions.length > MAX_NUMBERS)
    fail(reading, "There are too many vertices for one character.", "Send the character without its scene.");
}

function faceLine(reading: Reading, words: readonly string[]): void {
  const { corners, runs, object, group, material } = reading;
  if (words.length < 4) fail(reading, `A face has ${words.length - 1} corners; it needs 3 or more.`);
  const where = `${reading.file}, line ${reading.lineNumber}`;
  within("polygonCorners", words.length - 1, where, "Cut the face into smaller ones.");
  for (const word of words.slice(1)) {
    const [v, t, n] = word.split("/");
    corners.push(indexOf(reading, v ?? "", reading.positions.length / 3, "vertex"));
    reading.cornerUv.push(t ? indexOf(reading, t, reading.texture.length / 2, "texture coordinate") : -1);
    reading.cornerNormal.push(n ? indexOf(reading, n, reading.normals.length / 3, "normal") : -1);
  }
  reading.smoothing.push(reading.smooth);
  const last = runs[runs.length - 1];
  if (last && last.object === object && last.group === group && last.material === material) last.faceCount++;
  else runs.push({ object, group, material, faceStart: reading.faceStarts.length - 1, faceCount: 1 });
  reading.faceStarts.push(corners.length);
}

function smoothingLine(reading: Reading, words: readonly string[]): void {
  const n = Number(words[1]);
  reading.smooth = words[1] === "off" ? 0 : Number.isInteger(n) && n >= 0 && n < UNSAID ? n : 1;
}

const nameIn = (words: readonly string[]): string => cleanText(words.slice(1).join(" "));

/** What is done with a line, by its first word; lines, points and free-form surfaces are not needed. */
const LINES: Readonly<Record<string, (reading: Reading, words: readonly string[]) => void>> = {
  v: vertexLine,
  vt: (reading, words) =>
    void reading.texture.push(...numbers(reading, words.length === 2 ? [...words, "0"] : words, 2)),
  vn: (reading, words) => void reading.normals.push(...numbers(reading, words, 3)),
  s: smoothingLine,
  f: faceLine,
  o: (reading, words) => void (reading.object = nameIn(words)),
  g: (reading, words) => void (reading.group = nameIn(words)),
  usemtl: (reading, words) => void (reading.material = nameIn(words)),
  // several may stand on one line; a single name may hold spaces
  mtllib: ({ libraries }, words) =>
    void libraries.push(
      ...(words.slice(1).every((w) => /\.mtl$/i.test(w)) ? words.slice(1) : [words.slice(1).join(" ")]),
    ),
};

/** Goes through the lines of an OBJ file. @throws UserError with the line for anything broken. */
export function objLines(text: string, file: string): ObjLines {
  const reading: Reading = {
    file,
    positions: [],
    colors: [],
    texture: [],
    normals: [],
    corners: [],
    cornerUv: [],
    cornerNormal: [],
    smoothing: [],
    faceStarts: [0],
    runs: [],
    libraries: [],
    object: "",
    group: "",
    material: "",
    smooth: UNSAID,
    lineNumber: 0,
  };
  let pending = "";
  for (const raw of text.split(/\r\n|\n|\r/)) {
    reading.lineNumber++;
    if (raw.endsWith("\\")) {
      pending += `${raw.slice(0, -1)} `;
      continue;
    }
    const words = (pending + raw).replace(/#.*/, "").trim().split(/\s+/);
    pending = "";
    if (Object.hasOwn(LINES, words[0]!)) LINES[words[0]!]!(reading, words);
  }
  return reading;
}

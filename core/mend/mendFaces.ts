import { shellsInsideOut } from "../checks/delivery/meshInsideOut";
import { faceCountOf, type Character, type Part } from "../model/character";
import { placesOf } from "../model/places";
import { shellsOf } from "../model/shells";
import { renumberShapes, withFaces } from "../model/withFaces";
import { partNamed } from "./places";

const LEAST_AREA = 1e-12;

/** Repairs a part's faces; vertices that no face uses afterwards go, and shapes are carried along. */
export function mendFaces(character: Character, name: string, what: "loose" | "degenerate" | "doubled" | "inside-out"): Character {
  const { part, index } = partNamed(character, name);
  const faces = Array.from({ length: faceCountOf(part) }, (_, f) => ({ corners: Array.from(part.corners.subarray(part.faceStarts[f]!, part.faceStarts[f + 1]!)), group: part.groups.findIndex((g) => f >= g.faceStart && f < g.faceStart + g.faceCount) }));
  const mended = { loose: faces, degenerate: withArea(part, faces), doubled: onceEach(part, faces), "inside-out": turned(part, faces) }[what];
  const { part: made, newFromOld } = withFaces(part, mended.map((f) => f.corners), (f) => mended[f]!.group);
  return { ...character, parts: character.parts.map((p, i) => (i === index ? made : p)), shapes: renumberShapes(character.shapes, character.parts.map((_, i) => (i === index ? newFromOld : null))) };
}

interface Face {
  readonly corners: number[];
  readonly group: number;
}

function withArea(part: Part, faces: readonly Face[]): Face[] {
  return faces.flatMap(({ corners, group }) => {
    const once = corners.filter((v, k) => corners.indexOf(v) === k);
    return once.length >= 3 && areaOf(part.positions, once) >= LEAST_AREA ? [{ corners: once, group }] : [];
  });
}

function areaOf(P: Float32Array, corners: readonly number[]): number {
  const sum = [0, 0, 0];
  const at = (v: number, c: number): number => P[3 * v + c]! - P[3 * corners[0]! + c]!;
  for (let k = 1; k + 1 < corners.length; k++) {
    const [a, b] = [corners[k]!, corners[k + 1]!];
    for (let c = 0; c < 3; c++) sum[c]! += at(a, (c + 1) % 3) * at(b, (c + 2) % 3) - at(a, (c + 2) % 3) * at(b, (c + 1) % 3);
  }
  return Math.hypot(...sum) / 2;
}

function onceEach(part: Part, faces: readonly Face[]): Face[] {
  const place = placesOf(part.positions);
  const seen = new Set<string>();
  return faces.filter(({ corners }) => {
    const key = corners.map((v) => place[v]!).sort((a, b) => a - b).join();
    const isNew = !seen.has(key);
    seen.add(key);
    return isNew;
  });
}

function turned(part: Part, faces: readonly Face[]): Face[] {
  const inward = new Set(shellsInsideOut(part));
  const shell = shellsOf(part, true);
  return faces.map((face) => (inward.has(shell[face.corners[0]!]!) ? { ...face, corners: [...face.corners].reverse() } : face));
}

import {
  DEFAULT_MATERIAL,
  type Character,
  type CornerLook,
  type FaceGroup,
  type Material,
  type Part,
} from "../../model/character";
import { guessPartKind } from "../../model/partKind";
import { cleanText } from "../../model/cleanName";
import { uniqueName } from "../../model/uniqueName";
import { shortName, UserError } from "../../model/userError";
import { within } from "../../model/budget";
import { decodeText } from "../decodeText";
import { groupsByCorner } from "../../model/cornerLook";
import { groupsOfNormals } from "./cornerGroups";
import type { MaterialLibrary } from "./materialLibrary";
import { objLines, UNSAID, type ObjLines, type ObjRun } from "./objLines";

/** An OBJ file as it stands: one list of vertices, polygons in file order. */
export interface ObjFile {
  /** 3 x vertexCount, file units. */
  readonly positions: Float32Array;
  /** 2 x vertexCount (the first one met at each vertex), or null. */
  readonly uvs: Float32Array | null;
  readonly corners: Uint32Array;
  readonly faceStarts: Uint32Array;
  /** What vertices show more than once; null where each has one normal and one texture coordinate. */
  readonly cornerLook: CornerLook | null;
  /** Linear RGBA of each vertex, -1 four times where the file gives none; or null where it gives no vertex one. */
  readonly colors: Float32Array | null;
  /** Material libraries it names. */
  readonly libraries: readonly string[];
  /** Whether smoothing is switched off for every face and no normal says otherwise: such files are shown smooth. */
  readonly unsmoothed: boolean;
  /** Runs of faces with the same object, group and material. */
  readonly runs: readonly Readonly<ObjRun>[];
}

/** Reads the geometry lines of an OBJ file. Throws UserError with the line for anything broken. */
export function readObj(bytes: Uint8Array, file: string): ObjFile {
  const text = decodeText(bytes);
  if (text.includes("\u0000"))
    throw new UserError("This is not a text OBJ file.", file, "Send OBJ or glTF 2.0 (.glb).");
  const lines = objLines(text, file);
  const { positions, colors, corners, smoothing, faceStarts, runs, libraries } = lines;
  if (positions.length === 0 || faceStarts.length === 1)
    throw new UserError(
      positions.length === 0 ? "No vertex is in the file." : "No face is in the file.",
      file,
      "Check that this is the mesh, exported as polygons.",
    );
  within("vertices", positions.length / 3, file);
  within("corners", corners.length, file);
  const P = Float32Array.from(positions);
  const C = Uint32Array.from(corners);
  const F = Uint32Array.from(faceStarts);
  const allNormals = lines.cornerNormal.every((n) => n >= 0);
  const ofSmoothing = groupsOfSmoothing(F, smoothing);
  const groups = allNormals ? groupsOfNormals(P, C, F, cornerNormals(lines), ofSmoothing) : ofSmoothing;
  const { uvs, ofCorners } = textureCoordinates(corners, lines.cornerUv, lines.texture, positions.length / 3);
  return {
    positions: P,
    colors: colors.some((c) => c >= 0) ? Float32Array.from(colors) : null,
    libraries,
    uvs,
    corners: C,
    faceStarts: F,
    runs,
    cornerLook: groups || ofCorners ? { groups, uvs: ofCorners } : null,
    unsmoothed: !allNormals && smoothing.every((g) => g === 0),
  };
}

const cornerNormals = ({ normals, cornerNormal }: Pick<ObjLines, "normals" | "cornerNormal">): Float32Array =>
  Float32Array.from({ length: 3 * cornerNormal.length }, (_, i) => normals[3 * cornerNormal[(i / 3) | 0]! + (i % 3)]!);

/** Groups of corners that are shown smooth together, where the file tells any. */
const groupsOfSmoothing = (faceStarts: Uint32Array, smoothing: readonly number[]): Uint32Array | null =>
  smoothing.some((g) => g > 0 && g !== UNSAID)
    ? groupsByCorner(
        faceStarts,
        smoothing.map((g) => (g === UNSAID ? 1 : g)),
      )
    : null;

/**
 * One coordinate a vertex, the first one met; and those of every corner where a vertex has several. V counts from the
 * top, as in glTF.
 */
function textureCoordinates(
  corners: readonly number[],
  cornerUv: readonly number[],
  texture: readonly number[],
  vertexCount: number,
): { uvs: Float32Array | null; ofCorners: Float32Array | null } {
  if (!cornerUv.some((t) => t >= 0)) return { uvs: null, ofCorners: null };
  const at = (t: number): [number, number] => [texture[2 * t]!, 1 - texture[2 * t + 1]!];
  const first = new Int32Array(vertexCount).fill(-1);
  let seams = false;
  corners.forEach((v, k) => {
    const t = cornerUv[k]!;
    if (t < 0) return;
    if (first[v] === -1) first[v] = t;
    else if (first[v] !== t && at(t).some((x, c) => x !== at(first[v]!)[c])) seams = true;
  });
  const uvs = new Float32Array(2 * vertexCount);
  // a vertex without any is at the texture's origin, bottom left
  first.forEach((t, v) => uvs.set(t >= 0 ? at(t) : [0, 1], 2 * v));
  return {
    uvs,
    ofCorners: seams
      ? Float32Array.from(
          corners.flatMap((v, k) => (cornerUv[k]! >= 0 ? at(cornerUv[k]!) : [uvs[2 * v]!, uvs[2 * v + 1]!])),
        )
      : null,
  };
}

/**
 * Makes a character of an OBJ file. Objects whose vertices do not mix become parts, each keeping its vertices in file
 * order; groups and materials become runs of faces. Without a library materials have their names alone.
 */
export function characterFromObj(obj: ObjFile, file: string, library?: MaterialLibrary): Character {
  const name = cleanText(file.replace(/\.[^.]*$/, "").replace(/^.*[\\/]/, ""));
  const materialNames = [...new Set(obj.runs.map((r) => r.material))];
  const materials: Material[] = materialNames.map(
    (m) => library?.materials.get(m) ?? { ...DEFAULT_MATERIAL, name: m || "default" },
  );
  const notes = obj.unsmoothed
    ? ["Smoothing is off for every face and the file has no normals; it is shown smooth."]
    : [];
  notes.push(...(library?.notes ?? []));
  const blocks = vertexBlocks(obj);
  within("parts", blocks.length, file);
  within("materials", materialNames.length, file);
  const taken = new Set<string>();
  const parts = blocks.map((block) => {
    const partName = uniqueName([...block.objects].filter(Boolean)[0] ?? name, taken, "mesh");
    return partOfBlock(obj, block, partName, materialNames, blocks.length === 1);
  });
  return {
    name,
    parts,
    materials,
    skeleton: null,
    shapes: [],
    drivers: [],
    shapeDrivers: [],
    clips: [],
    jointMap: {},
    notes,
  };
}

type VertexBlock = ReturnType<typeof vertexBlocks>[number];

/** The faces of a block's objects as a part. @param isAll whether it is the file's only one. */
function partOfBlock(
  obj: ObjFile,
  block: VertexBlock,
  name: string,
  materialNames: readonly string[],
  isAll: boolean,
): Part {
  const corners: number[] = [];
  const faceStarts = [0];
  const groups: FaceGroup[] = [];
  const kept: number[] = [];
  for (const run of obj.runs) {
    if (!block.objects.has(run.object)) continue;
    groups.push({
      ...(run.group ? { name: run.group } : {}),
      material: materialNames.indexOf(run.material),
      faceStart: faceStarts.length - 1,
      faceCount: run.faceCount,
    });
    for (let f = run.faceStart; f < run.faceStart + run.faceCount; f++) {
      for (let k = obj.faceStarts[f]!; k < obj.faceStarts[f + 1]!; k++) {
        corners.push(obj.corners[k]! - block.start);
        kept.push(k);
      }
      faceStarts.push(corners.length);
    }
  }
  const kind = guessPartKind(
    name,
    groups.map((g) => materialNames[g.material]!),
  );
  const look = obj.cornerLook && lookAt(obj.cornerLook, kept);
  return {
    ...(look ? { cornerLook: look } : {}),
    name,
    kind: kind === "other" && isAll ? "body" : kind,
    positions: obj.positions.slice(3 * block.start, 3 * block.end),
    corners: Uint32Array.from(corners),
    faceStarts: Uint32Array.from(faceStarts),
    groups,
    uvs: obj.uvs?.slice(2 * block.start, 2 * block.end) ?? null,
    colors: colorsOf(obj, block),
    skin: null,
  };
}

/** The look of some of the corners, in their order. */
const lookAt = ({ groups, uvs }: CornerLook, corners: readonly number[]): CornerLook => ({
  groups: groups && Uint32Array.from(corners, (k) => groups[k]!),
  uvs: uvs && Float32Array.from(corners.flatMap((k) => Array.from(uvs.subarray(2 * k, 2 * k + 2)))),
});

/** Colours of a stretch of vertices where all of them have one. */
function colorsOf({ colors }: ObjFile, { start, end }: { start: number; end: number }): Float32Array | null {
  const own = colors?.slice(4 * start, 4 * end);
  return own?.every((c) => c >= 0) ? own : null;
}

/** Cuts the vertex list at objects when each object's faces stay within a stretch of their own. */
function vertexBlocks(obj: ObjFile): { objects: Set<string>; start: number; end: number }[] {
  const vertexCount = obj.positions.length / 3;
  const ranges = new Map<string, { lo: number; hi: number }>();
  for (const run of obj.runs) {
    const r = ranges.get(run.object) ?? { lo: Infinity, hi: -1 };
    for (let k = obj.faceStarts[run.faceStart]!; k < obj.faceStarts[run.faceStart + run.faceCount]!; k++) {
      r.lo = Math.min(r.lo, obj.corners[k]!);
      r.hi = Math.max(r.hi, obj.corners[k]!);
    }
    ranges.set(run.object, r);
  }
  const sorted = [...ranges].sort((a, b) => a[1].lo - b[1].lo);
  const apart = sorted.every(([, r], i) => i === 0 || r.lo > sorted[i - 1]![1].hi);
  if (!apart || sorted.length < 2) return [{ objects: new Set(ranges.keys()), start: 0, end: vertexCount }];
  return sorted.map(([object, r], i) => ({
    objects: new Set([object]),
    start: i === 0 ? 0 : r.lo,
    end: sorted[i + 1]?.[1].lo ?? vertexCount,
  }));
}

/**
 * Share of the base's edges whose length in the target stays within a factor of 3: low when vertices were reordered.
 */
export function keptEdgeShare(
  corners: Uint32Array,
  faceStarts: Uint32Array,
  base: Float32Array,
  target: Float32Array,
): number {
  const l = (P: Float32Array, a: number, b: number): number =>
    Math.hypot(P[3 * a]! - P[3 * b]!, P[3 * a + 1]! - P[3 * b + 1]!, P[3 * a + 2]! - P[3 * b + 2]!);
  let kept = 0;
  let count = 0;
  for (let f = 0; f + 1 < faceStarts.length; f++)
    for (let k = faceStarts[f]!; k < faceStarts[f + 1]!; k++) {
      const a = corners[k]!;
      const b = corners[k + 1 < faceStarts[f + 1]! ? k + 1 : faceStarts[f]!]!;
      const l0 = l(base, a, b);
      const l1 = l(target, a, b);
      count++;
      if (l1 <= 3 * l0 + 1e-6 && l1 >= l0 / 3 - 1e-6) kept++;
    }
  return count ? kept / count : 1;
}

/** The lowest share of kept edges at which two meshes are taken to have the same vertex order. */
export const SAME_ORDER_SHARE = 0.6;

/** Adds OBJ targets to an OBJ base as shapes named after their files. Throws UserError when counts or order differ. */
export function addObjTargets(
  base: Character,
  baseObj: ObjFile,
  targets: readonly { name: string; obj: ObjFile }[],
): Character {
  within("shapeVertices", targets.length * (baseObj.positions.length / 3), base.name, "Send fewer targets at a time.");
  const taken = new Set(base.shapes.map((s) => s.name));
  const shapes = targets.map(({ name, obj }) => {
    const baseCount = baseObj.positions.length / 3;
    const count = obj.positions.length / 3;
    if (count !== baseCount)
      throw new UserError(
        `It has ${count} vertices; the base has ${baseCount}.`,
        shortName(name),
        "Make the target from this base, without adding or removing vertices.",
      );
    const share = keptEdgeShare(baseObj.corners, baseObj.faceStarts, baseObj.positions, obj.positions);
    if (share < SAME_ORDER_SHARE)
      throw new UserError(
        `Its vertices are in another order: ${Math.round(100 * share)} % of the base's edges keep their length.`,
        shortName(name),
        "Export base and targets with vertex order kept.",
      );
    let start = 0;
    const deltas = base.parts.map((part, p) => {
      const vertices: number[] = [];
      const moved: number[] = [];
      for (let v = 0; v < part.positions.length / 3; v++) {
        const d = [0, 1, 2].map((k) => obj.positions[3 * (start + v) + k]! - baseObj.positions[3 * (start + v) + k]!);
        if (d.some((x) => Math.abs(x) > 1e-9)) {
          vertices.push(v);
          moved.push(...d);
        }
      }
      start += part.positions.length / 3;
      return { part: p, vertices: Uint32Array.from(vertices), deltas: Float32Array.from(moved) };
    });
    const shapeName = uniqueName(name.replace(/\.obj$/i, "").replace(/^.*[\\/]/, ""), taken, "shape");
    return { name: shapeName, label: shapeName, deltas: deltas.filter((d) => d.vertices.length > 0) };
  });
  return { ...base, shapes: [...base.shapes, ...shapes] };
}

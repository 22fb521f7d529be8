import { extension, formatOf } from "../../formats/formats";
import { type PlainMesh } from "../../formats/readPly";
import { buildBvh } from "../../math/bvh";
import type { Tick } from "../../measure/sweepMotion";
import { triangulate, type Character, type ShapeDelta } from "../../model/character";
import { movedBy } from "../../model/movedBy";
import { neighboursOf } from "../../model/neighbours";
import { isUserError, shortName, UserError } from "../../model/userError";
import { layOnScan } from "../layOnScan";
import { carryPoints } from "../../surface/carryMovement";
import { smoothDelta } from "../../shapes/smoothDelta";
import { fitTarget, joined, type FittedTarget, type TargetMesh } from "../../shapes/targets/fitTarget";

export interface TargetFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}
export interface BringOptions {
  /** Rounds of smoothing of the movement, and its strength (see smoothDelta). */
  readonly smoothRounds: number;
  readonly smoothStrength: number;
  /** Whether meshes of another net, scans and sculpts, have the character's own skin laid on them. */
  readonly layOnScans?: boolean;
}

/** What became of one target: a shape, or the reason it is none. */
export interface BroughtTarget {
  readonly file: string;
  readonly name: string;
  readonly deltas: readonly ShapeDelta[];
  readonly notes: readonly string[];
  /** Largest movement, mm. */
  readonly maxMm: number;
  /** What smoothing took away at most, mm. */
  readonly lostMm: number;
  readonly refused: { readonly what: string; readonly todo: string } | null;
}

/** A file that moves nothing by more than this is the base itself, mm. */
const IS_BASE_MM = 0.01;
/** How near a foreign base must lie to carry movement over, metres. */
const REACH = 0.012;

/**
 * Makes shapes of files: OBJ, GLB (its shapes, or itself) and PLY, several at once, each alone accepted or refused. A
 * file that is the base is told so, unless its name says it.
 * Targets of another mesh are carried over by the surface when the base they were made from is among the files.
 */
export async function bringTargets(
  character: Character,
  files: readonly TargetFile[],
  options: BringOptions,
  tick: Tick = () => {},
): Promise<BroughtTarget[]> {
  const meshes: TargetMesh[] = [];
  const out: BroughtTarget[] = [];
  const refuse = (file: string, name: string, error: unknown): void => {
    if (!isUserError(error)) throw error;
    out.push({
      file,
      name,
      deltas: [],
      notes: [],
      maxMm: 0,
      lostMm: 0,
      refused: { what: error.what, todo: error.todo },
    });
  };
  for (const [i, file] of files.entries()) {
    await tick(i, 2 * files.length);
    try {
      meshes.push(...(await meshesOf(file)));
    } catch (error) {
      refuse(file.name, file.name, error);
    }
  }
  const foreign = meshes.filter((m) => /(^|[^a-z])(base|neutral|rest|bind)([^a-z]|$)/i.test(m.name));
  for (const [i, mesh] of meshes.entries()) {
    await tick(meshes.length + i, 2 * meshes.length);
    try {
      const fitted = await fitOrCarry(character, mesh, foreign, options.layOnScans ?? false, tick);
      if (!fitted) continue;
      const { deltas, lostMm } = smoothed(character, fitted.deltas, options);
      const maxMm = largest(deltas);
      if (maxMm < IS_BASE_MM && foreign.includes(mesh)) continue;
      if (maxMm < IS_BASE_MM) throw new UserError("It is the base itself: nothing moves.", mesh.file, "");
      out.push({ file: mesh.file, name: mesh.name, deltas, notes: fitted.notes, maxMm, lostMm, refused: null });
    } catch (error) {
      refuse(mesh.file, mesh.name, error);
    }
  }
  await tick(1, 1);
  return out.sort(
    (a, b) =>
      Number(b.refused !== null) - Number(a.refused !== null) || a.name.localeCompare(b.name, "en", { numeric: true }),
  );
}

const stem = (name: string): string => name.replace(/^.*[\\/]/, "").replace(/\.[^.]*$/, "");

/** The meshes of one file: of a GLB its rest, and each of its shapes at full. */
export async function meshesOf({ name, bytes }: TargetFile): Promise<TargetMesh[]> {
  const format = formatOf(name);
  if (format?.mesh) return [{ ...(await format.mesh({ name, bytes })), file: name, name: stem(name) }];
  if (!format?.character)
    throw new UserError(
      `Files of the kind .${extension(name) || "(none)"} are not read.`,
      shortName(name),
      "Send OBJ, PLY or GLB.",
    );
  const other = await format.character({ name, bytes }, { bare: false, beside: [] });
  const all = other.parts.map((_, p) => p);
  const rest = joined(other, all);
  if (!other.shapes.length) return [{ ...rest, file: name, name: stem(name) }];
  const moved = (deltas: readonly ShapeDelta[]): PlainMesh =>
    joined(
      {
        ...other,
        parts: other.parts.map((part, p) =>
          deltas.filter((d) => d.part === p).reduce((now, d) => ({ ...now, positions: movedBy(now, d).moved }), part),
        ),
      },
      all,
    );
  return [
    { ...rest, file: name, name: `${stem(name)} base` },
    ...other.shapes.map((s) => ({ ...moved(s.deltas), file: name, name: s.name })),
  ];
}

/** Null for a base that is only there to carry others. */
async function fitOrCarry(
  character: Character,
  mesh: TargetMesh,
  foreign: readonly TargetMesh[],
  layOnScans: boolean,
  tick: Tick,
): Promise<FittedTarget | null> {
  try {
    return fitTarget(character, mesh);
  } catch (error) {
    if (!isUserError(error)) throw error;
    if (foreign.includes(mesh)) return null;
    const base = foreign.find(
      (b) => b.positions.length === mesh.positions.length && b.corners.length === mesh.corners.length,
    );
    if (base) return carriedOver(character, base, mesh);
    if (!layOnScans || !mesh.positions.every(Number.isFinite)) throw error;
    const { deltas, medianMm, p95Mm, largestMm } = await layOnScan(character, mesh, {}, () => tick(0, 1));
    return {
      deltas,
      notes: [
        `The skin was laid on it: half lies within ${medianMm.toFixed(2)} mm, nineteen in twenty within ` +
          `${p95Mm.toFixed(2)} mm, the worst ${largestMm.toFixed(1)} mm ` +
          "off. Take it in, look at it at full, and bake it into the base.",
      ],
    };
  }
}

function carriedOver(character: Character, base: TargetMesh, mesh: TargetMesh): FittedTarget {
  const { triangles } = triangulate({ ...character.parts[0]!, corners: base.corners, faceStarts: base.faceStarts });
  const surface = { triangles, bvh: buildBvh(triangles, base.positions) };
  const moves = mesh.positions.map((x, i) => x - base.positions[i]!);
  let farthest = 0;
  const deltas = character.parts.flatMap((part, p): ShapeDelta[] => {
    const carried = carryPoints(part.positions, base.positions, moves, surface, REACH, true);
    farthest = Math.max(farthest, carried.farthest);
    return carried.vertices.length ? [{ part: p, vertices: carried.vertices, deltas: carried.deltas }] : [];
  });
  if (!deltas.length)
    throw new UserError(
      `${base.file} lies nowhere within ${1000 * REACH} mm of the character.`,
      mesh.file,
      "Bring the base in the character's own place and size.",
    );
  return {
    deltas,
    notes: [
      `Made on another mesh: carried over from ${base.name} by ` +
        `the surface, up to ${(1000 * farthest).toFixed(1)} mm away.`,
    ],
  };
}

function largest(deltas: readonly ShapeDelta[]): number {
  let most = 0;
  for (const d of deltas) for (const length of lengths(d.deltas)) most = Math.max(most, length);
  return 1000 * most;
}
function* lengths(v: Float32Array): Generator<number> {
  for (let k = 0; k < v.length; k += 3) yield Math.hypot(v[k]!, v[k + 1]!, v[k + 2]!);
}

function smoothed(
  character: Character,
  deltas: readonly ShapeDelta[],
  { smoothRounds, smoothStrength }: BringOptions,
): { deltas: readonly ShapeDelta[]; lostMm: number } {
  if (smoothRounds === 0 || smoothStrength === 0) return { deltas, lostMm: 0 };
  let lostMm = 0;
  const out = deltas.map((d) => {
    const smooth = smoothDelta(d, neighboursOf(character.parts[d.part]!), smoothRounds, smoothStrength);
    for (const lost of lengths(smooth.deltas.map((x, i) => x - d.deltas[i]!))) lostMm = Math.max(lostMm, 1000 * lost);
    return smooth;
  });
  return { deltas: out, lostMm };
}

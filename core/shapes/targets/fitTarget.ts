import { keptEdgeShare, SAME_ORDER_SHARE } from "../../formats/obj/readObj";
import type { PlainMesh } from "../../formats/readPly";
import { applySimilarity, determinant, fitSimilarity, type Similarity } from "../../math/similarity";
import { vertexCountOf, type Character, type ShapeDelta } from "../../model/character";
import { UserError } from "../../model/userError";
import { matchByConnectivity } from "./matchByConnectivity";

/** One mesh of a file that is to become a shape. */
export interface TargetMesh extends PlainMesh {
  readonly file: string;
  /** Name the shape would get. */
  readonly name: string;
}

export interface FittedTarget {
  readonly deltas: readonly ShapeDelta[];
  /** What was set right to make it fit, as sentences. */
  readonly notes: readonly string[];
}

/** Movement below this is rounding, metres. */
const LEAST = 2e-6;

/**
 * Makes a shape of a target mesh: of all parts at once, or of the one part it fits. Units, axes and mirroring are set
 * right when they differ by a known factor or a quarter turn; another vertex order is matched by the faces.
 * @throws UserError with the reason when the mesh is another one.
 */
export function fitTarget(character: Character, target: TargetMesh): FittedTarget {
  const bad = target.positions.findIndex((x) => !Number.isFinite(x));
  if (bad >= 0)
    throw new UserError(`Vertex ${Math.floor(bad / 3)} is not a number.`, target.file, "Export the target again.");
  const count = target.positions.length / 3;
  const sets = [character.parts.map((_, p) => p), ...character.parts.map((_, p) => [p])].filter(
    (parts) => parts.reduce((n, p) => n + vertexCountOf(character.parts[p]!), 0) === count,
  );
  let refusal: UserError | null = null;
  for (const parts of sets) {
    const base = joined(character, parts);
    const placed = placedTarget(base, target);
    if (placed) return { deltas: movementOf(character, parts, placed.positions), notes: placed.notes };
    refusal = new UserError(
      "Its vertices are in another order and its faces are another net than the base's.",
      target.file,
      "Make the target from this base, with vertices and faces kept.",
    );
  }
  throw refusal ?? otherCount(character, target);
}

/** The parts as one mesh, vertices and faces one part after the other. */
export function joined(character: Character, parts: readonly number[]): PlainMesh {
  const positions: number[] = [];
  const corners: number[] = [];
  const faceStarts = [0];
  for (const p of parts) {
    const part = character.parts[p]!;
    const first = positions.length / 3;
    for (const x of part.positions) positions.push(x);
    for (let f = 0; f + 1 < part.faceStarts.length; f++) {
      for (let k = part.faceStarts[f]!; k < part.faceStarts[f + 1]!; k++) corners.push(part.corners[k]! + first);
      faceStarts.push(corners.length);
    }
  }
  return {
    positions: Float32Array.from(positions),
    corners: Uint32Array.from(corners),
    faceStarts: Uint32Array.from(faceStarts),
  };
}

/** The target in the base's order, units and axes; null when it is not the same mesh. */
export function placedTarget(base: PlainMesh, target: PlainMesh): { positions: Float32Array; notes: string[] } | null {
  const straight = rightWayUp(base.positions, target.positions);
  if (isBase(base, straight.positions)) return straight;
  const order = matchByConnectivity(base, target);
  if (!order) return null;
  const reordered = new Float32Array(target.positions.length);
  order.forEach((w, v) => reordered.set(target.positions.subarray(3 * w, 3 * w + 3), 3 * v));
  const placed = rightWayUp(base.positions, reordered);
  if (!isBase(base, placed.positions)) return null;
  return {
    positions: placed.positions,
    notes: ["Its vertices were in another order; they were matched by the faces.", ...placed.notes],
  };
}

/** Half of the vertices must lie within this share of the mesh's size from where they were. */
const MOVES_AT_MOST = 0.2;

function isBase(base: PlainMesh, positions: Float32Array): boolean {
  if (keptEdgeShare(base.corners, base.faceStarts, base.positions, positions) < SAME_ORDER_SHARE) return false;
  const P = base.positions;
  const size = Math.hypot(
    ...[0, 1, 2].map((c) => {
      let [low, high] = [Infinity, -Infinity];
      for (let i = c; i < P.length; i += 3) [low, high] = [Math.min(low, P[i]!), Math.max(high, P[i]!)];
      return high - low;
    }),
  );
  const off = Array.from({ length: P.length / 3 }, (_, v) =>
    Math.hypot(
      positions[3 * v]! - P[3 * v]!,
      positions[3 * v + 1]! - P[3 * v + 1]!,
      positions[3 * v + 2]! - P[3 * v + 2]!,
    ),
  ).sort((a, b) => a - b);
  return off[off.length >> 1]! <= MOVES_AT_MOST * size;
}

/** Metres in units that meshes come in, and their inverses. */
const UNITS: readonly (readonly [factor: number, words: string])[] = [
  [1, "metres"],
  [0.01, "centimetres"],
  [0.001, "millimetres"],
  [0.0254, "inches"],
  [0.3048, "feet"],
  [0.1, "decimetres"],
  [100, "hundreds of metres"],
];
const UNIT_SLACK = 0.12;
const TURN_SLACK = Math.cos((6 * Math.PI) / 180);
/** A figure that stands farther off than this was moved; a shape does not move all of it so far. Metres. */
const MOVED_OFF = 0.12;

function rightWayUp(base: Float32Array, target: Float32Array): { positions: Float32Array; notes: string[] } {
  const found = fitSimilarity(target, base);
  const unit = UNITS.find(([factor]) => Math.abs(found.scale / factor - 1) < UNIT_SLACK) ?? UNITS[0]!;
  const rotation = quarterTurns(found.rotation);
  const turned = rotation.some((x, i) => x !== (i % 4 === 0 ? 1 : 0));
  const notes: string[] = [];
  if (unit[0] !== 1) notes.push(`It was in ${unit[1]}.`);
  if (turned)
    notes.push(determinant(rotation) < 0 ? "It was mirrored; turned back." : "Its axes were turned; set upright.");
  const fit: Similarity = { scale: unit[0], rotation, offset: [0, 0, 0] };
  const positions = new Float32Array(target.length);
  const off: [number[], number[], number[]] = [[], [], []];
  for (let i = 0; i < target.length; i += 3) {
    const q = applySimilarity(fit, target[i]!, target[i + 1]!, target[i + 2]!);
    positions.set(q, i);
    for (let c = 0; c < 3; c++) off[c]!.push(base[i + c]! - q[c]!);
  }
  const offset = off.map((list) => list.sort((a, b) => a - b)[list.length >> 1]!);
  const far = Math.hypot(...offset);
  if (far > MOVED_OFF || (notes.length > 0 && far > 1e-5)) {
    if (far > 0.001) notes.push(`It stood ${(1000 * far).toFixed(0)} mm off; moved back.`);
    for (let i = 0; i < positions.length; i++) positions[i]! += offset[i % 3]!;
  }
  return { positions, notes };
}

/**
 * The turn by quarter turns (and a mirroring) nearest to a rotation, if it is near; else none: what else turns is the
 * shape's own doing.
 */
function quarterTurns(rotation: Float64Array): Float64Array {
  const out = new Float64Array(9);
  for (let j = 0; j < 3; j++) {
    const i = [0, 1, 2].find((k) => Math.abs(rotation[3 * j + k]!) > TURN_SLACK);
    if (i === undefined) return Float64Array.from([1, 0, 0, 0, 1, 0, 0, 0, 1]);
    out[3 * j + i] = Math.sign(rotation[3 * j + i]!);
  }
  return out;
}

function movementOf(character: Character, parts: readonly number[], positions: Float32Array): ShapeDelta[] {
  let start = 0;
  return parts.flatMap((p): ShapeDelta[] => {
    const P = character.parts[p]!.positions;
    const vertices: number[] = [];
    const deltas: number[] = [];
    for (let v = 0; v < P.length / 3; v++) {
      const d = [0, 1, 2].map((c) => positions[3 * (start + v) + c]! - P[3 * v + c]!);
      if (Math.hypot(...d) < LEAST) continue;
      vertices.push(v);
      deltas.push(...d);
    }
    start += P.length / 3;
    return vertices.length
      ? [{ part: p, vertices: Uint32Array.from(vertices), deltas: Float32Array.from(deltas) }]
      : [];
  });
}

/** Says what a mesh of another vertex count most likely is. */
function otherCount(character: Character, target: TargetMesh): UserError {
  const count = target.positions.length / 3;
  for (const [p, part] of character.parts.entries())
    for (let level = 1, n = vertexCountOf(part), net = edgesAndFaces(part); level <= 3; level++) {
      n += net.edges + net.faces;
      // Catmull-Clark: every edge is halved, every corner of a face gets a face and every face adds edges to its middle
      net = { edges: 2 * net.edges + net.corners, faces: net.corners, corners: 4 * net.corners };
      if (n === count)
        return new UserError(
          `It has ${count} vertices: ${character.parts[p]!.name} ` +
            `subdivided ${level === 1 ? "once" : `${level} times`}.`,
          target.file,
          "Export the target without subdivision.",
        );
    }
  const body = character.parts.find((p) => p.kind === "body") ?? character.parts[0]!;
  return new UserError(
    `It has ${count} vertices; ${body.name} has ${vertexCountOf(body)}, all ` +
      `parts together ${character.parts.reduce((n, p) => n + vertexCountOf(p), 0)}.`,
    target.file,
    "Make the target from this base, or bring the base it was made from " +
      "along, so that its movement can be carried over by the surface.",
  );
}

function edgesAndFaces(mesh: PlainMesh): { edges: number; faces: number; corners: number } {
  const count = mesh.positions.length / 3;
  const edges = new Set<number>();
  for (let f = 0; f + 1 < mesh.faceStarts.length; f++)
    for (let k = mesh.faceStarts[f]!, e = mesh.faceStarts[f + 1]!; k < e; k++) {
      const [a, b] = [mesh.corners[k]!, mesh.corners[k + 1 < e ? k + 1 : mesh.faceStarts[f]!]!];
      edges.add(Math.min(a, b) * count + Math.max(a, b));
    }
  return { edges: edges.size, faces: mesh.faceStarts.length - 1, corners: mesh.corners.length };
}

import type { PlainMesh } from "../formats/readPly";
import type { Character } from "../model/character";
import { joined, placedTarget } from "../shapes/targets/fitTarget";
import { coarseMovement, fineRows, subdivideTimes, type FineNet, type SubdivisionRule } from "../surface/subdivide";

/** A sculpt of a subdivided mesh, brought onto the mesh that was sent out. */
export interface FinerSculpt {
  /** Per part, sculpted positions, or null for parts that the file does not hold. */
  readonly sculpt: readonly (Float32Array | null)[];
  readonly notes: readonly string[];
}

const RULES: readonly SubdivisionRule[] = ["smooth", "flat"];
const MOST_LEVELS = 2;
/** Movement below this is rounding of the file, metres. */
const LEAST = 4e-6;

/**
 * Brings a sculpt back that was made on the posed mesh subdivided once or twice: the movement of the coarse mesh whose
 * subdivision comes nearest to it, with what was finer told.
 * @param posed per part, 3 x vertexCount, metres, as it was sent out. @returns null when it is no such mesh.
 */
export function finerSculpt(
  character: Character,
  posed: readonly Float32Array[],
  target: PlainMesh,
): FinerSculpt | null {
  const standing = { ...character, parts: character.parts.map((p, i) => ({ ...p, positions: posed[i]! })) };
  const all = character.parts.map((_, p) => p);
  const sets = all.length > 1 ? [all, ...all.map((p) => [p])] : [all];
  const faces = target.faceStarts.length - 1;
  for (const parts of sets) {
    const base = joined(standing, parts);
    let corners = base.corners.length;
    for (let levels = 1; levels <= MOST_LEVELS; levels++, corners *= 4) {
      if (corners !== faces) continue;
      const found = broughtBack(base, target, levels);
      if (found) return { sculpt: byPart(character, parts, found.positions), notes: found.notes };
    }
  }
  return null;
}

interface Fitting {
  readonly net: FineNet;
  readonly placed: { readonly positions: Float32Array; readonly notes: readonly string[] };
  readonly was: Float64Array;
  /** Median distance of the file's vertices from where they were, metres. */
  readonly off: number;
}

function broughtBack(
  base: PlainMesh,
  target: PlainMesh,
  levels: number,
): { positions: Float32Array; notes: string[] } | null {
  const fits = RULES.flatMap((rule): Fitting[] => {
    const net = subdivideTimes({ ...base, vertexCount: base.positions.length / 3 }, levels, rule);
    if (3 * net.vertexCount !== target.positions.length) return [];
    const was = fineRows(net.stencils, base.positions, new Float64Array(3 * net.vertexCount));
    const placed = placedTarget({ ...net, positions: Float32Array.from(was) }, target);
    return placed ? [{ net, placed, was, off: medianOff(was, placed.positions) }] : [];
  });
  const fit = fits.sort((a, b) => a.off - b.off)[0];
  if (!fit) return null;
  const moved = fit.was.map((x, i) => fit.placed.positions[i]! - x);
  for (let i = 0; i < moved.length; i += 3)
    if (Math.hypot(moved[i]!, moved[i + 1]!, moved[i + 2]!) < LEAST) moved.fill(0, i, i + 3);
  const coarse = coarseMovement(fit.net.stencils, moved, base.positions.length / 3);
  const kept = fineRows(fit.net.stencils, coarse, new Float64Array(moved.length));
  let most = 0;
  for (let i = 0; i < moved.length; i += 3)
    most = Math.max(most, Math.hypot(moved[i]! - kept[i]!, moved[i + 1]! - kept[i + 1]!, moved[i + 2]! - kept[i + 2]!));
  return {
    positions: base.positions.map((x, i) => x + coarse[i]!),
    notes: [
      `It was subdivided ${levels === 1 ? "once" : "twice"}: what the mesh itself can hold of it is taken, ` +
        `up to ${(1000 * most).toFixed(2)} mm of it is finer.`,
      ...fit.placed.notes,
    ],
  };
}

function medianOff(was: Float64Array, now: Float32Array): number {
  const off = Float64Array.from({ length: was.length / 3 }, (_, v) =>
    Math.hypot(now[3 * v]! - was[3 * v]!, now[3 * v + 1]! - was[3 * v + 1]!, now[3 * v + 2]! - was[3 * v + 2]!),
  ).sort();
  return off[off.length >> 1] ?? 0;
}

function byPart(character: Character, parts: readonly number[], positions: Float32Array): (Float32Array | null)[] {
  const out = character.parts.map((): Float32Array | null => null);
  let start = 0;
  for (const p of parts) {
    const size = character.parts[p]!.positions.length;
    out[p] = positions.slice(start, start + size);
    start += size;
  }
  return out;
}

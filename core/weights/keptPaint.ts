import { z } from "zod";
import { decodeContainer, encodeContainer } from "../formats/container";
import { vertexCountOf, type Character } from "../model/character";
import { UserError } from "../model/userError";
import { matchFewByWords } from "../names/matchByWords";
import { denseWeights, packWeights } from "./denseWeights";
import type { WeightPaint } from "./paintWeights";

interface StoredPaint {
  readonly vertexCount: number;
  readonly joints: readonly string[];
  readonly vertices: Uint32Array;
  /** joints.length numbers a vertex. */
  readonly weights: Float32Array;
}
const storedSchema = z.object({
  vertexCount: z.number().int().nonnegative(),
  joints: z.array(z.string()).max(5000),
  vertices: z.instanceof(Uint32Array),
  weights: z.instanceof(Float32Array),
});
const CHANGED = 1e-6;

/**
 * What was painted, as a step keeps it: the changed vertices with the joints that hold them, by name; null when nothing
 * changed.
 */
export function encodePaint(
  character: Character,
  { dense, began, jointCount }: WeightPaint,
): Uint8Array<ArrayBuffer> | null {
  const vertices: number[] = [];
  const used = new Set<number>();
  for (let v = 0; v < dense.length / jointCount; v++) {
    let changed = false;
    for (let j = 0; j < jointCount && !changed; j++)
      changed = Math.abs(dense[v * jointCount + j]! - began[v * jointCount + j]!) > CHANGED;
    if (!changed) continue;
    vertices.push(v);
    for (let j = 0; j < jointCount; j++) if (dense[v * jointCount + j]! > CHANGED) used.add(j);
  }
  if (!vertices.length) return null;
  const joints = [...used].sort((a, b) => a - b);
  const weights = Float32Array.from(vertices.flatMap((v) => joints.map((j) => dense[v * jointCount + j]!)));
  return encodeContainer({
    vertexCount: dense.length / jointCount,
    joints: joints.map((j) => character.skeleton!.joints[j]!.name),
    vertices: Uint32Array.from(vertices),
    weights,
  } satisfies StoredPaint);
}

/**
 * The character with a part's weights as painted. @throws UserError when the part has other vertices than those painted
 * on, or a joint is gone.
 */
export function applyPaint(character: Character, partName: string, bytes: Uint8Array): Character {
  const index = character.parts.findIndex((p) => p.name === partName);
  const part = character.parts[index];
  if (!part?.skin || !character.skeleton)
    throw new UserError(`${partName} is not bound to joints.`, "paint", "Bind it first.");
  const read = storedSchema.safeParse(decodeContainer(bytes));
  const stored: StoredPaint | null = read.success ? read.data : null;
  if (
    !stored ||
    stored.weights.length !== stored.vertices.length * stored.joints.length ||
    stored.vertices.some((v) => v >= stored.vertexCount) ||
    !stored.weights.every((w) => Number.isFinite(w) && w >= 0)
  )
    throw new UserError("What is kept of the painting cannot be read.", "paint", "Paint it again.");
  if (stored.vertexCount !== vertexCountOf(part))
    throw new UserError(
      `${partName} has ${vertexCountOf(part)} vertices; it was painted on ${stored.vertexCount}.`,
      "paint",
      "Paint it again, or take its weights from the skin.",
    );
  const jointCount = character.skeleton.joints.length;
  // joints of another delivery may be called otherwise
  const names = character.skeleton.joints.map((j) => j.name);
  const here = matchFewByWords(stored.joints, names);
  const at = stored.joints.map((name) => {
    const j = names.indexOf(here.get(name) ?? name);
    if (j < 0) throw new UserError(`There is no joint named ${name}.`, "paint", "");
    return j;
  });
  const dense = denseWeights(part, jointCount);
  stored.vertices.forEach((v, k) => {
    dense.fill(0, v * jointCount, (v + 1) * jointCount);
    at.forEach((j, i) => (dense[v * jointCount + j] = stored.weights[k * at.length + i]!));
  });
  const skin = packWeights(dense, jointCount, Math.max(4, part.skin.influenceCount), part.skin.inverseBinds);
  return { ...character, parts: character.parts.map((p, i) => (i === index ? { ...part, skin } : p)) };
}

import { sideOfShapeName } from "../checks/shapes/shapesSides";
import { carryMovement } from "../shapes/carryMovement";
import type { Character, ShapeDelta } from "../model/character";
import { withoutShape } from "../model/withoutShape";
import { UserError } from "../model/userError";
import { neededShape, partNamed } from "./places";

/** The shape and its drivers go. */
export function removeShape(character: Character, name: string): Character {
  neededShape(character, name);
  return withoutShape(character, name);
}

/** Half width of the seam over which a one-sided shape fades out, metres. */
const SEAM = 0.01;

/** Fades a one-sided shape out over the middle: smooth from all on its own side to nothing on the other. */
export function cutSideLeak(character: Character, name: string): Character {
  const shape = neededShape(character, name);
  const side = sideOfShapeName(name);
  if (!side) throw new UserError(`The name ${name} does not say which side the shape is of.`, "mend", "Rename it with left or right.");
  const deltas = shape.deltas.flatMap((delta): ShapeDelta[] => {
    const P = character.parts[delta.part]!.positions;
    const share = (v: number): number => {
      const t = Math.min(1, Math.max(0, ((side === "left" ? 1 : -1) * P[3 * v]! + SEAM) / (2 * SEAM)));
      return t * t * (3 - 2 * t);
    };
    const kept = Array.from(delta.vertices.keys()).filter((k) => share(delta.vertices[k]!) > 0);
    if (!kept.length) return [];
    return [{ part: delta.part, vertices: Uint32Array.from(kept, (k) => delta.vertices[k]!), deltas: Float32Array.from(kept.flatMap((k) => [0, 1, 2].map((c) => share(delta.vertices[k]!) * delta.deltas[3 * k + c]!))) }];
  });
  return { ...character, shapes: character.shapes.map((s) => (s === shape ? { ...s, deltas } : s)) };
}

/** Gives a part the movement of the skin nearest to each of its vertices, mixed from the three corners of the skin's triangle. What it did before in the shape is replaced. */
export function carryShape(character: Character, partName: string, shapeName: string): Character {
  const shape = neededShape(character, shapeName);
  const { index } = partNamed(character, partName);
  const body = character.parts.findIndex((p) => p.kind === "body");
  const skinDelta = shape.deltas.find((d) => d.part === body);
  if (!skinDelta) throw new UserError(`${shapeName} does not move the skin.`, "mend", "");
  const made = carryMovement(character, index, skinDelta);
  return { ...character, shapes: character.shapes.map((s) => (s === shape ? { ...s, deltas: [...s.deltas.filter((d) => d.part !== index), ...(made ? [made] : [])].sort((x, y) => x.part - y.part) } : s)) };
}

import type { Character } from "../../model/character";
import { partNamed } from "./places";

/** The materials of a part become see-through. */
export function mendMaterial(character: Character, name: string): Character {
  const { part } = partNamed(character, name);
  const used = new Set(part.groups.map((g) => g.material));
  return {
    ...character,
    materials: character.materials.map((m, i) =>
      used.has(i) && m.opacity === "opaque" ? { ...m, opacity: "blend" as const } : m,
    ),
  };
}

/** Leaves a part out; shapes keep what they do to the others. */
export function removePart(character: Character, name: string): Character {
  const { index } = partNamed(character, name);
  return {
    ...character,
    parts: character.parts.filter((_, p) => p !== index),
    shapes: character.shapes.map((s) => ({
      ...s,
      deltas: s.deltas.filter((d) => d.part !== index).map((d) => (d.part > index ? { ...d, part: d.part - 1 } : d)),
    })),
  };
}

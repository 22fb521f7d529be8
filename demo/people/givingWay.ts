import { mirrorName } from "../../core/shapes/mirrorDeltas";
import { deriveShapes, type DerivedItem } from "../../core/shapes/deriveShapes";
import type { Character } from "../../core/model/character";

/**
 * Which unit gives way to which where the two do not go together, and by how many eighths: settled on Wick's face with
 * the pair matrix, every one the least that
 * brings lips, lids and faces within their limits. What is said of the left holds for the right.
 */
const GIVES_WAY: Readonly<Record<string, Readonly<Record<string, number>>>> = {
  AU5_left: { AU43_left: 8, AU61_left: 2, AU62_left: 7 },
  AU6_left: { AU43_left: 8 },
  AU7_left: { AU43_left: 8 },
  AU61_left: { AU43_left: 8 },
  AU62_left: { AU43_left: 8, AU61_left: 5 },
  AU63_left: { AU43_left: 5 },
  AU64_left: { AU43_left: 5 },
  AU12_left: { AU19: 2, AU28: 5, AU29: 8, AU30_right: 1 },
  lip_seal: { AU19: 7, AU13_left: 1, AU15_left: 1, AU17: 2, AU18: 1, lip_to_teeth: 7, AU30_left: 3 },
  AU13_left: { AU19: 1, AU29: 8, AU30_right: 5 },
  AU14_left: { AU28: 1, AU30_left: 1 },
  AU17: { AU19: 7, AU15_left: 1, AU28: 4, AU29: 8, AU30_left: 8 },
  lip_to_teeth: { AU19: 6, AU15_left: 2, AU20_left: 1, AU21: 1, AU27: 1, AU28: 8 },
  AU15_left: { AU30_left: 8 },
  AU18: { AU19: 7, AU27: 1, AU30_left: 5 },
  AU20_left: { AU28: 3, AU29: 8 },
  AU21: { AU29: 8, AU30_left: 8 },
  AU22: { AU19: 1, AU28: 1 },
  AU24: { AU23: 1, AU28: 7, AU29: 8 },
  AU23: { AU28: 6, AU29: 8 },
  AU30_left: { AU19: 4, AU33: 1, AU29: 1 },
  AU35: { AU19: 5, AU30_left: 8 },
  AU19: { AU27: 8 },
  AU29: { AU19: 6 },
  AU33: { AU19: 2 },
  AU26: { AU27: 8 },
  AU28: { AU19: 7, AU27: 8 },
  AU27: { AU30_left: 1 },
};

/** Combinations for the pairs of units that do not go together. */
export function withCombinations(character: Character): Character {
  const items = new Map<string, DerivedItem>();
  const add = (giver: string, other: string, eighths: number): void => {
    const name = `${giver}_with_${other}`;
    items.set(name, {
      name,
      label: `${giver} gives way to ${other}`,
      from: { way: "mix", of: [{ shape: giver, weight: -eighths / 8 }] },
      driver: { of: [giver, other], rule: "product", enabled: true },
    });
  };
  const swap = (name: string): string => (/left|right/.test(name) ? mirrorName(name) : name);
  for (const [giver, others] of Object.entries(GIVES_WAY))
    for (const [other, eighths] of Object.entries(others)) {
      add(giver, other, eighths);
      add(swap(giver), swap(other), eighths);
    }
  return deriveShapes(character, [...items.values()]);
}

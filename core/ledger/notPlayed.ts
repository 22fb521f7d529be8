import type { Character } from "../model/character";
import { poseDriven } from "../model/drivenShapes";

/**
 * What a character holds that a plain glTF player does not play by itself, as short phrases; it is in the extras and in
 * the file beside.
 */
export function notPlayed(character: Character): string[] {
  const count = (n: number, one: string, many: string): string[] => (n ? [`${n} ${n === 1 ? one : many}`] : []);
  const offsets = character.shapes.filter((s) => s.jointOffsets?.length).length;
  return [
    ...count(poseDriven(character).size, "corrective driven by a joint", "correctives driven by joints"),
    ...count(character.shapeDrivers.filter((d) => d.rule !== "in-between").length, "combination", "combinations"),
    ...count(character.shapeDrivers.filter((d) => d.rule === "in-between").length, "in-between", "in-betweens"),
    ...count(character.mixes?.length ?? 0, "expression as a mix", "expressions as mixes"),
    ...count(offsets, "shape that moves joints", "shapes that move joints"),
  ];
}

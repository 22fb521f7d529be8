import type { Character, Shape, ShapeDelta } from "../model/character";
import { followSkin } from "./followSkin";

const sameMovement = (a: ShapeDelta | undefined, b: ShapeDelta | undefined): boolean =>
  a === b ||
  (a !== undefined &&
    b !== undefined &&
    a.vertices.length === b.vertices.length &&
    a.vertices.every((v, k) => v === b.vertices[k]) &&
    a.deltas.every((x, k) => x === b.deltas[k]));

/**
 * After a change, parts that follow for good follow again in every shape whose movement of the skin is another. A new
 * shape that moves the part by itself is left as it came,
 * and so is everything when the skin or the part is another mesh than before: what made it carried its shapes along.
 */
export function keepFollowing(before: Character, after: Character): Character {
  if (!after.follows?.length || before.shapes === after.shapes) return after;
  const body = after.parts.findIndex((p) => p.kind === "body");
  const old = new Map(before.shapes.map((s) => [s.name, s]));
  const of = (shape: Shape | undefined, part: number): ShapeDelta | undefined =>
    shape?.deltas.find((d) => d.part === part);
  return after.follows.reduce((character, { part: name, reachMm }) => {
    const index = after.parts.findIndex((p) => p.name === name);
    const stays = (i: number): boolean => i >= 0 && before.parts[i]?.positions === after.parts[i]!.positions;
    if (body === index || !stays(body) || !stays(index)) return character;
    const shapes = after.shapes
      .filter((s) => {
        const known = old.get(s.name);
        if (known === s || !of(s, body)) return false;
        return known ? !sameMovement(of(known, body), of(s, body)) : !of(s, index);
      })
      .map((s) => s.name);
    return shapes.length ? followSkin(character, { part: name, reachMm, shapes }) : character;
  }, after);
}

import type { Character, Shape } from "../model/character";

const known = new WeakMap<Shape, Map<Shape, { readonly along: number; readonly own: number }>>();

/** Of two shapes' movements: their product, and the first's own, square metres over all vertices. */
function products(a: Shape, b: Shape): { along: number; own: number } {
  const mine = known.get(a) ?? new Map<Shape, { along: number; own: number }>();
  known.set(a, mine);
  const found = mine.get(b);
  if (found) return found;
  let [along, own] = [0, 0];
  for (const d of a.deltas) {
    for (const x of d.deltas) own += x * x;
    const other = b.deltas.find((o) => o.part === d.part);
    if (!other) continue;
    const at = new Map(Array.from(other.vertices, (v, k) => [v, k]));
    d.vertices.forEach((v, k) => {
      const o = at.get(v);
      if (o === undefined) return;
      for (let c = 0; c < 3; c++) along += d.deltas[3 * k + c]! * other.deltas[3 * o + c]!;
    });
  }
  const made = { along, own };
  mine.set(b, made);
  return made;
}

export interface Opposed {
  readonly taken: string;
  readonly by: string;
  /** Share of the movement of `taken` that `by` takes back, 0..1 and more. */
  readonly share: number;
}

/**
 * Shapes that play against each other at once: how much of one's movement another takes back, the largest share. Null
 * where none takes anything back.
 * @param playing weights by shape.
 */
export function opposed(character: Character, playing: ReadonlyMap<string, number>): Opposed | null {
  const shapes = character.shapes.filter((s) => (playing.get(s.name) ?? 0) > 0);
  let worst: Opposed | null = null;
  for (const a of shapes) {
    let [back, most, by] = [0, 0, ""];
    let own = 0;
    for (const b of shapes) {
      if (a === b) continue;
      const { along, own: mine } = products(a, b);
      own = mine;
      const taken = -along * (playing.get(b.name)! / playing.get(a.name)!);
      if (taken <= 0) continue;
      back += taken;
      if (taken > most) [most, by] = [taken, b.name];
    }
    const share = own > 0 ? back / own : 0;
    if (by && share > (worst?.share ?? 0)) worst = { taken: a.name, by, share };
  }
  return worst;
}

import { amount, check } from "../check";
import { isDriven, type Shape } from "../../model/character";
import { shapeMeaning } from "../../names/shapeMeaning";
import { finding, type Finding } from "../finding";

/** Lengths of two movements that differ by more than this share belong to two shapes. */
const LENGTH = 0.05;

interface Measured {
  readonly shape: Shape;
  readonly length: number;
  readonly moves: ReadonlyMap<number, readonly [number, number, number]>;
  /**
   * Sums of movement over blocks of neighbours in the list, over the root of the block's size: a projection, so two
   * shapes are at least as far apart as these.
   */
  readonly blocks: ReadonlyMap<number, readonly [number, number, number]>;
}

/**
 * Shapes that do the same, or so nearly that one of them is probably a copy; a note. Names of two systems may mean the
 * same on purpose (a preset and the unit it plays) and are not held against each other.
 */
export const shapesAlike = check({
  id: "shapes.alike",
  title: "Shapes that do the same",
  station: "shapes",
  unit: "%",
  measures: "shapes whose movements differ by less than a share of their length; a note",
  severity: "note",
  limits: { "shapes.alike": amount(1) },
  source: "our own choice: 1 % apart",
  waitsFor: "stance and size",
  run: (character, { limits }) => {
    const limit = limits["shapes.alike"];
    if (limit === null) return [];
    const measured = character.shapes
      .filter((s) => !isDriven(character, s.name))
      .map(measure)
      .filter((m) => m.length > 0)
      .sort((a, b) => a.length - b.length);
    const out: Finding[] = [];
    for (let i = 0; i < measured.length; i++)
      for (let j = i + 1; j < measured.length && measured[j]!.length <= (1 + LENGTH) * measured[i]!.length; j++) {
        if (systemOf(measured[i]!.shape) !== systemOf(measured[j]!.shape)) continue;
        if (100 * leastDifference(measured[i]!, measured[j]!) > limit) continue;
        const apart = 100 * difference(measured[i]!, measured[j]!);
        if (apart > limit) continue;
        const [a, b] = [measured[i]!.shape, measured[j]!.shape].sort(
          (x, y) => character.shapes.indexOf(x) - character.shapes.indexOf(y),
        ) as [Shape, Shape];
        out.push(
          finding({
            check: "shapes.alike",
            severity: "note",
            shape: b.name,
            pair: [a.name, b.name],
            value: apart,
            unit: "%",
            limit,
            message:
              `${b.name} does the same as ` +
              `${a.name}${apart < 0.01 ? "" : `, ${apart.toFixed(1)} % apart`}. Keep one, or make it a mix.`,
          }),
        );
      }
    return out;
  },
});

const systemOf = (shape: Shape): string => shapeMeaning(shape.name)?.system ?? "own";
const SPREAD = 1 << 24;
/** Vertices of a block. */
const BLOCK = 64;
function measure(shape: Shape): Measured {
  let sum = 0;
  const blocks = new Map<number, [number, number, number]>();
  for (const d of shape.deltas)
    for (let k = 0; k < d.vertices.length; k++) {
      const block = Math.floor((d.part * SPREAD + d.vertices[k]!) / BLOCK);
      const at = blocks.get(block) ?? blocks.set(block, [0, 0, 0]).get(block)!;
      for (let c = 0; c < 3; c++) {
        const x = d.deltas[3 * k + c]!;
        sum += x * x;
        at[c]! += x / Math.sqrt(BLOCK);
      }
    }
  let moves: Measured["moves"] | null = null;
  return {
    shape,
    length: Math.sqrt(sum),
    blocks,
    get moves() {
      return (moves ??= movesOf(shape));
    },
  };
}

/** Movement by part and vertex; made only for shapes that come near another. */
function movesOf(shape: Shape): Measured["moves"] {
  const moves = new Map<number, readonly [number, number, number]>();
  for (const d of shape.deltas)
    d.vertices.forEach((v, k) =>
      moves.set(d.part * SPREAD + v, [d.deltas[3 * k]!, d.deltas[3 * k + 1]!, d.deltas[3 * k + 2]!]),
    );
  return moves;
}

/** A bound from below of `difference`, by the blocks alone. */
function leastDifference(a: Measured, b: Measured): number {
  let sum = 0;
  for (const [block, m] of a.blocks) {
    const n = b.blocks.get(block) ?? [0, 0, 0];
    sum += (m[0] - n[0]) ** 2 + (m[1] - n[1]) ** 2 + (m[2] - n[2]) ** 2;
  }
  for (const [block, n] of b.blocks) if (!a.blocks.has(block)) sum += n[0] ** 2 + n[1] ** 2 + n[2] ** 2;
  return Math.sqrt(sum) / Math.max(a.length, b.length);
}

/** Length of the difference of two movements over the longer of them. */
function difference(a: Measured, b: Measured): number {
  let dot = 0;
  const [few, many] = a.moves.size < b.moves.size ? [a, b] : [b, a];
  for (const [key, m] of few.moves) {
    const n = many.moves.get(key);
    if (n) dot += m[0] * n[0] + m[1] * n[1] + m[2] * n[2];
  }
  return Math.sqrt(Math.max(0, a.length ** 2 + b.length ** 2 - 2 * dot)) / Math.max(a.length, b.length);
}

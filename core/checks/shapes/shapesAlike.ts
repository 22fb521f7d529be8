import { isDriven, type Shape } from "../../model/character";
import { shapeMeaning } from "../../shapes/shapeMeaning";
import { finding, type Check, type Finding } from "../finding";

/** Lengths of two movements that differ by more than this share belong to two shapes. */
const LENGTH = 0.05;

interface Measured {
  readonly shape: Shape;
  readonly length: number;
  readonly moves: ReadonlyMap<number, readonly [number, number, number]>;
}

/**
 * Shapes that do the same, or so nearly that one of them is probably a copy; a note. Names of two systems may mean the same on purpose (a preset and the unit it
 * plays) and are not held against each other.
 */
export const shapesAlike: Check = {
  id: "shapes.alike",
  title: "Shapes that do the same",
  unit: "%",
  source: "our own choice: 1 % apart",
  run: (character, { profile }) => {
    const limit = profile.limits["shapes.alike"];
    if (limit === null) return [];
    const measured = character.shapes.filter((s) => !isDriven(character, s.name)).map(measure).filter((m) => m.length > 0).sort((a, b) => a.length - b.length);
    const out: Finding[] = [];
    for (let i = 0; i < measured.length; i++)
      for (let j = i + 1; j < measured.length && measured[j]!.length <= (1 + LENGTH) * measured[i]!.length; j++) {
        if (systemOf(measured[i]!.shape) !== systemOf(measured[j]!.shape)) continue;
        const apart = 100 * difference(measured[i]!, measured[j]!);
        if (apart > limit) continue;
        const [a, b] = [measured[i]!.shape, measured[j]!.shape].sort((x, y) => character.shapes.indexOf(x) - character.shapes.indexOf(y)) as [Shape, Shape];
        out.push(finding({ check: "shapes.alike", severity: "note", shape: b.name, pair: [a.name, b.name], value: apart, unit: "%", limit, message: `${b.name} does the same as ${a.name}${apart < 0.01 ? "" : `, ${apart.toFixed(1)} % apart`}. Keep one, or make it a mix.` }));
      }
    return out;
  },
};

const systemOf = (shape: Shape): string => shapeMeaning(shape.name)?.system ?? "own";
const SPREAD = 1 << 24;
function measure(shape: Shape): Measured {
  const moves = new Map<number, readonly [number, number, number]>();
  let sum = 0;
  for (const d of shape.deltas)
    d.vertices.forEach((v, k) => {
      const m = [d.deltas[3 * k]!, d.deltas[3 * k + 1]!, d.deltas[3 * k + 2]!] as const;
      sum += m[0] * m[0] + m[1] * m[1] + m[2] * m[2];
      moves.set(d.part * SPREAD + v, m);
    });
  return { shape, length: Math.sqrt(sum), moves };
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

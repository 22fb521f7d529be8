import { vertexCountOf, type Character } from "../model/character";
import { deliveryNames, matchNames } from "../intake/relinkNames";

/** What became of the things of one kind between two deliveries. */
export interface Changes {
  readonly came: readonly string[];
  readonly went: readonly string[];
  readonly renamed: readonly { readonly from: string; readonly to: string }[];
}
export interface MovedPart {
  readonly part: string;
  /** Vertices that moved by more than a hundredth of a millimetre. */
  readonly vertices: number;
  readonly largestMm: number;
  /** The vertices that moved farthest, up to 4 000, and how far, mm; comparisons kept from before have none. */
  readonly where?: { readonly vertices: readonly number[]; readonly mm: readonly number[] };
}
export interface RemeshedPart {
  readonly part: string;
  readonly before: number;
  readonly after: number;
}
export interface DeliveryComparison {
  readonly parts: Changes;
  readonly joints: Changes;
  readonly shapes: Changes;
  readonly clips: Changes;
  readonly moved: readonly MovedPart[];
  readonly remeshed: readonly RemeshedPart[];
  /** Shapes that are in both and move something otherwise than before. */
  readonly reshaped: readonly string[];
  /**
   * Share of parts, joints and shapes of the first that are in the second: low where the two do not belong together.
   */
  readonly alike: number;
}

const MOVED = 1e-5;
const MOST_TOLD = 4000;

/** Compares two deliveries of one character, names matched as for a replay. */
export function compareDeliveries(before: Character, after: Character): DeliveryComparison {
  const [from, to] = [deliveryNames(before), deliveryNames(after)];
  const matches = matchNames(from, to);
  const changes = (names: ReadonlyMap<string, string>, old: readonly string[], now: readonly string[]): Changes => {
    const met = new Set(names.values());
    return {
      came: now.filter((n) => !met.has(n)),
      went: old.filter((n) => !names.has(n)),
      renamed: old.flatMap((n) => (names.has(n) && names.get(n) !== n ? [{ from: n, to: names.get(n)! }] : [])),
    };
  };
  const names = <T extends { name: string }>(list: readonly T[]): string[] => list.map((x) => x.name);
  const pairs = before.parts.flatMap((a) => {
    const b = after.parts.find((p) => p.name === matches.parts.get(a.name));
    return b ? [{ a, b }] : [];
  });
  const moved = pairs.flatMap(({ a, b }): MovedPart[] => {
    if (a.positions.length !== b.positions.length) return [];
    const far: [number, number][] = [];
    for (let v = 0; 3 * v < a.positions.length; v++) {
      const i = 3 * v;
      const d = Math.hypot(
        a.positions[i]! - b.positions[i]!,
        a.positions[i + 1]! - b.positions[i + 1]!,
        a.positions[i + 2]! - b.positions[i + 2]!,
      );
      if (d > MOVED) far.push([v, d]);
    }
    if (!far.length) return [];
    far.sort((x, y) => y[1] - x[1] || x[0] - y[0]);
    const kept = far.slice(0, MOST_TOLD);
    return [
      {
        part: b.name,
        vertices: far.length,
        largestMm: 1000 * far[0]![1],
        where: { vertices: kept.map(([v]) => v), mm: kept.map(([, d]) => Number((1000 * d).toFixed(3))) },
      },
    ];
  });
  const all = from.parts.length + from.joints.length + from.shapes.length;
  return {
    parts: changes(matches.parts, names(from.parts), names(to.parts)),
    joints: changes(matches.joints, names(from.joints), names(to.joints)),
    shapes: changes(matches.shapes, from.shapes, to.shapes),
    clips: changes(matches.clips, from.clips, to.clips),
    moved: moved.sort((x, y) => y.largestMm - x.largestMm),
    remeshed: pairs.flatMap(({ a, b }) =>
      a.positions.length === b.positions.length
        ? []
        : [{ part: b.name, before: vertexCountOf(a), after: vertexCountOf(b) }],
    ),
    reshaped: before.shapes.flatMap((s) => {
      const other = after.shapes.find((x) => x.name === matches.shapes.get(s.name));
      return other && reachOf(before, s.name) !== reachOf(after, other.name) ? [other.name] : [];
    }),
    alike: all ? (matches.parts.size + matches.joints.size + matches.shapes.size) / all : 0,
  };
}

/**
 * Sum of a shape's movement over parts that kept their vertices, hundredths of a millimetre: tells shapes apart without
 * comparing each vertex.
 */
function reachOf(character: Character, name: string): string {
  const shape = character.shapes.find((s) => s.name === name)!;
  return shape.deltas
    .map(
      (d) => `${character.parts[d.part]!.kind} ${Math.round(1e5 * d.deltas.reduce((sum, x) => sum + Math.abs(x), 0))}`,
    )
    .sort()
    .join();
}

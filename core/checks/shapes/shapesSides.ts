import { mirrorMap, NO_MIRROR } from "../../model/mirrorMap";
import type { Shape } from "../../model/character";
import { splitWords } from "../../skeleton/nameWords";
import { finding, type Check } from "../finding";

/** Seam in the middle that belongs to both sides, metres. */
const SEAM = 0.01;
/**
 * A shape that moves more than this share on the other side is meant for both, whatever its name says (a jaw to the
 * left).
 */
const BOTH_SIDED = 30;
/** Names whose words are kept; they are read again and again. */
const MOST_KNOWN = 5000;
const SIDES = { left: ["left", "l"], right: ["right", "r"] } as const;
type Side = keyof typeof SIDES;
const other = (side: Side): Side => (side === "left" ? "right" : "left");

const known = new Map<string, { readonly side: Side | null; readonly bare: string }>();
/** The side that a shape's name speaks of, and the name without it. */
function reading(name: string): { readonly side: Side | null; readonly bare: string } {
  const found = known.get(name);
  if (found) return found;
  const words = splitWords(name);
  const of = (s: Side): readonly string[] => SIDES[s];
  const side = (["left", "right"] as const).find((s) => words.some((w) => of(s).includes(w))) ?? null;
  const made = { side, bare: side ? words.filter((w) => !of(side).includes(w)).join(" ") : name };
  if (known.size > MOST_KNOWN) known.clear();
  known.set(name, made);
  return made;
}

/** Which side a shape's name speaks of: a word, a letter of its own, or the end of a compound word. */
export const sideOfShapeName = (name: string): Side | null => reading(name).side;

/** The shape of the other side by name, or undefined. */
export function counterpart(shapes: readonly Shape[], shape: Shape): Shape | undefined {
  const { side, bare } = reading(shape.name);
  if (!side) return undefined;
  return shapes.find((s) => s !== shape && reading(s.name).side === other(side) && reading(s.name).bare === bare);
}

/** Movement on the side that a one-sided shape is not of. */
export const shapesSideLeak: Check = {
  id: "shapes.side-leak",
  title: "One-sided shapes that move the other side",
  unit: "%",
  source: "our own choice: 2 % of the movement",
  run: (character, { profile }) => {
    const limit = profile.limits["shapes.side-leak"];
    if (limit === null) return [];
    // a combination takes back what lies on either side; flesh that a joint presses at the middle gives way on both
    const combined = new Set(
      [...character.shapeDrivers.filter((d) => d.of.length > 1), ...character.drivers].map((d) => d.shape),
    );
    return character.shapes.flatMap((shape) => {
      const side = sideOfShapeName(shape.name);
      if (!side || !counterpart(character.shapes, shape) || combined.has(shape.name)) return [];
      let all = 0;
      let leaked = 0;
      let worst: { part: number; list: [number, number][] } | null = null;
      for (const delta of shape.deltas) {
        const P = character.parts[delta.part]!.positions;
        const list: [number, number][] = [];
        delta.vertices.forEach((v, k) => {
          const move = Math.hypot(delta.deltas[3 * k]!, delta.deltas[3 * k + 1]!, delta.deltas[3 * k + 2]!);
          all += move;
          const x = side === "left" ? -P[3 * v]! : P[3 * v]!;
          if (x <= SEAM) return;
          leaked += move;
          list.push([v, move]);
        });
        if (list.length && (!worst || list.length > worst.list.length)) worst = { part: delta.part, list };
      }
      const share = all > 0 ? (100 * leaked) / all : 0;
      if (share <= limit || share > BOTH_SIDED || !worst) return [];
      worst.list.sort((a, b) => b[1] - a[1] || a[0] - b[0]);
      return [
        finding({
          check: "shapes.side-leak",
          severity: "warn",
          shape: shape.name,
          part: character.parts[worst.part]!.name,
          vertices: worst.list.map(([v]) => v),
          value: share,
          unit: "%",
          limit,
          message:
            `${share.toFixed(1)} % of ${shape.label} happens on the ` +
            `${other(side)} side; cut it at the middle with a soft seam.`,
        }),
      ];
    });
  },
};

/**
 * Left shapes against the mirror images of their right counterparts. A shape that leaks over the middle is compared on
 * its own side only.
 */
export const shapesSymmetry: Check = {
  id: "shapes.symmetry",
  title: "Left and right shapes that differ",
  unit: "mm",
  source: "our own choice: 1 mm",
  run: (character, { profile }) => {
    const limit = profile.limits["shapes.symmetry"];
    if (limit === null) return [];
    return character.shapes.flatMap((shape) => {
      if (sideOfShapeName(shape.name) !== "left") return [];
      const twin = counterpart(character.shapes, shape);
      const body = character.parts.findIndex((p) => p.kind === "body");
      const [mine, theirs] = [shape.deltas.find((d) => d.part === body), twin?.deltas.find((d) => d.part === body)];
      if (!twin || !mine || !theirs) return [];
      const mirror = mirrorMap(character.parts[body]!.positions);
      const row = new Map(Array.from(theirs.vertices, (v, k) => [v, k]));
      const P = character.parts[body]!.positions;
      const off: [number, number][] = [];
      mine.vertices.forEach((v, k) => {
        const m = mirror[v]!;
        if (m === NO_MIRROR || P[3 * v]! < SEAM) return;
        const r = row.get(m);
        const d = [0, 1, 2].map(
          (c) => mine.deltas[3 * k + c]! - (r === undefined ? 0 : theirs.deltas[3 * r + c]! * (c === 0 ? -1 : 1)),
        );
        const mm = 1000 * Math.hypot(...d);
        if (mm > limit) off.push([v, mm]);
      });
      if (!off.length) return [];
      off.sort((a, b) => b[1] - a[1] || a[0] - b[0]);
      return [
        finding({
          check: "shapes.symmetry",
          severity: "warn",
          shape: shape.name,
          part: character.parts[body]!.name,
          vertices: off.map(([v]) => v),
          value: off[0]![1],
          unit: "mm",
          limit,
          message:
            `${shape.label} and ${twin.label} are not mirror images: up ` +
            `to ${off[0]![1].toFixed(1)} mm apart. Mirror the better one.`,
        }),
      ];
    });
  },
};

import type { Shape } from "../model/character";
import { splitWords } from "../names/nameWords";

/** Names whose words are kept; they are read again and again. */
const MOST_KNOWN = 5000;
const SIDES = { left: ["left", "l"], right: ["right", "r"] } as const;
type Side = keyof typeof SIDES;
export const other = (side: Side): Side => (side === "left" ? "right" : "left");
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

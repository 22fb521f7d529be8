import { removePart } from "../../edits/mend/mendParts";
import { check } from "../check";
import type { Character, Part } from "../../model/character";
import { splitWords } from "../../names/nameWords";
import { finding } from "../finding";

const HELPER_WORDS = [
  "helper",
  "guide",
  "dummy",
  "locator",
  "reference",
  "ref",
  "plane",
  "ground",
  "floor",
  "backdrop",
  "scale",
];
/** How far beyond the figure's own bounds a part may reach. */
const ROOM = 1.5;

const boundsOf = (parts: readonly Part[]): { lo: number[]; hi: number[] } => {
  const lo = [Infinity, Infinity, Infinity];
  const hi = [-Infinity, -Infinity, -Infinity];
  for (const part of parts)
    part.positions.forEach((x, i) => {
      lo[i % 3] = Math.min(lo[i % 3]!, x);
      hi[i % 3] = Math.max(hi[i % 3]!, x);
    });
  return { lo, hi };
};

/** Why a part does not belong to the figure, or null. */
export function whyUnplaced(character: Character, part: Part): string | null {
  if (!part.name.trim()) return "has no name";
  if (part.kind === "other" && splitWords(part.name).some((w) => HELPER_WORDS.includes(w)))
    return "looks like a helper";
  const body = character.parts.filter((p) => p.kind === "body");
  if (!body.length || part.kind === "body") return null;
  const figure = boundsOf(body);
  const own = boundsOf([part]);
  const outside = [0, 1, 2].some((k) => {
    const middle = (figure.lo[k]! + figure.hi[k]!) / 2;
    const half = ((figure.hi[k]! - figure.lo[k]!) / 2) * ROOM;
    return own.lo[k]! < middle - half || own.hi[k]! > middle + half;
  });
  return outside ? "reaches outside the figure's surroundings" : null;
}

/** Helper geometry, parts without a name, parts far off the figure. */
export const partsUnplaced = check({
  id: "parts.unplaced",
  title: "Parts that do not belong to the figure",
  station: "intake",
  unit: "parts",
  measures: "helper geometry, parts without a name, parts outside the body's bounds x 1.5",
  severity: "warn",
  limits: {},
  limitWords: "0",
  source: "our own choice: bounds of the body times 1.5",
  mend: { says: (f) => `Leaves out ${f.part}.`, apply: (c, f) => removePart(c, f.part!) },
  run: (character) =>
    character.parts.flatMap((part) => {
      const why = whyUnplaced(character, part);
      return why
        ? [
            finding({
              check: "parts.unplaced",
              severity: "warn",
              part: part.name,
              value: 1,
              unit: "parts",
              limit: 0,
              message: `${part.name || "A part"} ${why}; leave it out or name it for what it is.`,
            }),
          ]
        : [];
    }),
});

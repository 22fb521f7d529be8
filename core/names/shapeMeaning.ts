import { splitWords } from "./nameWords";

/** What a shape's name says it is, in the words of the published systems. */
export type ShapeMeaning =
  | { readonly system: "unit"; readonly unit: number; readonly side: "left" | "right" | null }
  | { readonly system: "viseme"; readonly viseme: number }
  | { readonly system: "expression"; readonly name: string }
  | { readonly system: "preset"; readonly name: string };

/** Expressions of MPEG-4 (ISO/IEC 14496-2, `expression_select` 1 to 6). */
export const MPEG4_EXPRESSIONS = ["joy", "sadness", "anger", "fear", "disgust", "surprise"] as const;
/** Expression presets of VRM 1.0 (VRMC_vrm specification). `neutral` is the face at rest. */
export const VRM_PRESETS = [
  "happy",
  "angry",
  "sad",
  "relaxed",
  "surprised",
  "aa",
  "ih",
  "ou",
  "ee",
  "oh",
  "blink",
  "blinkLeft",
  "blinkRight",
  "lookUp",
  "lookDown",
  "lookLeft",
  "lookRight",
  "neutral",
] as const;

const SIDES: Readonly<Record<string, "left" | "right">> = { left: "left", l: "left", right: "right", r: "right" };

/**
 * Reads an action unit ("AU12_left", "au 12 L"), a viseme by number ("viseme_1"), an expression or a preset from a
 * name; null for any other name. Helpers of a unit are not the unit.
 */
export function shapeMeaning(name: string): ShapeMeaning | null {
  const found = known.get(name);
  if (found !== undefined) return found;
  if (known.size >= MOST_KNOWN) known.clear();
  const made = readMeaning(name);
  known.set(name, made);
  return made;
}

/** Meanings of the names that were asked last: checks ask for the same few hundred again and again. */
const known = new Map<string, ShapeMeaning | null>();
const MOST_KNOWN = 5000;

function readMeaning(name: string): ShapeMeaning | null {
  const words = splitWords(name);
  const key = words.join("");
  const preset = VRM_PRESETS.find((p) => p.toLowerCase() === key);
  if (preset) return { system: "preset", name: preset };
  const expression = MPEG4_EXPRESSIONS.find((e) => e === key);
  if (expression) return { system: "expression", name: expression };
  const number = Number(words[1]);
  if (!Number.isInteger(number) || words[1] === "") return null;
  if (words[0] === "viseme" && words.length === 2 && number >= 1 && number <= 14)
    return { system: "viseme", viseme: number };
  const side = words[2] === undefined ? null : SIDES[words[2]];
  if (words[0] === "au" && words.length <= 3 && side !== undefined) return { system: "unit", unit: number, side };
  return null;
}

/** Whether a shape by its meaning shuts the eye of a side. */
export function shutsEye(meaning: ShapeMeaning | null, side: "left" | "right"): boolean {
  if (meaning?.system === "unit")
    return (meaning.unit === 43 || meaning.unit === 45) && (meaning.side === null || meaning.side === side);
  return (
    meaning?.system === "preset" &&
    (meaning.name === "blink" || meaning.name === (side === "left" ? "blinkLeft" : "blinkRight"))
  );
}

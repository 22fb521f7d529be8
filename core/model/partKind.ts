import { splitWords } from "../names/nameWords";
import type { PartKind } from "./character";

const KIND_WORDS: readonly (readonly [PartKind, readonly string[]])[] = [
  ["lash", ["lash", "lashes", "eyelash", "eyelashes"]],
  ["tear line", ["tear", "tearline", "tears", "wetness"]],
  ["brow", ["brow", "brows", "eyebrow", "eyebrows"]],
  ["eye", ["eye", "eyes", "eyeball", "eyeballs", "cornea", "iris", "sclera"]],
  ["teeth", ["teeth", "tooth", "gum", "gums", "denture"]],
  ["tongue", ["tongue"]],
  ["hair", ["hair", "bun", "fringe", "beard", "moustache", "ponytail", "scalp"]],
  [
    "garment",
    [
      "shirt",
      "top",
      "trousers",
      "pants",
      "cap",
      "hat",
      "shoe",
      "shoes",
      "boot",
      "boots",
      "coat",
      "jacket",
      "dress",
      "skirt",
      "sock",
      "socks",
      "glove",
      "gloves",
      "garment",
      "cloth",
      "clothes",
      "sweater",
      "belt",
      "scarf",
      "overalls",
    ],
  ],
  ["body", ["body", "skin", "face", "head", "torso", "character"]],
];

const CORNER_OF_EYE = [
  "duct",
  "ducts",
  "tearduct",
  "tearducts",
  "caruncle",
  "caruncles",
  "caruncula",
  "lacrimal",
  "lachrymal",
  "punctum",
];

/** Reads a part's kind off the words of its name (then of its materials); "other" when none speaks. */
export function guessPartKind(name: string, materialNames: readonly string[]): PartKind {
  for (const source of [name, ...materialNames]) {
    const words = splitWords(source);
    // the flesh in the corner of the eye is opaque skin and no line of tears
    if (words.some((w) => CORNER_OF_EYE.includes(w))) return "other";
    for (const [kind, vocabulary] of KIND_WORDS) if (words.some((w) => vocabulary.includes(w))) return kind;
  }
  return "other";
}

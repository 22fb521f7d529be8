import { imageSize } from "../../formats/imageSize";
import type { Character } from "../../model/character";
import { splitWords } from "../../names/nameWords";
import { readTextureName, type TextureUse } from "../../names/textureWords";

/** An image that came by itself: what it is taken for, and for which material. */
export interface TextureMatch {
  readonly file: string;
  readonly use: TextureUse | null;
  /** Name of a material, or null where no word speaks for one. */
  readonly material: string | null;
  /** Why it is proposed so, or why it is left out. */
  readonly why: string;
  readonly width: number;
  readonly height: number;
}

export interface TextureMatches {
  readonly matches: readonly TextureMatch[];
  readonly refused: readonly { readonly file: string; readonly why: string }[];
}

/** Words that speak of the same thing on a figure. Common practice, no source. */
const ALIKE: readonly (readonly string[])[] = [
  ["skin", "body", "face", "head"],
  ["lash", "lashe", "eyelash", "eyelashe"],
  ["brow", "eyebrow"],
  ["eye", "iri", "iris", "eyeball", "sclera", "cornea"],
  ["tooth", "teeth", "gum"],
  ["top", "shirt", "blouse", "jacket", "coat", "upper"],
  ["trouser", "pant", "jean", "bottom", "lower"],
  ["shoe", "boot", "foot"],
  ["cap", "hat", "beanie"],
  ["cloth", "garment", "outfit", "clothe", "clothing"],
];
const AS = new Map(ALIKE.flatMap((list) => list.map((w) => [w, list[0]!] as const)));
const same = (word: string): string => {
  const one = word.length > 3 ? word.replace(/s$/, "") : word;
  return AS.get(one) ?? one;
};
const wordsOf = (name: string): string[] => splitWords(name).filter((w) => !/^\d+$/.test(w) && w !== "mat");

interface Known {
  readonly name: string;
  /** Words of its own name as they stand, and all that speak for it, alike words as one. */
  readonly own: ReadonlySet<string>;
  readonly all: ReadonlySet<string>;
  readonly ownAlike: ReadonlySet<string>;
}

/**
 * Proposes for each image what it is for and which material it belongs to, by the words of its name against those of
 * materials and of the parts that use them; with one material it is that one. Words that every file has say nothing.
 * Of two files for one place the larger is taken. Files that are no PNG or JPEG are refused.
 */
export function matchTextures(
  character: Character,
  files: readonly { readonly name: string; readonly bytes: Uint8Array }[],
): TextureMatches {
  const refused: { file: string; why: string }[] = [];
  const read = files.flatMap(({ name, bytes }) => {
    const size = imageSize(bytes);
    if (!size) refused.push({ file: name, why: "It is neither PNG nor JPEG. Save it as one of them." });
    return size ? [{ name, size, reading: readTextureName(name) }] : [];
  });
  const shared = sharedWords(read.map((r) => r.reading.rest));
  const known = knownMaterials(character);
  const matches = read.map(({ name, size, reading }): TextureMatch => {
    const words = reading.rest.filter((w) => !shared.has(w));
    const found = known.length === 1 ? { name: known[0]!.name, why: "the only material" } : materialBy(words, known);
    const why = reading.use
      ? (found?.why ?? (words.length ? `nothing here is called ${words.join(" ")}` : "no word says what it lies on"))
      : reading.other
        ? `a ${reading.other} map has no place in a glTF material`
        : "no word says what it is for";
    return { file: name, use: reading.use, material: found?.name ?? null, why, ...size };
  });
  return {
    matches: oneAPlace(
      matches,
      read.map((r) => r.reading.tile),
    ),
    refused,
  };
}

/** Words that all of several names have. */
function sharedWords(lists: readonly (readonly string[])[]): Set<string> {
  if (lists.length < 3) return new Set();
  const everywhere = (lists[0] ?? []).filter((w) => lists.every((l) => l.includes(w)));
  return new Set(everywhere);
}

function knownMaterials({ materials, parts }: Character): Known[] {
  return materials.map(({ name }, m) => {
    const users = parts.filter((p) => p.groups.some((g) => g.material === m));
    const own = wordsOf(name);
    return {
      name,
      own: new Set(own),
      ownAlike: new Set(own.map(same)),
      all: new Set([...own, ...users.flatMap((p) => [...wordsOf(p.name), ...wordsOf(p.kind)])].map(same)),
    };
  });
}

/** The material that most of the words speak for; null where none does. */
function materialBy(words: readonly string[], known: readonly Known[]): { name: string; why: string } | null {
  let best: { name: string; why: string; score: number } | null = null;
  for (const { name, own, ownAlike, all } of known) {
    const exact = words.filter((w) => own.has(w));
    const alike = words.filter((w) => ownAlike.has(same(w)));
    const near = words.filter((w) => all.has(same(w)));
    if (!near.length) continue;
    const score =
      3 * (exact.length / own.size) + 2 * (alike.length / ownAlike.size) + (exact.length + near.length) / words.length;
    const said = [...new Set(exact.length ? exact : alike.length ? alike : near)].join(" ");
    if (!best || score > best.score) best = { name, why: `"${said}" speaks for ${name}`, score };
  }
  return best;
}

/** Of several files for one place of one material only one is kept: the first tile, else the largest. */
function oneAPlace(matches: readonly TextureMatch[], tiles: readonly (number | null)[]): TextureMatch[] {
  const place = ({ use, material }: TextureMatch): string | null =>
    use && material ? `${material} ${use.replace(", green down", "")}` : null;
  return matches.map((m, i) => {
    const at = place(m);
    if (!at) return m;
    const rank = (k: number): number => 1e9 * (tiles[k] ?? 0) - matches[k]!.width * matches[k]!.height;
    const rival = matches.findIndex(
      (o, k) => k !== i && place(o) === at && (rank(k) < rank(i) || (rank(k) === rank(i) && k < i)),
    );
    if (rival < 0) return m;
    const tiled = tiles[i] !== null && tiles[rival] !== null;
    return {
      ...m,
      use: null,
      why: tiled
        ? `a surface over several images is not read: ${matches[rival]!.file} is taken`
        : `${matches[rival]!.file} is taken for this place`,
    };
  });
}

import { sharedPrefix, splitWords } from "./nameWords";

/**
 * What each name of one list is called in another: the same name first, else the only one of the same words after what
 * all names of a list begin with. Names without a match are left out.
 */
export function matchByWords(from: readonly string[], to: readonly string[]): Map<string, string> {
  const out = new Map<string, string>();
  const there = new Set(to);
  for (const name of from) if (there.has(name)) out.set(name, name);
  const bare = (name: string): string => name.replace(/^.*[:|]/, "");
  const key = (names: readonly string[]): ((name: string) => string) => {
    const skip = sharedPrefix(names.map(bare));
    return (name) => splitWords(bare(name)).slice(skip).join(" ");
  };
  const [keyFrom, keyTo] = [key(from), key(to)];
  const known = new Map<string, string[]>();
  for (const name of to) known.set(keyTo(name), [...(known.get(keyTo(name)) ?? []), name]);
  for (const name of from) {
    const found = known.get(keyFrom(name));
    if (!out.has(name) && found?.length === 1) out.set(name, found[0]!);
  }
  return out;
}

/**
 * The same for a few names out of a long list, whose own beginning cannot be told: a name that ends in the same words
 * is taken where only one does.
 * @param few names, of which not all may be there.
 */
export function matchFewByWords(few: readonly string[], to: readonly string[]): Map<string, string> {
  const out = matchByWords(few, to);
  const words = to.map((name) => [name, splitWords(name).join(" ")] as const);
  for (const name of few) {
    if (out.has(name)) continue;
    const own = splitWords(name).join(" ");
    const found = own ? words.filter(([, w]) => w === own || w.endsWith(` ${own}`) || own.endsWith(` ${w}`)) : [];
    if (found.length === 1) out.set(name, found[0]![0]);
  }
  return out;
}

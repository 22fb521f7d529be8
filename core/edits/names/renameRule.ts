import { UserError } from "../../model/userError";
import { splitWords } from "../../names/nameWords";

export const RENAME_MANNERS = ["text", "wildcard", "expression"] as const;
export const SEPARATORS = ["as it is", "_", ".", "-", "none"] as const;

/**
 * How names are to change: first what is found is replaced, then words are set apart anew, then something is put in
 * front. Everything left empty changes nothing.
 */
export interface RenameRule {
  readonly find: string;
  readonly replace: string;
  /**
   * text: wherever it stands. wildcard: the whole name, * for any run and ? for any one character, $1, $2 for what they
   * stood for. expression: a regular expression.
   */
  readonly manner: (typeof RENAME_MANNERS)[number];
  readonly separator: (typeof SEPARATORS)[number];
  readonly front: string;
}
export const NO_RENAMING: RenameRule = { find: "", replace: "", manner: "text", separator: "as it is", front: "" };

export interface Renaming {
  readonly from: string;
  readonly to: string;
  /** Why it cannot be; "" when it can. */
  readonly refused: string;
}

/**
 * The names that a rule changes, each with what it becomes; collisions with each other and with names that stay are
 * told. @throws UserError for an expression that is none.
 */
export function renamings(names: readonly string[], rule: RenameRule): Renaming[] {
  const change = changeOf(rule);
  const after = names.map(change);
  const count = new Map<string, number>();
  for (const name of after) count.set(name, (count.get(name) ?? 0) + 1);
  return names.flatMap((from, i): Renaming[] => {
    const to = after[i]!;
    if (to === from) return [];
    return [{ from, to, refused: refusalOf(to, count.get(to)!) }];
  });
}
const MOST = 200;

/** Why a name cannot be given; empty where it can. @param count how many would have it. */
function refusalOf(name: string, count: number): string {
  if (!name.trim()) return "no name is left";
  if (name.length > MOST) return `longer than ${MOST} characters`;
  return count > 1 ? "another has this name" : "";
}

function changeOf({ find, replace, manner, separator, front }: RenameRule): (name: string) => string {
  const found = find === "" ? null : patternOf(find, manner);
  return (name) => {
    let now = name;
    if (found) now = manner === "text" ? now.split(find).join(replace) : now.replace(found, replace);
    if (separator !== "as it is") now = setApart(now, separator);
    return front && !now.startsWith(front) ? front + now : now;
  };
}

function patternOf(find: string, manner: RenameRule["manner"]): RegExp {
  if (manner === "wildcard")
    return new RegExp(
      `^${find
        .replace(/[.+^${}()|[\]\\]/g, "\\$&")
        .replace(/\*/g, "(.*)")
        .replace(/\?/g, "(.)")}$`,
      "u",
    );
  if (manner === "text") return new RegExp(find.replace(/[.*+?^${}()|[\]\\]/g, "\\$&"), "gu");
  try {
    return new RegExp(find, "gu");
  } catch (error) {
    throw new UserError(
      `This is no regular expression: ${error instanceof Error ? error.message.replace(/^.*: /, "") : ""}.`,
      "find",
      "Put a backslash before brackets and dots that are meant as such.",
    );
  }
}

/**
 * Words of a name with a separator between; with none each but the first begins with a capital. What stands before a
 * colon or bar stays.
 */
function setApart(name: string, separator: RenameRule["separator"]): string {
  const space = /^.*[:|]/.exec(name)?.[0] ?? "";
  const words = splitWords(name.slice(space.length));
  const cased =
    name
      .slice(space.length)
      .split(/[^A-Za-z0-9]+/)
      .join("").length === words.join("").length
      ? wordsAsWritten(name.slice(space.length), words)
      : words;
  if (separator === "none")
    return space + cased.map((w, i) => (i === 0 ? w : w[0]!.toUpperCase() + w.slice(1))).join("");
  return space + cased.join(separator);
}

/** The words in the capitals they were written in. */
function wordsAsWritten(name: string, words: readonly string[]): string[] {
  const bare = name.replace(/[^A-Za-z0-9]+/g, "");
  let at = 0;
  return words.map((w) => bare.slice(at, (at += w.length)));
}

import { shortName, UserError } from "../../model/userError";
import { decodeText } from "../decodeText";
import type { TextGridTier } from "./writeTextGrid";

/** So many intervals are read at most, over all tiers. */
const MOST = 100_000;

/**
 * Interval tiers of a Praat TextGrid, long or short form, UTF-8 or UTF-16 (Praat manual, "TextGrid file formats": both
 * forms hold the same values in the same order, with other words between them; from memory). Tiers of points are left.
 * @throws UserError for what is no TextGrid or is cut short.
 */
export function readTextGrid(bytes: Uint8Array, file: string): TextGridTier[] {
  const text = decodeText(bytes).replace(/\[\d*\]/g, " ");
  const tokens = [...text.matchAll(/"((?:[^"]|"")*)"|<\w+>|(?<![\w.])-?\d+(?:\.\d+)?(?:[eE][-+]?\d+)?(?![\w.])/g)];
  let at = 0;
  const refuse = (what: string): never => {
    throw new UserError(what, file, "Save it from Praat as a TextGrid once more.");
  };
  const next = (): RegExpMatchArray => tokens[at++] ?? refuse("It ends too early.");
  const word = (): string => {
    const t = next();
    return t[1] === undefined ? refuse(`"${shortName(t[0])}" stands where a text should.`) : t[1].replaceAll('""', '"');
  };
  const number = (): number => {
    const t = next();
    const value = t[1] === undefined ? Number(t[0]) : NaN;
    return Number.isFinite(value) ? value : refuse(`"${shortName(t[0])}" stands where a number should.`);
  };
  const count = (): number => {
    const n = number();
    return Number.isInteger(n) && n >= 0 && n <= MOST ? n : refuse(`${n} is no number of tiers or intervals here.`);
  };
  if (tokens[0]?.[1] !== "ooTextFile" || tokens[1]?.[1] !== "TextGrid") refuse("This is not a TextGrid.");
  at = 2;
  number();
  number();
  if (next()[0] !== "<exists>") return [];
  const tiers: TextGridTier[] = [];
  for (let n = count(); n > 0; n--) {
    const kind = word();
    const name = word();
    number();
    number();
    const intervals: { from: number; to: number; text: string }[] = [];
    for (let k = count(); k > 0; k--) {
      const from = number();
      if (kind === "IntervalTier") intervals.push({ from, to: number(), text: word() });
      else word();
    }
    if (kind === "IntervalTier") tiers.push({ name, intervals });
  }
  return tiers;
}

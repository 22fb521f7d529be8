import { decodeText } from "../formats/decodeText";
import { readTextGrid } from "../formats/textgrid/readTextGrid";
import type { TextGridTier } from "../formats/textgrid/writeTextGrid";
import { shortName, UserError } from "../model/userError";
import { isPhone, SILENCE, type Phone, type SpokenLine, type SpokenWord } from "./phones";

/** What aligners write for silence (several programs share these). */
const SILENT = new Set(["", "sil", "sp", "spn", "pau", "<eps>", "_"]);
/** Intervals may miss each other by rounding, seconds. */
const ROUNDING = 0.0015;
/** Longest line, seconds. */
const MOST_SECONDS = 600;

type Interval = TextGridTier["intervals"][number];

/** A phone by its label; stress digits go into the stress. @throws UserError for one that is not ARPAbet. */
function phoneOf({ from, to, text }: Interval, place: string): Phone {
  const label = text.trim();
  if (SILENT.has(label.toLowerCase())) return { phone: SILENCE, from, to, stress: 0 };
  const [, phone, digit] = /^([A-Za-z]+)([012])?$/.exec(label) ?? [];
  const name = phone?.toUpperCase() ?? "";
  if (!isPhone(name))
    throw new UserError(
      `"${shortName(label)}" at ${from.toFixed(2)} s is no phone of ARPAbet.`,
      place,
      "Name the phones as the CMU dictionary does: AA AE AH ... ZH.",
    );
  // without digits nothing is known of stress: every vowel is spoken in full
  return { phone: name, from, to, stress: digit === "0" ? 0 : digit === "2" ? 2 : 1 };
}

/** Phones one after another: gaps become silence. @throws UserError where they overlap or go back. */
function line(phones: readonly Phone[], words: readonly SpokenWord[], place: string): SpokenLine {
  if (!phones.some((p) => p.phone !== SILENCE))
    throw new UserError("Nothing is said in it.", place, "Give it a tier of phones.");
  const out: Phone[] = [];
  let t = 0;
  for (const p of phones) {
    if (!(p.to > p.from) || p.from < t - ROUNDING)
      throw new UserError(
        `The phone ${p.phone} from ${p.from.toFixed(3)} to ${p.to.toFixed(3)} s overlaps the one before it.`,
        place,
        "Let each phone begin where the last ends.",
      );
    if (p.from > t + ROUNDING) out.push({ phone: SILENCE, from: t, to: p.from, stress: 0 });
    out.push({ ...p, from: out.length ? out[out.length - 1]!.to : t });
    t = p.to;
  }
  if (t > MOST_SECONDS)
    throw new UserError(`It lasts ${Math.round(t)} s; up to ${MOST_SECONDS} s are read.`, place, "Cut it into lines.");
  return { seconds: t, words, phones: out };
}

/** A line of a TextGrid: its tier of phones, and of words where there is one. */
export function lineOfTextGrid(bytes: Uint8Array, file: string): SpokenLine {
  const tiers = readTextGrid(bytes, file);
  const spoken = (t: TextGridTier): boolean =>
    t.intervals.some((i) => !SILENT.has(i.text.trim().toLowerCase())) &&
    t.intervals.every(
      (i) =>
        SILENT.has(i.text.trim().toLowerCase()) ||
        isPhone(
          i.text
            .trim()
            .toUpperCase()
            .replace(/[012]$/, ""),
        ),
    );
  const phones = tiers.find((t) => /phon|segment/i.test(t.name)) ?? tiers.find(spoken);
  if (!phones)
    throw new UserError(
      tiers.length
        ? `None of its tiers (${tiers.map((t) => shortName(t.name)).join(", ")}) holds phones.`
        : "It has no tier of intervals.",
      file,
      "Give it a tier named phones, with ARPAbet.",
    );
  const words = tiers.find((t) => t !== phones && /word/i.test(t.name))?.intervals ?? [];
  return line(
    phones.intervals.map((i) => phoneOf(i, `${file}, tier ${shortName(phones.name)}`)),
    words.filter((w) => w.text.trim() !== ""),
    file,
  );
}

/** A line of a table: phone, from, to; seconds, a row a phone, with or without a heading. */
export function lineOfCsv(bytes: Uint8Array, file: string): SpokenLine {
  const rows = decodeText(bytes)
    .split(/\r?\n/)
    .map((row, i) => ({ cells: row.split(/[,;\t]/).map((c) => c.trim().replace(/^"|"$/g, "")), row: i + 1 }))
    .filter(({ cells }) => cells.some(Boolean));
  const heading = rows[0] && !Number.isFinite(Number(rows[0].cells[1] || "x"));
  const phones = rows.slice(heading ? 1 : 0).map(({ cells, row }) => {
    const [text = "", from = "", to = ""] = cells;
    const [a, b] = [from, to].map((c) => (c === "" ? NaN : Number(c)));
    if (!Number.isFinite(a) || !Number.isFinite(b))
      throw new UserError(`Row ${row} has no two times.`, file, "Write phone, from, to in each row, in seconds.");
    return phoneOf({ from: a!, to: b!, text }, `${file}, row ${row}`);
  });
  return line(phones, [], file);
}

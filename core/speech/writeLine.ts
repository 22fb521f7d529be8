import { writeTextGrid } from "../formats/textgrid/writeTextGrid";
import { SILENCE, visemeOf, type SpokenLine } from "./phones";

type Interval = { from: number; to: number; text: string };

/** Stretches with what lies between them, so that a tier has no gap and ends with the line. */
function filled(list: readonly Interval[], end: number): Interval[] {
  const out: Interval[] = [];
  let t = 0;
  for (const w of list) {
    if (w.from > t + 1e-6) out.push({ from: t, to: w.from, text: "" });
    out.push({ from: out.length ? out[out.length - 1]!.to : w.from, to: w.to, text: w.text });
    t = w.to;
  }
  if (end > t + 1e-6) out.push({ from: t, to: end, text: "" });
  return out;
}

const digitOf = (stress: number, phone: string): string => (/^[AEIOU]/.test(phone) ? `${phone}${stress}` : phone);

/** A line as a TextGrid with its words and phones, vowels with their stress. */
export const textGridOfLine = ({ words, phones, seconds }: SpokenLine): string =>
  writeTextGrid([
    {
      name: "words",
      intervals: filled(
        words.map(({ from, to, text }) => ({ from, to, text })),
        seconds,
      ),
    },
    {
      name: "phones",
      intervals: filled(
        phones.map((p) => ({ from: p.from, to: p.to, text: p.phone === SILENCE ? "" : digitOf(p.stress, p.phone) })),
        seconds,
      ),
    },
  ]);

/** A line as a table of phones: phone, from, to, viseme; seconds. */
export const phonesTable = ({ phones }: SpokenLine): string =>
  `phone,from,to,viseme\n${phones
    .map((p) => [digitOf(p.stress, p.phone), p.from.toFixed(4), p.to.toFixed(4), visemeOf(p.phone)].join(","))
    .join("\n")}\n`;

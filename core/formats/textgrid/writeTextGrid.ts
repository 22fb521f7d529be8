import { UserError } from "../../model/userError";

export interface TextGridTier {
  readonly name: string;
  /** Seconds, one after the other without gaps. */
  readonly intervals: readonly { readonly from: number; readonly to: number; readonly text: string }[];
}

/**
 * Interval tiers as a Praat TextGrid in the long text form, UTF-8 (Praat manual, "TextGrid file formats", from memory).
 * @throws UserError when a tier has no interval, a gap or an overlap, or when tiers end at different times.
 */
export function writeTextGrid(tiers: readonly TextGridTier[]): string {
  const end = tiers[0]?.intervals.at(-1)?.to ?? 0;
  for (const { name, intervals } of tiers) {
    if (!intervals.length)
      throw new UserError(`Tier ${name} has no interval.`, name, "Give it one interval over the whole line at least.");
    intervals.forEach((interval, i) => {
      if (interval.from !== (i === 0 ? 0 : intervals[i - 1]!.to) || interval.to <= interval.from)
        throw new UserError(
          `Interval ${i + 1} of tier ${name} does not follow on the one before it.`,
          name,
          "Intervals must follow each other without gaps.",
        );
    });
    if (intervals.at(-1)!.to !== end)
      throw new UserError(
        `Tier ${name} ends at ${intervals.at(-1)!.to} s, the first tier at ${end} s.`,
        name,
        "Let all tiers end together.",
      );
  }
  const lines = [
    'File type = "ooTextFile"',
    'Object class = "TextGrid"',
    "",
    "xmin = 0",
    `xmax = ${end}`,
    "tiers? <exists>",
    `size = ${tiers.length}`,
    "item []:",
  ];
  tiers.forEach(({ name, intervals }, t) => {
    lines.push(
      `    item [${t + 1}]:`,
      '        class = "IntervalTier"',
      `        name = "${quoted(name)}"`,
      "        xmin = 0",
      `        xmax = ${end}`,
      `        intervals: size = ${intervals.length}`,
    );
    intervals.forEach(({ from, to, text }, i) =>
      lines.push(
        `        intervals [${i + 1}]:`,
        `            xmin = ${from}`,
        `            xmax = ${to}`,
        `            text = "${quoted(text)}"`,
      ),
    );
  });
  return `${lines.join("\n")}\n`;
}

/** A quotation mark inside a text is doubled. */
const quoted = (text: string): string => text.replaceAll('"', '""');

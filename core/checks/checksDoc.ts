import { PROFILE_NAMES, type CheckEntry, type Limit, type Span } from "./check";
import { CHECK_ENTRIES } from "./entries";
import { PROFILES } from "./profile";

const INTRO = `# Checks

Each check is one file in \`core/checks/\`; this page is written from them by \`npm run docs\`. A finding names part,
joint or shape, up to 200 vertices (worst first), the value, its unit, the limit, and a sentence that says what to do.
Severity: \`error\` the character will visibly break, \`warn\`, \`note\`; the table names the severest that a check
gives. The same character and profile always give the same findings in the same order. Where one click mends a finding,
the last column says so.
`;

const AFTER = `
The \`pose.*\` checks run on sweeps, \`pair.*\` and the \`face.*\` checks again on pairs: the Trials station, or
\`yxomorph sweep\` and \`yxomorph pairs\`. Ranges of motion follow AAOS (Greene & Heckman 1994), from memory; while a
thigh is drawn in the other leg stands aside, as it does for an examiner. Lips, lids, eyes left open, teeth and tongue are
read in a pair by the checks of shapes, beyond what either does alone; combinations that answer the pair act.

Two trials have limits of their own. Cloth: skin that a garment covers at rest (within 30 mm, straight above) and that
stands out of it at an angle, 5 mm. Walk: edges of any bound part that grow, at both ends of every motion; listed from 12
mm and 2.5 times their length on, torn from 50 mm. Both are our own choice.

## Profiles

\`film\`, \`realtime\` and \`crowd\` are shipped; \`--profile path.json\` takes one of your own. \`null\` turns a limit
off, \`off\` lists checks that are not run. A limit that a profile of your own leaves out is that of \`film\`.
`;

const number = (x: number): string => (Math.abs(x) >= 10_000 ? x.toLocaleString("en").replaceAll(",", " ") : String(x));
const valueWords = (value: number | Span | null): string => {
  if (value === null) return "none";
  return typeof value === "number" ? number(value) : `${number(value[0])} to ${number(value[1])}`;
};

/** A limit as a cell: one value, or one for each profile. */
function limitCell({ values }: Limit<number | Span | null>): string {
  const words = PROFILE_NAMES.map((name) => valueWords(values[name]));
  return new Set(words).size === 1 ? words[0]! : PROFILE_NAMES.map((name, i) => `${name} ${words[i]}`).join(", ");
}

const limitWords = ({ limits, limitWords: words, unit }: CheckEntry): string => {
  const all = Object.entries(limits);
  if (all.length === 0) return words ?? "0";
  if (all.length === 1) return `${limitCell(all[0]![1])} ${unit}`.trim();
  return all.map(([key, limit]) => `${limitCell(limit)} (${key.split(".").at(-1)})`).join("; ");
};
const row = (cells: readonly string[]): string => `| ${cells.map((c) => c.replaceAll("|", "\\|")).join(" | ")} |`;

/** docs/checks.md as the checks have it. */
export function checksDoc(): string {
  const table = [
    row(["id", "what it measures", "limit", "severity", "source", "one click"]),
    "|---|---|---|---|---|---|",
    ...CHECK_ENTRIES.map((c) => row([c.id, c.measures, limitWords(c), c.severity, c.source, c.mend ? "mends it" : ""])),
  ];
  const own = JSON.stringify({ name: "our game", limits: PROFILES.realtime.limits, off: [] }, null, 2).replace(
    /\[\s+(-?[\d.]+),\s+(-?[\d.]+)\s+\]/g,
    "[$1, $2]",
  );
  return `${INTRO}\n${table.join("\n")}\n${AFTER}\n\`\`\`json\n${own}\n\`\`\`\n`;
}

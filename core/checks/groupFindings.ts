import type { Finding, Severity } from "./finding";

/** Findings of one check and severity that are told as one: one cause, or many places of one kind. */
export interface FindingGroup {
  readonly key: string;
  readonly check: string;
  readonly severity: Severity;
  /** Worst first. */
  readonly findings: readonly Finding[];
  /** What is wrong with all of them, as one sentence. */
  readonly sentence: string;
}

/** So many findings of one check become one row. */
const MANY = 4;

/** Checks whose findings have one cause, from two on, with the cause as a sentence. */
const CAUSES: Readonly<Record<string, (findings: readonly Finding[]) => string>> = {
  "skeleton.rest-bind": (all) => {
    const stances = all.map((f) => /the skeleton stands .* \(.*\)/.exec(f.message)?.[0]).find(Boolean);
    const worst = all.reduce((most, f) => (f.unit === "deg" && (f.value ?? 0) > most ? f.value! : most), 0);
    return (
      `${all.length} joints rest elsewhere than they were ` +
      `bound${worst ? `, by up to ${worst.toFixed(0)} degrees` : ""}${stances ? `: ${stances.replace(/ \(.*\)$/, "")}` : ""}.`
    );
  },
};

const isGroup = (x: Finding | FindingGroup): x is FindingGroup => "findings" in x;
export const groupOf = (x: Finding | FindingGroup): FindingGroup | null => (isGroup(x) ? x : null);

/**
 * Findings with those of one cause or kind drawn together at the place of the worst of them. @param titleOf a check's
 * title.
 */
export function groupFindings(
  findings: readonly Finding[],
  titleOf: (check: string) => string,
): (Finding | FindingGroup)[] {
  const kinds = new Map<string, Finding[]>();
  for (const f of findings)
    kinds.set(`${f.check} ${f.severity}`, [...(kinds.get(`${f.check} ${f.severity}`) ?? []), f]);
  const told = new Set<string>();
  return findings.flatMap((f): (Finding | FindingGroup)[] => {
    const kind = `${f.check} ${f.severity}`;
    const all = kinds.get(kind)!;
    const cause = CAUSES[f.check];
    if (all.length < (cause ? 2 : MANY)) return [f];
    if (told.has(kind)) return [];
    told.add(kind);
    return [
      {
        key: `all ${kind}`,
        check: f.check,
        severity: f.severity,
        findings: all,
        sentence: cause?.(all) ?? `${titleOf(f.check)}: ${all.length} places. Worst: ${f.message}`,
      },
    ];
  });
}

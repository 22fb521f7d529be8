import { entryOf } from "./entries";
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

const isGroup = (x: Finding | FindingGroup): x is FindingGroup => "findings" in x;
export const groupOf = (x: Finding | FindingGroup): FindingGroup | null => (isGroup(x) ? x : null);

/** Findings with those of one cause or kind drawn together at the place of the worst of them. */
export function groupFindings(findings: readonly Finding[]): (Finding | FindingGroup)[] {
  const kinds = new Map<string, Finding[]>();
  for (const f of findings)
    kinds.set(`${f.check} ${f.severity}`, [...(kinds.get(`${f.check} ${f.severity}`) ?? []), f]);
  const told = new Set<string>();
  return findings.flatMap((f): (Finding | FindingGroup)[] => {
    const kind = `${f.check} ${f.severity}`;
    const all = kinds.get(kind)!;
    const entry = entryOf(f.check);
    const cause = entry?.oneCause;
    if (all.length < (cause ? 2 : MANY)) return [f];
    if (told.has(kind)) return [];
    told.add(kind);
    return [
      {
        key: `all ${kind}`,
        check: f.check,
        severity: f.severity,
        findings: all,
        sentence: cause?.(all) ?? `${entry?.title ?? f.check}: ${all.length} places. Worst: ${f.message}`,
      },
    ];
  });
}

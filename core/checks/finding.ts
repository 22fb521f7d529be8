export const SEVERITIES = ["error", "warn", "note"] as const;
export type Severity = (typeof SEVERITIES)[number];

/** One fault with its place, its measure against the limit, and what to do. */
export interface Finding {
  check: string;
  severity: Severity;
  part: string | null;
  joint: string | null;
  shape: string | null;
  pair: [string, string] | null;
  clip: string | null;
  /** Up to 200 vertices of the part, worst first. */
  vertices: number[];
  value: number | null;
  unit: string;
  limit: number | null;
  message: string;
}

export const MAX_FINDING_VERTICES = 200;

/** A finding with everything empty but what is given; vertices cut to the limit. */
export function finding(fields: Pick<Finding, "check" | "severity" | "message" | "unit"> & Partial<Finding>): Finding {
  return {
    part: null,
    joint: null,
    shape: null,
    pair: null,
    clip: null,
    value: null,
    limit: null,
    ...fields,
    vertices: (fields.vertices ?? []).slice(0, MAX_FINDING_VERTICES),
  };
}

const RANK: Record<Severity, number> = { error: 0, warn: 1, note: 2 };
const over = (f: Finding): number => (f.value === null || !f.limit ? (f.value ?? 0) : Math.abs(f.value / f.limit));
/** Worst first; ties by check, part, joint, shape. */
export const compareFindings = (a: Finding, b: Finding): number =>
  RANK[a.severity] - RANK[b.severity] ||
  a.check.localeCompare(b.check) ||
  over(b) - over(a) ||
  (a.part ?? "").localeCompare(b.part ?? "") ||
  (a.joint ?? "").localeCompare(b.joint ?? "") ||
  (a.shape ?? "").localeCompare(b.shape ?? "") ||
  (a.clip ?? "").localeCompare(b.clip ?? "");

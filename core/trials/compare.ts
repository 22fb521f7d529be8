import type { Finding, Severity } from "../checks/finding";
import type { WatchMoment } from "./moments";

export type Change = "gone" | "new" | "better" | "worse" | "as before";
/** One check at one place, before and after. */
export interface CompareRow {
  readonly check: string;
  readonly place: string;
  readonly severity: Severity;
  readonly change: Change;
  readonly before: number | null;
  readonly after: number | null;
  readonly unit: string;
  /** Seconds of the trial where the worse of the two stands worst; null at rest. */
  readonly at: number | null;
}
export interface Compared {
  readonly rows: readonly CompareRow[];
  readonly counts: Readonly<Record<Change, number>>;
}

interface Side {
  readonly check: string;
  readonly place: string;
  readonly severity: Severity;
  readonly value: number | null;
  readonly unit: string;
  readonly at: number | null;
}

/** Values closer than this share of each other are the same. */
const SAME = 0.02;
const ORDER: readonly Change[] = ["new", "worse", "better", "gone", "as before"];

/** One row a check and place, what is new and worse first. */
function compareSides(before: readonly Side[], after: readonly Side[]): Compared {
  const worst = (sides: readonly Side[]): Map<string, Side> => {
    const out = new Map<string, Side>();
    for (const s of sides) {
      const key = `${s.check}|${s.place}|${s.unit}`;
      const known = out.get(key);
      if (!known || Math.abs(s.value ?? 0) > Math.abs(known.value ?? 0)) out.set(key, s);
    }
    return out;
  };
  const [a, b] = [worst(before), worst(after)];
  const rows = [...new Set([...a.keys(), ...b.keys()])].map((key): CompareRow => {
    const [x, y] = [a.get(key), b.get(key)];
    const shown = y ?? x!;
    return {
      check: shown.check,
      place: shown.place,
      severity: shown.severity,
      change: changeOf(x, y),
      before: x?.value ?? null,
      after: y?.value ?? null,
      unit: shown.unit,
      at: shown.at,
    };
  });
  rows.sort(
    (p, q) =>
      ORDER.indexOf(p.change) - ORDER.indexOf(q.change) ||
      p.check.localeCompare(q.check) ||
      p.place.localeCompare(q.place),
  );
  const counts = Object.fromEntries(ORDER.map((c) => [c, rows.filter((r) => r.change === c).length]));
  return { rows, counts: counts as Record<Change, number> };
}

function changeOf(x: Side | undefined, y: Side | undefined): Change {
  if (!x) return "new";
  if (!y) return "gone";
  const [p, q] = [Math.abs(x.value ?? 0), Math.abs(y.value ?? 0)];
  if (Math.abs(p - q) <= SAME * Math.max(p, q)) return "as before";
  return q > p ? "worse" : "better";
}

/** Findings at rest of two characters or versions. */
export const compareChecks = (before: readonly Finding[], after: readonly Finding[]): Compared => {
  const side = (f: Finding): Side => ({
    check: f.check,
    place: [f.part, f.joint, f.shape, f.pair?.join(" with "), f.clip].filter(Boolean).join(", "),
    severity: f.severity,
    value: f.value,
    unit: f.unit,
    at: null,
  });
  return compareSides(before.map(side), after.map(side));
};

/** Moments of one trial on two characters or versions. */
export const compareMoments = (before: readonly WatchMoment[], after: readonly WatchMoment[]): Compared => {
  const side = (m: WatchMoment): Side => ({
    check: m.check,
    place: m.place,
    severity: m.severity,
    value: m.value,
    unit: m.unit,
    at: m.worstAt,
  });
  return compareSides(before.map(side), after.map(side));
};

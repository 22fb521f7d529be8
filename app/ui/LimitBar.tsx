import type { ReactNode } from "react";

export type Verdict = "fine" | "warn" | "error";

export interface LimitBarProps {
  readonly value: number;
  /** Null: there is no limit, only a size. */
  readonly limit: number | null;
  /** The value in words and unit, as it should be read. */
  readonly text: string;
  readonly verdict?: Verdict;
  /** Value at the bar's right end; by default a little past twice the limit or the value. */
  readonly end?: number;
  readonly width?: number;
}

const COLOR: Record<Verdict, string> = { fine: "var(--accent)", warn: "var(--amber)", error: "var(--brick)" };
const WORD: Record<Verdict, string> = { fine: "within the limit", warn: "over the limit", error: "far over the limit" };

/** A measured value against its limit: a thin bar, a tick where the limit is, the number with its unit. */
export function LimitBar({ value, limit, text, verdict, end, width = 74 }: LimitBarProps): ReactNode {
  const size = Math.abs(value);
  const bound = limit === null ? null : Math.abs(limit);
  const judged = verdict ?? (bound === null || size <= bound ? "fine" : "warn");
  const full = end ?? (bound ? Math.max(1.9 * bound, 1.05 * size) : size || 1);
  return (
    <span className="limitbar" title={bound === null ? text : `${text}, limit ${limit}: ${WORD[judged]}`}>
      <span className="track" style={{ width }} aria-hidden>
        <span className="fill" style={{ width: `${Math.min(100, (100 * size) / full)}%`, background: COLOR[judged] }} />
        {bound !== null && bound <= full && <span className="tick" style={{ left: `${(100 * bound) / full}%` }} />}
      </span>
      <span className="text" style={judged === "fine" ? undefined : { color: COLOR[judged] }}>
        {text}
      </span>
    </span>
  );
}

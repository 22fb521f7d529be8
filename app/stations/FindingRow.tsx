import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState, type ReactNode } from "react";
import type { Finding } from "~core/checks/finding";
import { CHECK_FACTS } from "~core/checks/checkFacts";
import { Working } from "./Working";
import { LimitBar } from "../ui/LimitBar";
import { counted } from "../ui/counted";

export const SEVERITY_GLYPH = { error: "▲", warn: "◆", note: "○" } as const;
export const SEVERITY_WORD = { error: "error", warn: "warning", note: "note" } as const;
export const SEVERITY_COLOR = { error: "var(--brick)", warn: "var(--amber)", note: "var(--muted)" } as const;

const number = (x: number): string =>
  Math.abs(x) < 1e-6
    ? "0"
    : Math.abs(x) >= 1000
      ? Math.round(x).toLocaleString("en")
      : String(Number(x.toPrecision(3)));
export const findingKey = (f: Finding): string => [f.check, f.part, f.joint, f.shape, f.clip].join("|");

/** A key for each finding of a list; of those at one place all but the first have a number behind. */
export function findingKeys(findings: readonly Finding[]): string[] {
  const seen = new Map<string, number>();
  return findings.map((f) => {
    const key = findingKey(f);
    const n = (seen.get(key) ?? 0) + 1;
    seen.set(key, n);
    return n === 1 ? key : `${key}#${n}`;
  });
}

export interface FindingRowProps {
  readonly finding: Finding;
  readonly open: boolean;
  readonly onOpen: () => void;
  readonly onShow: () => void;
  /** What one click would do about it; null or absent where no repair is safe. */
  readonly mend?: string | null;
  readonly onMend?: () => Promise<unknown>;
  readonly onAccept?: (reason: string) => Promise<unknown>;
}

/** One finding: how bad, what and where, the value against its limit; opened, what to do about it. */
export function FindingRow({ finding, open, onOpen, onShow, mend, onMend, onAccept }: FindingRowProps): ReactNode {
  const [reason, setReason] = useState("");
  const [mending, setMending] = useState(false);
  const place = [finding.part, finding.joint, finding.shape, finding.clip].filter(Boolean).join(" · ");
  return (
    <div className={`row${open ? " open" : ""}`} data-finding={findingKey(finding)}>
      <button type="button" className="plain row-line" aria-expanded={open} onClick={onOpen}>
        <span style={{ color: SEVERITY_COLOR[finding.severity], width: 14 }} aria-hidden>
          {SEVERITY_GLYPH[finding.severity]}
        </span>
        <span className="mono nowrap" style={{ width: 58, color: SEVERITY_COLOR[finding.severity] }}>
          {SEVERITY_WORD[finding.severity]}
        </span>
        <span className="grow sentence">{finding.message}</span>
        {finding.value !== null && (
          <LimitBar
            value={finding.value}
            limit={finding.limit}
            text={finding.value === 1 ? counted(1, finding.unit) : `${number(finding.value)} ${finding.unit}`.trim()}
            verdict={finding.severity === "error" ? "error" : finding.severity === "warn" ? "warn" : "fine"}
            width={46}
          />
        )}
      </button>
      {open && (
        <div className="row-body">
          <div className="muted t-small mb-8">
            <span className="mono">{finding.check}</span>
            {place && ` · ${place}`}
            {finding.limit !== null && ` · limit ${number(finding.limit)} ${finding.unit}`}
            {CHECK_FACTS[finding.check]?.source && ` · ${CHECK_FACTS[finding.check]?.source}`}
          </div>
          {mend && onMend && (
            <div className="line one-row mb-8">
              <Button
                variant="contained"
                disabled={mending}
                onClick={() => {
                  setMending(true);
                  void onMend().finally(() => setMending(false));
                }}>
                Mend
              </Button>
              <span className="grow t-small">{mend} Undo takes it back.</span>
            </div>
          )}
          <Working on={mending} />
          <div className="line">
            <Button
              variant={mend ? "text" : "contained"}
              onClick={onShow}
              disabled={!finding.part && !finding.joint && !finding.shape}>
              Show
            </Button>
            {onAccept && (
              <form
                className="line grow one-row"
                onSubmit={(e) => {
                  e.preventDefault();
                  if (reason.trim()) void onAccept(reason.trim());
                }}>
                <TextField
                  value={reason}
                  onChange={(e) => setReason(e.target.value)}
                  placeholder="Reason it may stay"
                  sx={{ flex: 1, maxWidth: 260 }}
                  slotProps={{ htmlInput: { "aria-label": "Reason it may stay", maxLength: 500 } }}
                />
                <Button type="submit" disabled={!reason.trim()}>
                  Accept
                </Button>
              </form>
            )}
          </div>
        </div>
      )}
    </div>
  );
}

import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import type { Finding } from "~core/checks/finding";
import type { FindingGroup } from "~core/checks/groupFindings";
import { mendSentence } from "~core/checks/mend";
import { Working } from "./Working";
import { counted } from "../ui/counted";
import { SEVERITY_COLOR, SEVERITY_GLYPH, SEVERITY_WORD } from "./FindingRow";

/** Rows shown at once of an opened group. */
const FIRST = 40;

/** Many findings of one kind as one row: what they have in common, one repair for all, and each of them on opening. */
export function FindingGroupRow({
  group,
  open,
  onOpen,
  onMendAll,
  renderRow,
}: {
  group: FindingGroup;
  open: boolean;
  onOpen: () => void;
  onMendAll: (group: FindingGroup) => Promise<unknown>;
  renderRow: (finding: Finding) => ReactNode;
}): ReactNode {
  const [mending, setMending] = useState(false);
  const [all, setAll] = useState(false);
  const { findings, severity, sentence } = group;
  const mendable = findings.filter((f) => mendSentence(f) !== null);
  const wholly = group.check === "skeleton.rest-bind";
  const shown = all ? findings : findings.slice(0, FIRST);
  return (
    <div className={`row${open ? " open" : ""}`} data-group={group.check}>
      <button type="button" className="plain row-line" aria-expanded={open} onClick={onOpen}>
        <span style={{ color: SEVERITY_COLOR[severity], width: 14 }} aria-hidden>
          {SEVERITY_GLYPH[severity]}
        </span>
        <span className="mono nowrap" style={{ width: 58, color: SEVERITY_COLOR[severity] }}>
          {SEVERITY_WORD[severity]}
        </span>
        <span className="grow" style={open ? undefined : { whiteSpace: "nowrap" }}>
          {sentence}
        </span>
        <span className="badge nowrap">{findings.length}</span>
      </button>
      {open && (
        <div className="row-body p-0">
          {mendable.length > 0 && (
            <div className="line one-row p-0-18-8">
              <Button
                variant="contained"
                sx={{ flex: "none" }}
                disabled={mending}
                onClick={() => {
                  setMending(true);
                  void onMendAll(group).finally(() => setMending(false));
                }}>
                {wholly ? "Mend" : `Mend all ${mendable.length}`}
              </Button>
              <span className="grow t-small">
                {mendSentence(mendable[0]!)}
                {!wholly && mendable.length > 1
                  ? ` The same at ${counted(mendable.length - 1, "other places")}, as one step.`
                  : ""}{" "}
                Undo takes it back.
              </span>
            </div>
          )}
          {mending && (
            <div className="p-0-18">
              <Working on={mending} />
            </div>
          )}
          {shown.map(renderRow)}
          {shown.length < findings.length && (
            <Button sx={{ margin: "4px 18px" }} onClick={() => setAll(true)}>
              Show all {findings.length}
            </Button>
          )}
        </div>
      )}
    </div>
  );
}

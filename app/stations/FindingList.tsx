import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import type { Finding } from "~core/checks/finding";
import { CHECK_FACTS, REST_CHECKS } from "~core/checks/checkFacts";
import { groupFindings, groupOf, type FindingGroup } from "~core/checks/groupFindings";
import { mendSentence } from "~core/checks/mend";
import { useSessionStore } from "../session/session";
import { showFinding } from "../session/showFinding";
import { useCharacterPage, useDesk } from "../session/useDesk";
import { FindField } from "../ui/FindField";
import { FindingGroupRow } from "./FindingGroupRow";
import { findingKeys, FindingRow } from "./FindingRow";
import { useQueryState } from "../ui/useQueryState";
import { counted } from "../ui/counted";

const placeOf = ({
  part,
  joint,
  shape,
  clip,
  limit,
}: Finding): Pick<Finding, "part" | "joint" | "shape" | "clip" | "limit"> => ({ part, joint, shape, clip, limit });

/** All open findings of the delivery, worst first; accepted ones below with their reasons. */
export function FindingList({ only }: { only?: (check: string) => boolean }): ReactNode {
  const store = useSessionStore();
  const page = useCharacterPage();
  const { addStep } = useDesk();
  const [open, setOpen] = useQueryState<string>("open", "");
  const [find, setFind] = useState("");
  const mine = page.findings.filter((f) => !only || only(f.check));
  const mineKeys = findingKeys(mine);
  const keys = new Map(mine.map((f, i) => [f, mineKeys[i]!]));

  const shown = mine.filter((f) =>
    `${f.message} ${f.check} ${f.part ?? ""} ${f.joint ?? ""} ${f.shape ?? ""}`
      .toLowerCase()
      .includes(find.toLowerCase()),
  );
  const accepted = page.accepted.filter((a) => !only || only(a.finding.check));
  const found = new Set([...page.findings, ...page.accepted.map((a) => a.finding)].map((f) => f.check));
  const passed = REST_CHECKS.filter((check) => (!only || only(check)) && !found.has(check));
  const row = (f: Finding): ReactNode => {
    const key = keys.get(f)!;
    return (
      <FindingRow
        key={key}
        finding={f}
        open={open === key}
        onOpen={() => {
          setOpen(open === key ? "" : key);
          if (open !== key) showFinding(store, f);
        }}
        onShow={() => showFinding(store, f)}
        mend={mendSentence(f)}
        onMend={() => addStep({ op: "mend", ...placeOf(f), check: f.check })}
        onAccept={(reason) =>
          addStep({
            op: "accept finding",
            check: f.check,
            part: f.part,
            joint: f.joint,
            shape: f.shape,
            clip: f.clip,
            reason,
          })
        }
      />
    );
  };
  const mendAll = ({ check, findings }: FindingGroup): Promise<unknown> => {
    const places = findings.filter((f) => mendSentence(f) !== null).map(placeOf);
    return addStep(
      places.length === 1 || check === "skeleton.rest-bind"
        ? { op: "mend", check, ...places[0]! }
        : { op: "mend all", check, places },
    );
  };

  return (
    <>
      <FindingCounts findings={mine} find={find} onFind={setFind} />
      <div className="sheet-body">
        {!page.checked && <p className="muted p-0-18">Checking this state; these findings are of the state before.</p>}
        {/* who looks for a place wants to see it, not what it is one of */}
        {(find ? shown : groupFindings(shown)).map((one) => {
          const group = groupOf(one);
          if (!group) return row(one as Finding);
          const inside = group.findings.some((f) => keys.get(f) === open);
          return (
            <FindingGroupRow
              key={group.key}
              group={group}
              open={open === group.key || inside}
              onOpen={() => setOpen(open === group.key || inside ? "" : group.key)}
              onMendAll={mendAll}
              renderRow={row}
            />
          );
        })}
        {mine.length === 0 && <p className="p-8-18">No finding is open here. Go on to the next station.</p>}
        {mine.length > 0 && shown.length === 0 && <p className="muted p-8-18">Nothing matches.</p>}
        {passed.length > 0 && page.checked && find === "" && <Passed checks={passed} />}
        {accepted.length > 0 && <Accepted accepted={accepted} />}
      </div>
    </>
  );
}

interface FindingCountsProps {
  readonly findings: readonly Finding[];
  readonly find: string;
  readonly onFind: (find: string) => void;
}
function FindingCounts({ findings, find, onFind }: FindingCountsProps): ReactNode {
  const count = (s: string): number => findings.filter((f) => f.severity === s).length;
  return (
    <div className="sheet-tools p-10-18-8 m-0">
      <FindField label="Find a finding, part or joint" value={find} onChange={onFind} />
      <span className="muted nowrap">
        {counted(count("error"), "errors")} · {counted(count("warn"), "warnings")} · {counted(count("note"), "notes")}
      </span>
    </div>
  );
}

interface PassedProps {
  readonly checks: readonly string[];
}
function Passed({ checks }: PassedProps): ReactNode {
  return (
    <>
      <div className="group-title">Passed</div>
      {checks.map((check) => (
        <div key={check} className="line p-3-18 t-small one-row">
          <span className="ink-accent wide-14" aria-hidden>
            ✓
          </span>
          <span className="grow">{CHECK_FACTS[check]!.title}</span>
          <span className="mono muted nowrap t-label">{check}</span>
        </div>
      ))}
    </>
  );
}

interface AcceptedProps {
  readonly accepted: readonly { readonly finding: Finding; readonly reason: string }[];
}
/** Findings that were accepted, with their reasons; each can be opened again. */
function Accepted({ accepted }: AcceptedProps): ReactNode {
  const all = useCharacterPage().accepted;
  const keys = findingKeys(all.map((a) => a.finding));
  const { addStep } = useDesk();
  return (
    <>
      <div className="group-title">Accepted</div>
      {accepted.map((a) => (
        <div key={keys[all.indexOf(a)]} className="row p-6-18 t-small">
          <div className="line one-row">
            <span className="grow">
              {a.finding.message} <span className="muted">Reason: {a.reason}</span>
            </span>
            <Button
              sx={{ flex: "none" }}
              title="The finding is open again"
              onClick={() =>
                void addStep({
                  op: "reopen finding",
                  check: a.finding.check,
                  part: a.finding.part,
                  joint: a.finding.joint,
                  shape: a.finding.shape,
                  clip: a.finding.clip,
                })
              }>
              Take back
            </Button>
          </div>
        </div>
      ))}
    </>
  );
}

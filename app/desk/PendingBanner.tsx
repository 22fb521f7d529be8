import Button from "@mui/material/Button";
import { useCallback, useEffect, useState, type ReactNode } from "react";
import { useRevalidator } from "react-router";
import type { Step } from "~core/ledger/steps";
import type { CharacterPage } from "~server/services/characterPage";
import { keepDraft, type Draft } from "../session/kept/drafts";
import { onKept } from "../session/kept/keptStore";
import { endDraft } from "../session/kept/useKeepDrafts";
import { forgetStep, letWait, pendingSteps, Refusal, sendStep, type PendingStep } from "../session/ledgerClient";
import { useSessionStore } from "../session/session";

const REASON: Readonly<Record<NonNullable<PendingStep["trouble"]>, string>> = {
  unreachable: "The database did not answer.",
  failed: "The server failed at it.",
  conflict: "Another window changed this character meanwhile.",
  refused: "The server refused it.",
  "too large": "It is too large to be sent.",
  cancelled: "It was cancelled.",
};

type Describe = (step: Step) => string;
/**
 * How a step is told. The code of all operations is fetched only when a step waits; where even that cannot be had, it
 * is called by its operation.
 */
function useDescribe(isWanted: boolean): Describe {
  const [describe, setDescribe] = useState<Describe>(() => (step: Step) => step.op);
  useEffect(() => {
    if (isWanted)
      import("~core/ledger/steps").then(
        (m) => setDescribe(() => m.describeStep),
        () => {},
      );
  }, [isWanted]);
  return describe;
}

/** A step that is not to be sent now, as a draft. */
const draftOfStep = (step: PendingStep, title: string): Draft => ({
  id: `step ${step.key}`,
  character: step.character,
  title,
  amount: "",
  place: { station: "handoff", query: { leaf: "ledger" } },
  changedAt: Date.now(),
  content: { kind: "step", step: { ...step, from: null } },
});

/** Says when a change has not reached the ledger and why, keeps it, and sends it when asked. */
export function PendingBanner({ page }: { page: CharacterPage }): ReactNode {
  const store = useSessionStore();
  const [waiting, setWaiting] = useState<readonly PendingStep[]>([]);
  const [busy, setBusy] = useState(false);
  const [sure, setSure] = useState(false);
  const { revalidate } = useRevalidator();
  const { id } = page.character;
  const look = useCallback(
    () =>
      void pendingSteps(id)
        .then(setWaiting)
        .catch(() => {}),
    [id],
  );
  useEffect(() => {
    look();
    return onKept("steps", look);
  }, [look]);
  // one that is on its way in this window has no trouble yet; one that a page left in mid-send is as good as unanswered
  const [mine] = useState(() => Date.now());
  const stuck = waiting.filter((s) => s.trouble !== null || s.order < mine);
  const [first] = stuck;
  const describe = useDescribe(first !== undefined);
  if (!first) return null;
  const last = page.ledger.entries[page.ledger.head - 1];
  const send = async (): Promise<void> => {
    setBusy(true);
    setSure(false);
    try {
      for (const [i, step] of stuck.entries()) {
        try {
          await sendStep(step, page.ledger.revision);
        } catch (error) {
          await letWait(stuck.slice(i + 1));
          if (!(error instanceof Refusal)) throw error;
          if (error.trouble === "unreachable") return;
          break;
        }
        if (step.from !== null) await endDraft(store, step.from);
      }
      await revalidate();
    } finally {
      setBusy(false);
    }
  };
  const asDraft = async (): Promise<void> => {
    await keepDraft(draftOfStep(first, describe(first.step)));
    await forgetStep(first);
  };
  const reason = first.told || REASON[first.trouble ?? "unreachable"];
  return (
    <div className="banner" role="alert">
      <span className="grow">
        Not saved yet: {describe(first.step)}
        {stuck.length > 1 && ` and ${stuck.length - 1} more`}. It is kept in this browser. {reason}
        {first.trouble === "conflict" && last && <span className="muted"> Its change: {last.sentence}.</span>}
      </span>
      <Button variant="contained" disabled={busy} onClick={() => void send()}>
        {first.trouble === "conflict" ? "Put mine on top" : "Try again"}
      </Button>
      <Button disabled={busy} onClick={() => void asDraft()}>
        Keep as a draft
      </Button>
      {sure ? (
        <>
          <Button color="error" onClick={() => void forgetStep(first).then(() => setSure(false))}>
            Throw it away
          </Button>
          <Button onClick={() => setSure(false)}>Keep it</Button>
        </>
      ) : (
        <Button disabled={busy} onClick={() => setSure(true)}>
          Discard
        </Button>
      )}
    </div>
  );
}

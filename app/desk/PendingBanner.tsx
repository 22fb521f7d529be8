import Button from "@mui/material/Button";
import { useCallback, useEffect, useState, type ReactNode } from "react";
import { useRevalidator } from "react-router";
import { describeStep } from "~core/ledger/applyStep";
import type { CharacterPage } from "../routes/character";
import { forgetStep, pendingSteps, Refusal, sendStep, type PendingStep } from "../session/ledgerClient";

/** Says when a change has not reached the database, keeps it, and sends it when asked. */
export function PendingBanner({ page }: { page: CharacterPage }): ReactNode {
  const [waiting, setWaiting] = useState<readonly PendingStep[]>([]);
  const [told, setTold] = useState("");
  const { revalidate } = useRevalidator();
  const { id } = page.character;
  const look = useCallback(() => void pendingSteps(id).then(setWaiting), [id]);
  useEffect(() => {
    look();
    window.addEventListener("yxomorph-pending", look);
    return () => window.removeEventListener("yxomorph-pending", look);
  }, [look]);
  if (waiting.length === 0) return null;
  const retry = async (): Promise<void> => {
    try {
      await forgetStep(waiting[0]!);
      await sendStep(waiting[0]!, page.ledger.revision);
      setTold("");
      await revalidate();
    } catch (error) {
      setTold(error instanceof Refusal ? error.message : "It did not work.");
    }
    look();
  };
  return (
    <div className="banner" role="alert">
      <span className="grow">
        Not saved yet: {describeStep(waiting[0]!.step)}
        {waiting.length > 1 && ` and ${waiting.length - 1} more`}. It is kept in this browser. {told || "The database did not answer."}
      </span>
      <Button variant="contained" onClick={() => void retry()}>Try again</Button>
      <Button onClick={() => void forgetStep(waiting[0]!).then(look)}>Discard</Button>
    </div>
  );
}

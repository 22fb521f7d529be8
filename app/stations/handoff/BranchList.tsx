import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import { useRevalidator } from "react-router";
import type { BranchEntry } from "~server/services/branches";
import { ask, Refusal, takeUpBranch } from "../../session/ledgerClient";
import { useCharacterPage } from "../../session/useDesk";
import { counted } from "../../ui/counted";
import { when } from "./Slip";
import { Refused } from "../../ui/Refused";

/**
 * Steps that are in the ledger no more because it went on from further back: what they are, and the way back to them.
 */
export function BranchList(): ReactNode {
  const { branches } = useCharacterPage();
  if (branches.length === 0) return null;
  return (
    <section aria-label="Branches">
      <div className="group-title">Branches: steps that were undone before others were made</div>
      {branches.map((b) => (
        <BranchRow key={b.id} branch={b} />
      ))}
    </section>
  );
}

function BranchRow({ branch }: { branch: BranchEntry }): ReactNode {
  const { character, ledger } = useCharacterPage();
  const { revalidate } = useRevalidator();
  const [open, setOpen] = useState(false);
  const [sure, setSure] = useState(false);
  const [refusal, setRefusal] = useState("");
  const attempt = async (work: () => Promise<unknown>): Promise<void> => {
    setRefusal("");
    try {
      await work();
    } catch (error) {
      setRefusal(error instanceof Refusal ? error.message : "That did not work.");
    }
    setSure(false);
    await revalidate();
  };
  const last = branch.sentences.at(-1) ?? "";
  return (
    <div className={`row${open ? " open" : ""}`}>
      <button type="button" className="plain row-line" aria-expanded={open} onClick={() => setOpen(!open)}>
        <span className="mono muted nowrap">{counted(branch.sentences.length, "steps")}</span>
        <span className="grow over-hidden ellipsis nowrap">{last}</span>
        <span className="mono muted nowrap">{when(branch.createdAt)}</span>
      </button>
      {open && (
        <div className="row-body stack gap-6">
          <p className="label m-0">
            After {branch.fork === 0 ? "the delivery" : `step ${branch.fork}`} of {branch.fileName}
          </p>
          <ol start={branch.fork + 1} className="m-0 pl-28 t-small">
            {branch.sentences.map((s, i) => (
              <li key={i}>{s}</li>
            ))}
          </ol>
          <div className="line">
            <Button
              variant="contained"
              disabled={!branch.fits}
              onClick={() => void attempt(() => takeUpBranch(character.id, ledger.revision, branch.id))}
              title="The ledger as it stands becomes a branch in its place">
              Take these up
            </Button>
            {!branch.fits && (
              <span className="muted t-small">
                They stand on {branch.fileName}: go back to that delivery, or take it in again.
              </span>
            )}
            {sure ? (
              <>
                <Button
                  color="error"
                  onClick={() =>
                    void attempt(() =>
                      ask(`/api/characters/${encodeURIComponent(character.id)}/branches/${branch.id}`, {
                        method: "DELETE",
                      }),
                    )
                  }>
                  Throw {counted(branch.sentences.length, "steps")} away
                </Button>
                <Button onClick={() => setSure(false)}>Keep them</Button>
              </>
            ) : (
              <Button onClick={() => setSure(true)}>Throw away</Button>
            )}
          </div>
          <Refused why={refusal} />
        </div>
      )}
    </div>
  );
}

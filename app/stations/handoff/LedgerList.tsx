import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import { namesInStep } from "~core/ledger/steps";
import { useCharacterPage, useDesk } from "../../session/useDesk";
import { BranchList } from "./BranchList";
import { counted } from "../../ui/counted";
import { when } from "./Slip";

/** Every step as a sentence, newest first; those undone are struck, and any place can be gone to. */
export function LedgerList(): ReactNode {
  const { ledger, character } = useCharacterPage();
  const { undo, redo, moveBy } = useDesk();
  const rows = [...ledger.entries].reverse();
  const [opened, setOpened] = useState<number | null>(null);
  return (
    <>
      <div className="sheet-tools p-10-18-8 m-0">
        <span className="muted grow">
          {ledger.head} of {ledger.entries.length} steps in force
        </span>
        <Button
          component="a"
          href={`/api/characters/${encodeURIComponent(character.id)}/ledger.json`}
          download
          disabled={ledger.head === 0}
          title="For running the same steps on another delivery from the command line">
          Save as file
        </Button>
        <Button disabled={ledger.head === 0} onClick={() => void undo()}>
          Undo
        </Button>
        <Button disabled={ledger.head === ledger.entries.length} onClick={() => void redo()}>
          Redo
        </Button>
      </div>
      {rows.map((e) => {
        const inForce = e.position < ledger.head;
        const names = namesInStep(e.step);
        const here = e.position === ledger.head - 1;
        return (
          <div key={e.position} className={`row${here ? " open" : ""}`}>
            <div className="row-line cursor-default">
              <span className="mono muted wide-28">{e.position + 1}</span>
              <span
                className="grow"
                style={inForce ? undefined : { textDecoration: "line-through", color: "var(--muted)" }}>
                {e.sentence}
                {names.length > 0 && (
                  <>
                    {" "}
                    <Button
                      aria-expanded={opened === e.position}
                      onClick={() => setOpened(opened === e.position ? null : e.position)}>
                      {opened === e.position ? "Less" : counted(names.length, "items")}
                    </Button>
                  </>
                )}
              </span>
              <span className="mono muted nowrap">{when(e.createdAt)}</span>
              <span className="wide-78 to-right">
                {here ? (
                  <span className="muted">here</span>
                ) : (
                  <Button onClick={() => void moveBy(e.position + 1 - ledger.head)}>Go here</Button>
                )}
              </span>
            </div>
            {opened === e.position && <Items names={names} />}
          </div>
        );
      })}
      <TakenIn fileName={character.fileName} here={ledger.head === 0} onGo={() => void moveBy(-ledger.head)} />
      <BranchList />
      {rows.length === 0 && (
        <p className="muted p-8-18">
          No step yet. Every change of map, correctives and accepted findings will stand here.
        </p>
      )}
    </>
  );
}

interface ItemsProps {
  readonly names: readonly string[];
}
function Items({ names }: ItemsProps): ReactNode {
  return (
    <ul className="mono" style={{ margin: "0 18px 8px 46px", padding: 0, columns: 2, fontSize: 12, listStyle: "none" }}>
      {names.map((n, i) => (
        <li key={i} className="break-words">
          {n}
        </li>
      ))}
    </ul>
  );
}

interface TakenInProps {
  readonly fileName: string;
  readonly here: boolean;
  readonly onGo: () => void;
}
function TakenIn({ fileName, here, onGo }: TakenInProps): ReactNode {
  return (
    <div className={`row${here ? " open" : ""}`}>
      <div className="row-line cursor-default">
        <span className="mono muted wide-28">0</span>
        <span className="grow">took in {fileName}</span>
        <span className="wide-78 to-right">
          {here ? <span className="muted">here</span> : <Button onClick={onGo}>Go here</Button>}
        </span>
      </div>
    </div>
  );
}

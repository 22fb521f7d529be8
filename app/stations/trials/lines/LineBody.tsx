import Button from "@mui/material/Button";
import { useMemo, type ReactNode } from "react";
import { withHand } from "~core/speech/handEdits";
import type { Spoken } from "~core/speech/speak";
import { phonesTable, textGridOfLine } from "~core/speech/writeLine";
import { weightsTable } from "~core/clips/weightsTable";
import { type LinePiece, type Trial } from "~core/trials/trial";
import { PieceButtons } from "../ruler/PieceButtons";
import { useSessionStore } from "../../../session/session";
import { changePiece } from "../../../session/slices/trial";
import { saveFile } from "../../../ui/saveFile";
import { MannerPanel } from "./MannerPanel";
import { PhoneTable } from "./PhoneTable";
import { ScoreList } from "./ScoreList";
import { SpokenBy } from "./SpokenBy";
import { VisemeCurves } from "./VisemeCurves";
import { VisemesOfLine } from "./VisemesOfLine";

/** An open line: what is said and by whom, what is not met, its manner, its phones, what it is made of, and out. */
export function LineBody({
  piece,
  trial,
  spoken,
}: {
  piece: LinePiece;
  trial: Trial;
  spoken: Spoken | null;
}): ReactNode {
  const store = useSessionStore();
  const { line, waiting } = useMemo(() => withHand(piece.line, piece.hand), [piece.line, piece.hand]);
  const save = (kind: string, text: string): void => saveFile(`${piece.name}.${kind}`, new Blob([text]));
  const saveSound = (): void =>
    void fetch(`/api/blobs/${piece.sound}`)
      .then((r) => (r.ok ? r.blob() : null))
      .then((b) => b && saveFile(`${piece.name}.wav`, new Blob([b], { type: "audio/wav" })))
      .catch(() => {}); // the button can be pressed again
  return (
    <div className="row-body">
      <PieceButtons piece={piece} />
      <SpokenBy piece={piece} />
      {spoken && <ScoreList piece={piece} trial={trial} spoken={spoken} />}
      <MannerPanel piece={piece} />
      <PhoneTable piece={piece} line={line} />
      {waiting.length > 0 && (
        <div className="line t-small">
          <span>
            {waiting.length === 1 ? "One change" : `${waiting.length} changes`} by hand wait for a word that is gone:{" "}
            {[...new Set(waiting.map((w) => w.text))].join(", ")}.
          </span>
          <Button
            onClick={() =>
              changePiece(store, piece.id, {
                hand: piece.hand.filter((h) => !waiting.includes(h)),
              } as Partial<LinePiece>)
            }>
            Let them go
          </Button>
        </div>
      )}
      {spoken && <VisemeCurves piece={piece} line={line} spoken={spoken} />}
      {spoken && <VisemesOfLine spoken={spoken} />}
      <div className="line t-small">
        <span className="muted">Out</span>
        <Button onClick={() => save("TextGrid", textGridOfLine(line))}>TextGrid</Button>
        <Button onClick={() => save("phones.csv", phonesTable(line))}>Phones, CSV</Button>
        {spoken && (
          <Button onClick={() => save("csv", weightsTable(spoken.curves, spoken.seconds))}>Weights, CSV</Button>
        )}
        {piece.sound && <Button onClick={saveSound}>WAV</Button>}
      </div>
    </div>
  );
}

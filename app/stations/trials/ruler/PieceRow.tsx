import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import type { ReactNode } from "react";
import { endOf, nameOf } from "~core/trials/trial";
import { useSession, useSessionStore } from "../../../session/session";
import { changePiece, pieceOf, removePiece, selectPiece } from "../../../session/slices/trial";
import { ScrubChange } from "../../../ui/ScrubChange";

const FIELDS = [
  ["start", "starts at", " s", 0, 3600, 0.01],
  ["from", "from", " s", 0, 3600, 0.01],
  ["to", "to", " s", 0, 3600, 0.01],
  ["speed", "speed", "×", 0.1, 10, 0.01],
  ["fadeIn", "fades in", " s", 0, 60, 0.01],
  ["fadeOut", "fades out", " s", 0, 60, 0.01],
  ["share", "share", "", 0, 1, 0.01],
] as const;

/** The piece that is chosen on the ruler: where it stands, how it fades, how much of it counts. */
export function PieceRow(): ReactNode {
  const store = useSessionStore();
  const trial = useSession((s) => s.trial);
  const id = useSession((s) => s.piece);
  const found = trial && pieceOf(trial, id);
  if (!found) return null;
  const { piece, lane } = found;
  const name = nameOf(piece);
  return (
    <div className="row open">
      <div className="row-line">
        <b className="grow w-550 nowrap over-hidden ellipsis">{name}</b>
        <span className="muted nowrap">
          {lane} lane, to {endOf(piece).toFixed(2)} s
        </span>
        <Button onClick={() => selectPiece(store, null)}>Close</Button>
      </div>
      <div className="row-body">
        <div className="fit-grid" role="group" aria-label={`Piece ${name}`}>
          {FIELDS.map(([key, label, unit, min, max, step]) => (
            <label key={key} className="spread">
              <span className="muted">{label}</span>
              <ScrubChange
                label={`${label}, ${name}`}
                value={piece[key]}
                min={min}
                max={max}
                step={step}
                start={key === "speed" || key === "share" ? 1 : 0}
                unit={unit}
                onSet={(v, same) => changePiece(store, piece.id, { [key]: v }, same)}
              />
            </label>
          ))}
        </div>
        <div className="line t-small">
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={piece.on}
                onChange={(e) => changePiece(store, piece.id, { on: e.target.checked })}
              />
            }
            label="plays"
          />
          <Button onClick={() => removePiece(store, piece.id)}>Take it off the ruler</Button>
        </div>
      </div>
    </div>
  );
}

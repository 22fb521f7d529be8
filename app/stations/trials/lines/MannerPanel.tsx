import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import type { ReactNode } from "react";
import { PLAIN_MANNER, type Manner } from "~core/speech/manner";
import type { LinePiece } from "~core/trials/trial";
import { useSessionStore } from "../../../session/session";
import { changePiece } from "../../../session/slices/trial";
import { ScrubChange } from "../../../ui/ScrubChange";

const AMOUNTS = [
  ["jaw", "jaw", 1.5, "how far it opens"],
  ["lips", "lips", 1.5, "how far they round and spread"],
  ["tongue", "tongue", 1.5, "how far it shows"],
  ["loudness", "loudness", 1, "how much wider louder vowels open"],
  ["stress", "stress", 1, "how much less unstressed vowels open"],
  ["brows", "brows", 1, "how far they go up with stressed words"],
  ["head", "head", 1, "how far it nods and turns"],
] as const;

/** How a line is spoken: amounts that act while it plays. */
export function MannerPanel({ piece }: { piece: LinePiece }): ReactNode {
  const store = useSessionStore();
  const { manner } = piece;
  const set = (change: Partial<Manner>, same = false): void =>
    changePiece(store, piece.id, { manner: { ...manner, ...change } } as Partial<LinePiece>, same);
  return (
    <div className="fit-grid mt-6" role="group" aria-label="Manner">
      {AMOUNTS.map(([key, label, max, title]) => (
        <label key={key} className="spread" title={title}>
          <span className="muted">{label}</span>
          <ScrubChange
            label={`${label}, ${piece.name}`}
            value={manner[key]}
            min={0}
            max={max}
            step={0.01}
            start={PLAIN_MANNER[key]}
            onSet={(v, same) => set({ [key]: v }, same)}
          />
        </label>
      ))}
      <div className="spread" title="other numbers blink and nod at other times">
        <FormControlLabel
          className="t-small"
          control={
            <Checkbox size="small" checked={manner.blinks} onChange={(e) => set({ blinks: e.target.checked })} />
          }
          label="blinks"
        />
        <ScrubChange
          label={`seed, ${piece.name}`}
          value={manner.seed}
          min={0}
          max={9999}
          step={1}
          digits={0}
          start={1}
          onSet={(seed, same) => set({ seed }, same)}
        />
      </div>
    </div>
  );
}

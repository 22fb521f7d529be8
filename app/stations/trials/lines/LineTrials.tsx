import type { ReactNode } from "react";
import { linesOf, shownLine } from "~core/trials/spokenLines";
import { endOf, type LinePiece, type Trial } from "~core/trials/trial";
import { useSession, useSessionStore } from "../../../session/session";
import { counted } from "../../../ui/counted";
import { RulerSheet } from "../ruler/RulerSheet";
import { LineBody } from "./LineBody";
import { closeLine, openLine } from "./openLine";
import { NewLine } from "./NewLine";

/** What is said: lines on the ruler, each with its phones, manner and what the mouth does not meet. */
export function LineTrials({ leaves }: { leaves: ReactNode }): ReactNode {
  const loaded = useSession((s) => s.loaded);
  const trial = useSession((s) => s.trial);
  useSession((s) => s.spokenLines);
  const lines = trial ? linesOf(trial).sort((a, b) => a.start - b.start) : [];
  const known = loaded && trial ? lines.map((p) => shownLine(loaded.character, trial, p)) : [];
  const unmet = known.reduce((n, s) => n + (s?.scores.filter((x) => !x.met).length ?? 0), 0);
  return (
    <RulerSheet leaves={leaves}>
      <NewLine />
      {!loaded && <p className="muted p-8-18">Fetching the character</p>}
      {loaded && lines.length > 0 && (
        <h2 className="group-title">
          Lines{known.every(Boolean) ? (unmet ? `: ${counted(unmet, "sounds")} not met` : ": every sound met") : ""}
        </h2>
      )}
      {loaded && trial && lines.map((p) => <LineRow key={p.id} piece={p} trial={trial} />)}
    </RulerSheet>
  );
}

function LineRow({ piece, trial }: { piece: LinePiece; trial: Trial }): ReactNode {
  const store = useSessionStore();
  const character = useSession((s) => s.loaded?.character ?? null);
  const open = useSession((s) => s.piece === piece.id);
  const spoken = character && shownLine(character, trial, piece);
  const asked = spoken?.scores.length ?? 0;
  const unmet = spoken?.scores.filter((s) => !s.met).length ?? 0;
  const show = (): void => (open ? closeLine(store) : openLine(store, piece));
  return (
    <div className={`row${open ? " open" : ""}`}>
      <button type="button" className="plain row-line" aria-expanded={open} onClick={show}>
        <span className="grow nowrap over-hidden ellipsis" title={piece.name}>
          {piece.name}
        </span>
        <span className="mono muted nowrap">
          {piece.start.toFixed(1)}–{endOf(piece).toFixed(1)} s
        </span>
        <span className="nowrap rigid" style={unmet ? { color: "var(--brick)" } : { color: "var(--muted)" }}>
          {spoken ? (unmet ? `${unmet} of ${asked} not met` : `${asked} met`) : "is worked out"}
        </span>
      </button>
      {open && <LineBody piece={piece} trial={trial} spoken={spoken} />}
    </div>
  );
}

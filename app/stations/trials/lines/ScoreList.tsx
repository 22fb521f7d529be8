import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import { withEdit, withHand } from "~core/speech/handEdits";
import type { SpeechScore } from "~core/speech/scoreLine";
import type { Spoken } from "~core/speech/speak";
import { momentAt } from "~core/trials/momentAt";
import { onRuler } from "~core/trials/spokenLines";
import type { LinePiece, Trial } from "~core/trials/trial";
import { playerOf } from "../../../session/playback";
import { useSession, useSessionStore } from "../../../session/session";
import { changePiece } from "../../../session/slices/trial";
import { lookAt } from "../../../session/slices/view";
import { useGoToStation } from "../../../session/useGoToStation";
import { MomentPicture } from "../ruler/MomentPicture";

const CALLED: Readonly<Record<SpeechScore["check"], string>> = {
  "speech.closure": "lips shut",
  "speech.contact": "lip at the teeth",
  "speech.teeth": "teeth together",
  "speech.opening": "vowel opens",
  "speech.timing": "shut in time",
  "speech.speed": "no faster than a mouth",
  "speech.overlap": "visemes within 1",
};
const valueOf = ({ value, unit, limit, check }: SpeechScore): string => {
  const least = check === "speech.closure" || check === "speech.opening" ? "≥" : "≤";
  if (unit === "ratio") return `${Math.round(100 * value)} % (${least} ${Math.round(100 * limit)} %)`;
  const digits = unit === "ms" ? 0 : unit === "mm" ? 1 : 2;
  return `${value.toFixed(digits)} ${unit} (${least} ${limit.toFixed(digits)})`;
};
/** How far beyond its limit, to put the worst first. */
const badness = ({ value, limit, check, met }: SpeechScore): number => {
  if (met) return 0;
  const least = check === "speech.closure" || check === "speech.opening";
  return least ? limit / Math.max(value, limit / 9) : Math.abs(value / limit);
};
/** A phone that is slowed takes so much from either neighbour, seconds. */
const SLOWER = 0.02;

/** What the sounds of a line ask of the mouth, what is not met first, each with a picture and what to do. */
export function ScoreList({ piece, trial, spoken }: { piece: LinePiece; trial: Trial; spoken: Spoken }): ReactNode {
  const [all, setAll] = useState(false);
  const [open, setOpen] = useState<string | null>(null);
  const sorted = [...spoken.scores].sort((a, b) => badness(b) - badness(a) || a.at - b.at);
  const unmet = sorted.filter((s) => !s.met).length;
  const shown = all ? sorted : sorted.slice(0, unmet);
  const keyOf = (s: SpeechScore): string => `${s.check} ${s.at.toFixed(3)}`;
  return (
    <>
      <div className="line t-small mt-4">
        <span className={unmet ? "" : "muted"}>
          {unmet
            ? `${unmet} of ${sorted.length} that its sounds ask are not met`
            : `All ${sorted.length} that its sounds ask are met`}
        </span>
        {sorted.length > unmet && <Button onClick={() => setAll(!all)}>{all ? "What is not met" : "All"}</Button>}
      </div>
      {shown.map((s) => (
        <ScoreRow
          key={keyOf(s)}
          score={s}
          piece={piece}
          trial={trial}
          open={open === keyOf(s)}
          onOpen={() => setOpen(open === keyOf(s) ? null : keyOf(s))}
        />
      ))}
    </>
  );
}

function ScoreRow({
  score: s,
  piece,
  trial,
  open,
  onOpen,
}: {
  score: SpeechScore;
  piece: LinePiece;
  trial: Trial;
  open: boolean;
  onOpen: () => void;
}): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((x) => x.loaded);
  const go = useGoToStation();
  const at = onRuler(piece, s.at);
  const { line } = withHand(piece.line, piece.hand);
  const index = line.phones.findIndex((p) => s.at >= p.from && s.at < p.to);
  const show = (): void => {
    const player = playerOf(store);
    player.pause();
    player.seek(at);
    lookAt(store, { framing: "mouth" });
    onOpen();
  };
  const slow = (): void => {
    const [now, made] = [line.phones[index]!, piece.line.phones[index]!];
    const grown = withEdit(piece.hand, piece.line, index, {
      begins: now.from - made.from - SLOWER,
      ends: now.to - made.to + SLOWER,
    });
    changePiece(store, piece.id, { hand: grown } as Partial<LinePiece>);
  };
  return (
    <div className="score">
      <button
        type="button"
        className="plain score-line"
        aria-expanded={open}
        onClick={() => (open ? onOpen() : show())}>
        <span style={{ color: s.met ? "var(--muted)" : "var(--brick)" }} aria-hidden>
          {s.met ? "●" : "○"}
        </span>
        <span className="mono rigid wide-34">{s.phone}</span>
        <span className="grow nowrap">{CALLED[s.check]}</span>
        <span className="mono muted nowrap">{s.at.toFixed(2)} s</span>
        <span className="mono nowrap">{valueOf(s)}</span>
      </button>
      {open && loaded && (
        <div className="line align-flex-start mt-4 mb-4">
          <MomentPicture
            loaded={loaded}
            name={`${piece.id} ${JSON.stringify([piece.hand, piece.manner])} ${s.check} ${s.at}`}
            moment={() => momentAt(loaded.character, trial, at)}
            framing="mouth"
            words={`${CALLED[s.check]}: ${valueOf(s)}`}
          />
          <div className="take-rest t-small">
            <div className="mb-4">{s.todo || "Met."}</div>
            <div className="line gap-2-8">
              {!s.met && index >= 0 && s.phone && (
                <Button variant="outlined" onClick={slow}>
                  Slow this phone
                </Button>
              )}
              {!s.met && /viseme/.test(s.todo) && (
                <Button variant="contained" onClick={() => go("shapes", undefined, { leaf: "coverage" })}>
                  Open the visemes
                </Button>
              )}
            </div>
          </div>
        </div>
      )}
    </div>
  );
}

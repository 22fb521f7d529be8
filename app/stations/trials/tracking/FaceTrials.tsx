import { type ReactNode } from "react";
import { endOf, type TakePiece } from "~core/trials/trial";
import { keysIn } from "~core/tracking/recordedFace";
import { useSession, useSessionStore } from "../../../session/session";
import { counted } from "../../../ui/counted";
import { RulerSheet } from "../ruler/RulerSheet";
import { ChannelTable } from "./ChannelTable";
import { FaceFindings } from "./FaceFindings";
import { GuidedRow } from "./GuidedRow";
import { KeptMaps } from "./KeptMaps";
import { closeTake, openTake } from "./openTake";
import { SteadyPanel } from "./SteadyPanel";
import { TakeBody } from "./TakeBody";
import { TrackerPanel } from "./TrackerPanel";
import { useFaceInHand } from "./faceInHand";

/** A tracked face: live from a tracker, or recorded takes on the ruler; which shapes its channels move, and how. */
export function FaceTrials({ leaves }: { leaves: ReactNode }): ReactNode {
  const loaded = useSession((s) => s.loaded);
  const trial = useSession((s) => s.trial);
  const face = useFaceInHand();
  const takes = trial ? takesOf(trial.lanes.tracking) : [];
  return (
    <RulerSheet leaves={leaves}>
      <TrackerPanel />
      {!loaded && <p className="muted p-8-18">Fetching the character</p>}
      {takes.length > 0 && <h2 className="group-title">Takes on the ruler</h2>}
      {takes.map((p) => (
        <TakeRow key={p.id} piece={p} />
      ))}
      {loaded && face && !face.piece && (
        <>
          <GuidedRow face={face} />
          <SteadyPanel face={face} />
          <FaceFindings />
          <ChannelTable face={face} />
          <KeptMaps face={face} />
        </>
      )}
    </RulerSheet>
  );
}

const takesOf = (pieces: readonly { readonly kind: string; readonly start: number }[]): TakePiece[] =>
  pieces.filter((p): p is TakePiece => p.kind === "take").sort((a, b) => a.start - b.start);

function TakeRow({ piece }: { piece: TakePiece }): ReactNode {
  const store = useSessionStore();
  const open = useSession((s) => s.piece === piece.id);
  return (
    <div className={`row${open ? " open" : ""}`}>
      <button
        type="button"
        className="plain row-line"
        aria-expanded={open}
        onClick={() => (open ? closeTake(store) : openTake(store, piece))}>
        <span className="grow nowrap over-hidden ellipsis" title={piece.name}>
          {piece.name}
        </span>
        <span className="mono muted nowrap">
          {piece.start.toFixed(1)}–{endOf(piece).toFixed(1)} s
        </span>
        <span className="muted nowrap rigid">{counted(keysIn(piece.face), "keys")}</span>
      </button>
      {open && <TakeBody piece={piece} />}
    </div>
  );
}

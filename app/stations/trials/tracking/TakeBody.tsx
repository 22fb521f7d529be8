import Button from "@mui/material/Button";
import { useEffect, useState, type ReactNode } from "react";
import { weightsTable } from "~core/clips/weightsTable";
import { keysIn } from "~core/tracking/recordedFace";
import type { Steady } from "~core/tracking/steadyFace";
import { bakedWeights } from "~core/trials/bakeTrial";
import { emptyTrial, endOf, type TakePiece } from "~core/trials/trial";
import { PieceButtons } from "../ruler/PieceButtons";
import { useWork } from "../../../session/jobs/useWork";
import { useSession, useSessionStore } from "../../../session/session";
import { setFaceReadings } from "../../../session/slices/tracking";
import { changePiece } from "../../../session/slices/trial";
import { Progress } from "../../../ui/Progress";
import { saveFile } from "../../../ui/saveFile";
import { ScrubChange } from "../../../ui/ScrubChange";
import { ChannelTable } from "./ChannelTable";
import { FaceFindings } from "./FaceFindings";
import { useFaceInHand } from "./faceInHand";
import { KeptMaps } from "./KeptMaps";
import { laidTake, rawOf, steadyAnew } from "./putTake";
import { SteadyPanel } from "./SteadyPanel";

/** An open take: played, steadied anew, its keys, its share of the mouth, its channels, and out. */
export function TakeBody({ piece }: { piece: TakePiece }): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const face = useFaceInHand();
  const work = useWork("The take could not be steadied anew.");
  const [missing, setMissing] = useState(false);

  useReadings(piece, setMissing);
  const anew = async (change: { steady?: Steady; tolerance?: number }): Promise<void> => {
    if (!loaded) return;
    await work.during("Steadying the take", async (tell, signal) => {
      if (!(await steadyAnew(store, loaded, piece, change, tell, signal))) setMissing(true);
    });
  };
  if (!face) return null;
  return (
    <div className="row-body">
      <PieceButtons piece={piece} />
      {work.running && <Progress {...work.running} onCancel={work.cancel} />}
      {work.refusal && <p className="refusal">{work.refusal}</p>}
      {missing && <p className="t-small">What came is not kept any more: it cannot be steadied anew.</p>}
      <SteadyPanel face={face} onSet={(s) => void anew({ steady: s })} />
      <TakeFields piece={piece} anew={anew} />
      <TurnShares piece={piece} />
      <FaceFindings />
      <ChannelTable face={face} />
      <KeptMaps face={face} />
      <Out piece={piece} />
    </div>
  );
}

/** Lays the take as it came on the character again, and shows what was read. */
function useReadings(piece: TakePiece, setMissing: (missing: boolean) => void): void {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const { raw, map, steady } = piece;
  const { tolerance } = piece.face;
  useEffect(() => {
    if (!loaded) return undefined;
    const control = new AbortController();
    const read = async (): Promise<void> => {
      const bytes = await rawOf({ raw });
      if (!bytes) return setMissing(true);
      const settings = { map, steady, tolerance };
      const laid = await laidTake(loaded, { name: "take.csv", bytes }, settings, () => {}, control.signal);
      if (!control.signal.aborted) setFaceReadings(store, laid.readings);
    };
    const timer = window.setTimeout(() => void read().catch(() => {}), 200); // a newer one was asked for
    return () => {
      window.clearTimeout(timer);
      control.abort();
    };
  }, [store, loaded, raw, map, steady, tolerance, setMissing]);
}

interface TakeFieldsProps {
  readonly piece: TakePiece;
  readonly anew: (change: { steady?: Steady; tolerance?: number }) => Promise<void>;
}
/** Tolerance of the keys, and how much the take counts. */
function TakeFields({ piece, anew }: TakeFieldsProps): ReactNode {
  const store = useSessionStore();
  const { tolerance } = piece.face;
  return (
    <div className="fit-grid">
      <label className="spread" title="Most that the keys may be off what was recorded, of a channel's 1">
        <span className="muted">tolerance</span>
        <ScrubChange
          label="tolerance of the keys"
          value={tolerance}
          min={0}
          max={0.1}
          step={0.0005}
          digits={4}
          start={0.005}
          onSet={(v, same) => !same && void anew({ tolerance: v })}
        />
      </label>
      <span className="spread">
        <span className="muted">keys</span>
        <span className="mono">{keysIn(piece.face)}</span>
      </span>
      <label className="spread" title="How much of what it does with the lips stays while a line is spoken">
        <span className="muted">mouth under speech</span>
        <ScrubChange
          label="mouth under speech"
          value={piece.mouth}
          min={0}
          max={1}
          step={0.01}
          start={0.25}
          onSet={(mouth, same) => changePiece(store, piece.id, { mouth } as Partial<TakePiece>, same)}
        />
      </label>
      <label className="spread" title="How much of the take counts over keys and clips">
        <span className="muted">share</span>
        <ScrubChange
          label={`share, ${piece.name}`}
          value={piece.share}
          min={0}
          max={1}
          step={0.01}
          start={1}
          onSet={(share, same) => changePiece(store, piece.id, { share }, same)}
        />
      </label>
    </div>
  );
}

interface OutProps {
  readonly piece: TakePiece;
}
function Out({ piece }: OutProps): ReactNode {
  const loaded = useSession((s) => s.loaded);
  const save = (): void => {
    if (!loaded) return;
    const alone = { ...emptyTrial(piece.name), fps: 60 as const };
    const lanes = { ...alone.lanes, tracking: [{ ...piece, start: 0 }] };
    const tracks = bakedWeights(loaded.character, { ...alone, lanes });
    saveFile(`${piece.name}.csv`, new Blob([weightsTable(tracks, endOf(piece) - piece.start)]));
  };
  const saveRaw = (): void =>
    void rawOf(piece)
      .then((bytes) => bytes && saveFile(`${piece.name} as it came.csv`, new Blob([bytes as never])))
      .catch(() => {}); // the button can be pressed again
  return (
    <div className="line t-small">
      <span className="muted">Out</span>
      <Button onClick={save}>Weights, CSV</Button>
      {piece.raw && <Button onClick={saveRaw}>As it came, CSV</Button>}
    </div>
  );
}

const TURNS = [
  ["head", "head", 2, 1, "how much of the head's turn"],
  ["neck", "neck's share", 1, 0.4, "how much of the head's turn the neck takes"],
  ["gaze", "gaze", 2, 1, "how much of the gaze"],
] as const;
/** How head, neck and eyes follow. */
function TurnShares({ piece }: { piece: TakePiece }): ReactNode {
  const store = useSessionStore();
  const { map } = piece;
  if (!piece.face.head && !piece.face.gaze) return null;
  return (
    <div className="fit-grid" role="group" aria-label="Head and eyes">
      {TURNS.map(([key, label, max, start, title]) => (
        <label key={key} className="spread" title={title}>
          <span className="muted">{label}</span>
          <ScrubChange
            label={`${label}, ${piece.name}`}
            value={map.turns[key]}
            min={0}
            max={max}
            step={0.01}
            start={start}
            onSet={(v, same) =>
              changePiece(
                store,
                piece.id,
                { map: { ...map, turns: { ...map.turns, [key]: v } } } as Partial<TakePiece>,
                same,
              )
            }
          />
        </label>
      ))}
    </div>
  );
}
